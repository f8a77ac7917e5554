package lucid.core.ruling;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What holds for one host and one update at one instant.
 *
 * @param holds the first clause that matched
 * @param until first instant at which the whole list gives another answer, if it ever does by itself
 * @param chain every clause that matched, in order; the first is the one that holds
 */
public record Ruling(RuleMatch holds, Optional<Instant> until, List<RuleMatch> chain) {

    public Effect effect() {
        return holds.effect();
    }
}
