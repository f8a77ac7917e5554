package lucid.core.carriage;

import java.time.Instant;
import java.util.EnumMap;
import java.util.Map;
import java.util.TreeMap;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.PackageLists;
import lucid.core.update.Fix;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which hosts find an update in the lists of their own sources: whatever is decided, a host can install only what its
 * sources have.
 *
 * @param hosts each of those that were asked about, by what it finds
 * @param notYet hosts that do not find it, by the sources that they are set to; under the empty name those that do not
 *     tell them
 */
public record OnSources(Map<Found, RoaringBitmap> hosts, Map<String, RoaringBitmap> notYet) {

    /** What a host that lacks an update finds in its lists. */
    public enum Found {
        /** A version with the fix for every product that lacks it. */
        THERE,
        /** It fetched them after the update was published, and they do not have it. */
        NOT_YET,
        /** It fetched them last before the update was published. */
        NOT_FETCHED_SINCE,
        /** It does not tell what its sources have. */
        NOT_TOLD
    }

    private static final String SOURCES_NOT_TOLD = "";

    /** @param lacking hosts that lack the update */
    public static OnSources of(Update update, RoaringBitmap lacking, Fleet fleet) {
        OnSources result = new OnSources(new EnumMap<>(Found.class), new TreeMap<>());
        for (Found found : Found.values()) {
            result.hosts.put(found, new RoaringBitmap());
        }
        fleet.hosts(lacking).forEach(host -> {
            Found found = of(update, host);
            result.hosts.get(found).add(host.number());
            if (found == Found.NOT_YET) {
                result.notYet
                        .computeIfAbsent(host.supply().orElse(SOURCES_NOT_TOLD), source -> new RoaringBitmap())
                        .add(host.number());
            }
        });
        return result;
    }

    /** @param host that lacks the update */
    public static Found of(Update update, Host host) {
        if (host.lists().isEmpty()) {
            return Found.NOT_TOLD;
        }
        PackageLists lists = host.lists().get();
        boolean there = update.fixes().stream().allMatch(fix -> host.spokenOf(fix).stream()
                .allMatch(one -> fix.standing(one.version()) != Fix.Standing.LACKS || lists.bring(fix, one.product())));
        Instant published = update.revisionsWithTheseFixes().get(0).revised();
        return there ? Found.THERE : lists.fetched().isBefore(published) ? Found.NOT_FETCHED_SINCE : Found.NOT_YET;
    }

    public RoaringBitmap in(Found found) {
        return hosts.get(found);
    }
}
