package lucid.core.weighing;

/**
 * The first value of one input that changes the suggestion.
 *
 * @param value of the input there: how many more failures or clean tries, the probability, 1 or 0 for known exploited,
 *     or how many times the hosts
 */
public record FlipPoint(Input input, double value, Suggestion suggestion) {
    public enum Input {
        FAILURES,
        CLEAN_TRIES,
        PROBABILITY,
        KNOWN_EXPLOITED,
        HOSTS
    }
}
