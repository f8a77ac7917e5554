package lucid.core.carriage;

import java.time.Instant;
import lucid.core.fleet.Fleet;
import lucid.core.update.Fix;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/** Computes which hosts carry an update, from the versions that they reported. */
public final class Carriages {

    private Carriages() {}

    /**
     * The state of every host of {@code fleet} at {@code now}. Every statement is by bitmap arithmetic: a product lacks or has
     * the fix, a host carries the update if all spoken-of products have it, partly if some do.
     */
    public static Carriage of(Update update, Fleet fleet, CarrierIndex index, Instant now) {
        RoaringBitmap lacks = new RoaringBitmap();
        RoaringBitmap has = new RoaringBitmap();
        for (Fix fix : update.fixes()) {
            CarrierIndex.Split split = index.split(fix);
            lacks.or(split.lacks());
            has.or(split.has());
        }
        if (!update.platforms().isEmpty()) {
            RoaringBitmap onPlatform = fleet.onPlatforms(update.platforms());
            lacks.and(onPlatform);
            has.and(onPlatform);
        }
        return new Carriage(
                fleet.all(),
                RoaringBitmap.andNot(has, lacks),
                RoaringBitmap.and(has, lacks),
                RoaringBitmap.andNot(lacks, has),
                fleet.unknownAt(now));
    }
}
