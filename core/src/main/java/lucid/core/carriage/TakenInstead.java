package lucid.core.carriage;

import java.time.Instant;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lucid.core.fleet.Requirements;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/** What hosts that cannot take an update can take of the same products. */
public final class TakenInstead {

    private TakenInstead() {}

    /**
     * The newest update that each of these hosts lacks and can take, of those that fix a product which {@code update}
     * fixes.
     *
     * @param cannotTake hosts that cannot take {@code update}
     * @return the newest first; without hosts that lack none
     */
    public static Map<Update, RoaringBitmap> of(
            Update update, RoaringBitmap cannotTake, Carriages carriages, Instant now) {
        Map<Update, RoaringBitmap> instead = new LinkedHashMap<>();
        RoaringBitmap left = cannotTake.clone();
        List<Update> others = update.fixes().stream()
                .flatMap(fix -> carriages.catalogue().ofProduct(fix.build().product()).stream())
                .distinct()
                .filter(other -> !other.id().equals(update.id()) && other.canBeOffered())
                .sorted(Comparator.comparing(Update::published).reversed().thenComparing(Update::id))
                .toList();
        for (Update other : others) {
            RoaringBitmap hosts =
                    RoaringBitmap.and(left, carriages.of(other, now).lacking());
            hosts.andNot(Requirements.cannotTake(other, hosts, carriages.fleet()));
            if (!hosts.isEmpty()) {
                instead.put(other, hosts);
                left.andNot(hosts);
            }
        }
        return instead;
    }
}
