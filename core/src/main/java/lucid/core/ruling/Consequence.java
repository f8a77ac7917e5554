package lucid.core.ruling;

import java.util.List;
import org.roaringbitmap.RoaringBitmap;

/**
 * What a verdict or exception that is still being worded would do.
 *
 * @param named every host that it names
 * @param carrying hosts of those that carry the update already or told so, by their last known state
 * @param notApplicable hosts of those to which the update does not apply
 * @param decided hosts for which it would be what holds
 * @param before what holds now for the decided ones
 * @param claimed hosts that lack the update and for which something else would still hold, with what does
 * @param unknown hosts of the decided ones whose last report is too old to tell
 */
public record Consequence(
        RoaringBitmap named,
        RoaringBitmap carrying,
        RoaringBitmap notApplicable,
        RoaringBitmap decided,
        List<Holding> before,
        List<Holding> claimed,
        RoaringBitmap unknown) {}
