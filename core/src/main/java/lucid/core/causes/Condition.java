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
