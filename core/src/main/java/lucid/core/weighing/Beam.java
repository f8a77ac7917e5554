package lucid.core.weighing;

import java.util.Collection;

/**
 * What hangs at both ends where several populations are weighed together: points add up, and so do the ends of their
 * intervals, since one failure rate stands behind them all.
 *
 * @param exposure of waiting
 * @param hazard of installing
 * @param usual hazard of updates of its kind
 * @param tilt as {@link Weighing#tilt} says
 */
public record Beam(double exposure, Range hazard, double usual, Range tilt) {

    public static Beam of(Collection<Weighing> weighings) {
        double exposure = weighings.stream().mapToDouble(Weighing::exposure).sum();
        double usual = weighings.stream().mapToDouble(Weighing::usual).sum();
        Range hazard = weighings.stream().map(Weighing::hazard).reduce(Range.ZERO, Range::plus);
        return new Beam(exposure, hazard, usual, Weighing.tilt(exposure, usual, hazard));
    }

    /** How much hangs on the decision, in points. */
    public double stake() {
        return Math.max(Weighing.stake(exposure, hazard, usual), 0);
    }
}
