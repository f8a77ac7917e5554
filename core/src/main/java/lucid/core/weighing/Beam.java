package lucid.core.weighing;

import java.util.Collection;

/**
 * What hangs at both ends where several populations are weighed together: points add up, and so do the ends of their
 * intervals, since one failure rate stands behind them all.
 *
 * @param exposure of waiting
 * @param hazard of installing
 * @param tilt as {@link Weighing} says
 */
public record Beam(double exposure, Range hazard, Range tilt) {

    public static Beam of(Collection<Weighing> weighings) {
        double exposure = weighings.stream().mapToDouble(Weighing::exposure).sum();
        Range hazard = weighings.stream().map(Weighing::hazard).reduce(Range.ZERO, Range::plus);
        return new Beam(exposure, hazard, Weighing.tilt(exposure, hazard));
    }

    /** The larger of the two sides: how much hangs on the decision. */
    public double stake() {
        return Math.max(exposure, hazard.middle());
    }
}
