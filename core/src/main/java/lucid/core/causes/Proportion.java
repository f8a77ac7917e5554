package lucid.core.causes;

/**
 * A share of hosts, with what it says of the rate behind it.
 *
 * @param count 0 to {@code of}
 */
public record Proportion(int count, int of) {

    /** Two-sided 95 % quantile of the standard normal distribution. */
    private static final double Z = 1.959963984540054;

    public double rate() {
        return of == 0 ? 0 : (double) count / of;
    }

    /** Lower end of the 95 % interval: E. B. Wilson, "Probable inference, the law of succession, and statistical inference", JASA 22, 1927. */
    public double low() {
        return of == 0 ? 0 : Math.max(0, centre() - halfWidth());
    }

    /** Upper end of the same interval. */
    public double high() {
        return of == 0 ? 1 : Math.min(1, centre() + halfWidth());
    }

    private double centre() {
        return (rate() + Z * Z / (2 * of)) / (1 + Z * Z / of);
    }

    private double halfWidth() {
        return Z / (1 + Z * Z / of) * Math.sqrt(rate() * (1 - rate()) / of + Z * Z / (4.0 * of * of));
    }
}
