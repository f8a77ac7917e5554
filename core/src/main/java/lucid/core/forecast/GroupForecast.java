package lucid.core.forecast;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.roaringbitmap.RoaringBitmap;

/**
 * What an offer will do on many hosts. The sets may overlap; a host in none of them is foreseen to be done in time and
 * outside busy hours.
 *
 * @param hosts all of them
 * @param inBusyHours installed or restarted in busy hours, because it is due
 * @param late in effect only after it is due, or not at all
 * @param dueLater due only after the deadline, because they are away or were not long back
 * @param silent nobody knows when they come back
 * @param byOthers a person or an operator begins, so that nobody can foresee when
 * @param notForeseen nothing holds them back, but no moment is allowed, or no restart comes by itself
 * @param peak none if nobody is foreseen to download it
 * @param curve how many have it in effect after each day from the offer on; the last point is when nothing more is
 *     foreseen
 * @param earliest how many may have it by then, where persons begin as soon as they can; between the two lies what
 *     nobody can foresee
 */
public record GroupForecast(
        RoaringBitmap hosts,
        RoaringBitmap inBusyHours,
        RoaringBitmap late,
        RoaringBitmap dueLater,
        RoaringBitmap silent,
        RoaringBitmap byOthers,
        RoaringBitmap notForeseen,
        Optional<Peak> peak,
        List<Point> curve,
        List<Point> earliest) {

    /**
     * The hour in which most hosts of one site download it.
     *
     * @param site value of the trait {@code site}; empty where a host has none
     */
    public record Peak(String site, Instant hour, int hosts) {}

    public record Point(Instant at, int hosts) {}

    /** How many have it by an instant, as a curve knows it. */
    static int by(List<Point> curve, Instant at) {
        return curve.stream()
                .filter(point -> !point.at().isAfter(at))
                .mapToInt(Point::hosts)
                .reduce(0, (earlier, later) -> later);
    }
}
