package lucid.core.gate;

import org.apache.commons.statistics.distribution.BetaDistribution;

/**
 * A gate that tries of an update must pass: with a uniform prior for the failure rate, the probability that it is at
 * most the limit must reach the confidence.
 *
 * @param limit highest failure rate that is asked for, above 0 and below 1
 */
public record Gate(double limit) {

    /** Highest failure rate that is asked for where nobody says otherwise. */
    public static final double USUAL_LIMIT = 0.05;

    private static final double CONFIDENCE = 0.95;
    private static final double ROUNDING = 1e-9;

    /** @throws IllegalArgumentException if the limit is not between 0 and 1 */
    public Gate {
        if (!(limit > 0 && limit < 1)) {
            throw new IllegalArgumentException("a limit is a rate between 0 and 1");
        }
    }

    /**
     * The gate that tells whether an update has been tried enough for so many hosts: a few hosts that all try it
     * without failure cannot show as much as many, and are not asked for more than they can show.
     *
     * @param hosts 0 and up
     */
    public static Gate forHosts(double hosts) {
        return forHosts(USUAL_LIMIT, hosts);
    }

    static Gate forHosts(double askedLimit, double hosts) {
        return new Gate(Math.max(askedLimit, 1 - Math.pow(1 - CONFIDENCE, 1 / (hosts + 1))));
    }

    /** True if {@code failures} of {@code tries} are few enough. */
    public boolean isMet(int tries, int failures) {
        return confidence(tries, failures) >= CONFIDENCE - ROUNDING;
    }

    /** Probability that the failure rate is at most the limit. */
    public double confidence(int tries, int failures) {
        return BetaDistribution.of(1.0 + failures, 1.0 + tries - failures).cumulativeProbability(limit);
    }

    /** How many tries in all, with so many failures, would meet it. */
    public int triesToMeet(int failures) {
        int high = 1;
        while (!isMet(high + failures, failures)) {
            high *= 2;
        }
        int low = high / 2;
        while (high - low > 1) {
            int middle = (low + high) / 2;
            if (isMet(middle + failures, failures)) {
                high = middle;
            } else {
                low = middle;
            }
        }
        return high + failures;
    }
}
