package lucid.core.causes;

import java.util.Optional;
import lucid.core.fleet.HostCondition;

/**
 * One condition on one trait, or on when hosts tried the update, and the tried hosts that meet it.
 *
 * @param trait name of the trait; conditions on the same are never paired
 * @param hosts one bit for each tried host
 * @param count how many of them meet it
 */
record Condition(String trait, Cause.Shared shared, String text, long[] hosts, int count) {
    /** Names that no trait can have. */
    static final String TRIED_AFTER = " tried after";

    static final String TRIED_UNTIL = " tried until";

    boolean isAboutTime() {
        return !shared.span().isAlways();
    }

    /**
     * Conditions on different traits; a beginning and an end make a stretch of time. A trait and a time are no pair:
     * what failed only for a while is an outage, whatever the hosts are.
     */
    boolean pairsWith(Condition other) {
        return !trait.equals(other.trait) && isAboutTime() == other.isAboutTime();
    }

    static Condition of(String trait, HostCondition condition, long[] hosts) {
        return of(trait, Cause.Shared.of(condition), hosts);
    }

    static Condition of(String trait, Span span, long[] hosts) {
        return of(trait, new Cause.Shared(Optional.empty(), span), hosts);
    }

    private static Condition of(String trait, Cause.Shared shared, long[] hosts) {
        return new Condition(trait, shared, shared.toString(), hosts, Bits.count(hosts));
    }
}
