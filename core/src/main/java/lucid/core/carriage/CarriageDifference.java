package lucid.core.carriage;

import java.time.Instant;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * What became of an update between two instants, by last known states. Each host that has the update at one of them is
 * in one of these; whoever has it at neither is in none.
 *
 * @param kept have it at both
 * @param gained were there before without it, and have it
 * @param lost had it, are there, and do not have it any more
 * @param joined were not there before, and have it
 * @param left had it, and are not there any more
 */
public record CarriageDifference(
        RoaringBitmap kept, RoaringBitmap gained, RoaringBitmap lost, RoaringBitmap joined, RoaringBitmap left) {

    public static CarriageDifference of(Update update, Carriages before, Instant then, Carriages after, Instant now) {
        RoaringBitmap had = before.of(update, then).having();
        RoaringBitmap has = after.of(update, now).having();
        RoaringBitmap thereBefore = before.fleet().all();
        RoaringBitmap thereAfter = after.fleet().all();
        return new CarriageDifference(
                RoaringBitmap.and(had, has),
                RoaringBitmap.and(RoaringBitmap.andNot(has, had), thereBefore),
                RoaringBitmap.and(RoaringBitmap.andNot(had, has), thereAfter),
                RoaringBitmap.andNot(has, thereBefore),
                RoaringBitmap.andNot(had, thereAfter));
    }
}
