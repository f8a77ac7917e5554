package lucid.core.causes;

import java.util.Optional;
import lucid.core.fleet.HostCondition;

/**
 * A condition on traits that failing hosts share.
 *
 * @param hosts the condition, as a narrowing takes it
 * @param code the failure code whose hosts share it; none: failures of all codes together
 * @param inside failures among the tried hosts that meet it
 * @param outside failures (of that code) among the other tried hosts that no earlier cause explains
 * @param p of the one-sided exact test
 * @param adjusted p for all the tests that were made
 */
public record Cause(
        HostCondition hosts, Optional<String> code, Proportion inside, Proportion outside, double p, double adjusted) {}
