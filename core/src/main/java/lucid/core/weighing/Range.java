package lucid.core.weighing;

/**
 * A number with its 90 % interval.
 *
 * @param middle what is expected
 */
public record Range(double middle, double low, double high) {

    static final Range ZERO = new Range(0, 0, 0);

    Range plus(Range other) {
        return new Range(middle + other.middle, low + other.low, high + other.high);
    }
}
