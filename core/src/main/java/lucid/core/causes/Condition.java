package lucid.core.causes;

import lucid.core.fleet.Predicate;

/**
 * One condition on one trait, and the tried hosts that meet it.
 *
 * @param hosts one bit for each tried host
 * @param count how many of them meet it
 */
record Condition(String trait, Predicate predicate, String text, long[] hosts, int count) {
    static Condition of(String trait, Predicate predicate, long[] hosts) {
        return new Condition(trait, predicate, predicate.toString(), hosts, Bits.count(hosts));
    }
}
