package lucid.core.weighing;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.causes.Cause;
import lucid.core.update.Product;

/**
 * An update weighed for one population. Exposure, hazard and usual hazard are in points.
 *
 * @param exposure of waiting
 * @param exposureUnknown the part of it that rests on last known states
 * @param hazard of installing
 * @param usual hazard: what installing an update of its kind costs on the same hosts before anything is known of it. It
 *     is owed whenever the update, or what follows it, is installed: waiting does not save it
 * @param tilt as {@link #tilt} says
 * @param cells what the cells add, in their order
 * @param harm why harm counts as in evidence; empty if it does not
 */
public record Weighing(
        double exposure,
        double exposureUnknown,
        Range hazard,
        double usual,
        Range tilt,
        List<OfCell> cells,
        Set<HarmSeen> harm,
        Suggestion suggestion) {

    private static final double ADDED = 0.01;
    private static final double STEEPEST = 5;

    /**
     * @param products of the update that its hosts have, where others have others of it
     * @param outside failures that reports from elsewhere add
     * @param rate of failure (q)
     * @param harm of a failure, share of a host
     * @param lacking hosts of the population in this cell that lack it
     */
    public record OfCell(
            List<Product> products,
            Optional<Cause> cause,
            int tried,
            int failed,
            double outside,
            Range rate,
            double harm,
            int lacking,
            double exposure,
            Range hazard,
            double usual,
            Range tilt) {}

    /**
     * The tilt of a beam, ln((exposure + usual + 0.01) / (hazard + 0.01)), with the interval that the hazard's gives
     * it: above 0 it leans to installing. With nothing known of an update without security content it hangs level.
     */
    public static Range tilt(double exposure, double usual, Range hazard) {
        return new Range(
                tilt(exposure + usual, hazard.middle()),
                tilt(exposure + usual, hazard.high()),
                tilt(exposure + usual, hazard.low()));
    }

    private static double tilt(double waiting, double hazard) {
        double uncut = Math.log((waiting + ADDED) / (hazard + ADDED));
        return Math.max(-STEEPEST, Math.min(STEEPEST, uncut));
    }

    /** True if a beam would hang steeper than it is drawn. */
    public static boolean isCut(double tilt) {
        return Math.abs(tilt) >= STEEPEST;
    }

    /** How much hangs on the decision, in points: by waiting, or by installing beyond what is usual. */
    public double stake() {
        return stake(exposure, hazard, usual);
    }

    static double stake(double exposure, Range hazard, double usual) {
        return Math.max(exposure, hazard.middle() - usual);
    }
}
