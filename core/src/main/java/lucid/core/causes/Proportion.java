package lucid.core.causes;

import org.apache.commons.statistics.interval.BinomialConfidenceInterval;

/**
 * A share of hosts, with what it says of the rate behind it.
 *
 * @param count 0 to {@code of}
 */
public record Proportion(int count, int of) {

    /** Two-sided 95 % quantile of the standard normal distribution. */
    private static final BinomialConfidenceInterval WILSON = BinomialConfidenceInterval.WILSON_SCORE;

    private static final double OUTSIDE = 0.05;

    public double rate() {
        return of == 0 ? 0 : (double) count / of;
    }

    /**
     * Lower end of the 95 % interval: E. B. Wilson, "Probable inference, the law of succession, and statistical
     * inference", JASA 22, 1927.
     */
    public double low() {
        return of == 0 ? 0 : WILSON.fromErrorRate(of, count, OUTSIDE).getLowerBound();
    }

    /** Upper end of the same interval. */
    public double high() {
        return of == 0 ? 1 : WILSON.fromErrorRate(of, count, OUTSIDE).getUpperBound();
    }
}
