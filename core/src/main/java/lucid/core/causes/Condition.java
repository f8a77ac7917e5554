package lucid.core.causes;

import lucid.core.fleet.HostCondition;

/**
 * One condition on one trait, and the tried hosts that meet it.
 *
 * @param hosts one bit for each tried host
 * @param count how many of them meet it
 */
record Condition(String trait, HostCondition condition, String text, long[] hosts, int count) {
    static Condition of(String trait, HostCondition condition, long[] hosts) {
        return new Condition(trait, condition, condition.toString(), hosts, Bits.count(hosts));
    }
}
