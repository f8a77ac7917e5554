package lucid.core.causes;

import java.util.List;
import java.util.Optional;
import lucid.core.fleet.HostCondition;

/**
 * What failing hosts share: traits, or a stretch of time in which they tried the update.
 *
 * @param shared what they share
 * @param code the failure code whose hosts share it; none: failures of all codes together
 * @param inside failures among the tried hosts that meet it
 * @param outside failures (of that code) among the other tried hosts that no earlier cause explains
 * @param p of the one-sided exact test
 * @param adjusted p for all the tests that were made
 * @param alike what cannot be told apart from it, closest first
 */
public record Cause(
        Shared shared,
        Optional<String> code,
        Proportion inside,
        Proportion outside,
        double p,
        double adjusted,
        List<Alike> alike) {

    public Cause {
        alike = List.copyOf(alike);
    }

    /**
     * @param hosts none where it is about time alone
     * @param span {@link Span#ALWAYS} where it is not about time
     */
    public record Shared(Optional<HostCondition> hosts, Span span) {

        public static Shared of(HostCondition hosts) {
            return new Shared(Optional.of(hosts), Span.ALWAYS);
        }

        /** True if it lasts: then hosts that have not tried the update yet can meet it. */
        public boolean lasts() {
            return span.goesOn();
        }

        /** Canonical. */
        @Override
        public String toString() {
            return hosts.map(HostCondition::toString).orElse("")
                    + (hosts.isPresent() && !span.isAlways() ? " and " : "")
                    + span;
        }
    }

    /**
     * Another condition that nearly the same hosts meet, and that is nearly as improbable by chance: the cause may just
     * as well be this one.
     *
     * @param overlap of the tried hosts that meet either, the share that meets both
     */
    public record Alike(Shared shared, Proportion inside, Proportion outside, double p, double overlap) {}
}
