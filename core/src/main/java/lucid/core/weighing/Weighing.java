package lucid.core.weighing;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.causes.Cause;

/**
 * An update weighed for one population. Exposure and hazard are in points; the tilt is ln((exposure + 0.01) / (hazard +
 * 0.01)), cut to ±5: above 0 it leans to installing.
 *
 * @param exposure of waiting
 * @param exposureUnknown the part of it that rests on last known states
 * @param hazard of installing
 * @param cells what the cells add, in their order
 * @param harm why harm counts as in evidence; empty if it does not
 */
public record Weighing(
        double exposure,
        double exposureUnknown,
        Range hazard,
        Range tilt,
        List<OfCell> cells,
        Set<HarmSeen> harm,
        Suggestion suggestion) {

    private static final double ADDED = 0.01;
    private static final double STEEPEST = 5;

    /**
     * @param rate of failure (q)
     * @param harm of a failure, share of a host
     * @param lacking hosts of the population in this cell that lack it
     */
    public record OfCell(
            Optional<Cause> cause,
            int tried,
            int failed,
            double outside,
            Range rate,
            double harm,
            int lacking,
            double exposure,
            Range hazard,
            Range tilt) {}

    /** The tilt of a beam, with the interval that the hazard's gives it. */
    public static Range tilt(double exposure, Range hazard) {
        return new Range(tilt(exposure, hazard.middle()), tilt(exposure, hazard.high()), tilt(exposure, hazard.low()));
    }

    private static double tilt(double exposure, double hazard) {
        return Math.max(-STEEPEST, Math.min(STEEPEST, Math.log((exposure + ADDED) / (hazard + ADDED))));
    }

    /** The larger of the two sides: how much hangs on the decision. */
    public double stake() {
        return Math.max(exposure, hazard.middle());
    }
}
