package lucid.core.carriage;

import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.update.Fix;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which hosts find an update in the lists of their own sources: whatever is decided, a host can install only what its
 * sources have.
 *
 * @param there hosts whose lists bring it to every product of theirs that lacks it
 * @param notYet hosts whose lists do not, by the sources that they are set to; under the empty name those that do not
 *     tell them
 * @param notTold hosts that do not tell what their sources have
 */
public record OnSources(RoaringBitmap there, Map<String, RoaringBitmap> notYet, RoaringBitmap notTold) {

    private static final String SOURCES_NOT_TOLD = "";

    /** @param lacking hosts that lack the update */
    public static OnSources of(Update update, RoaringBitmap lacking, Fleet fleet) {
        OnSources result = new OnSources(new RoaringBitmap(), new TreeMap<>(), new RoaringBitmap());
        fleet.hosts(lacking).forEach(host -> {
            Optional<Boolean> there = of(update, host);
            RoaringBitmap hosts = there.isEmpty()
                    ? result.notTold
                    : there.get()
                            ? result.there
                            : result.notYet.computeIfAbsent(
                                    host.supply().orElse(SOURCES_NOT_TOLD), source -> new RoaringBitmap());
            hosts.add(host.number());
        });
        return result;
    }

    /** Whether the lists of a host bring an update that it lacks; nothing if it does not tell what they have. */
    public static Optional<Boolean> of(Update update, Host host) {
        return host.lists().map(lists -> update.fixes().stream().allMatch(fix -> host.spokenOf(fix).stream()
                .allMatch(
                        one -> fix.standing(one.version()) != Fix.Standing.LACKS || lists.bring(fix, one.product()))));
    }

    /** All hosts whose lists do not have it. */
    public RoaringBitmap notThere() {
        RoaringBitmap all = new RoaringBitmap();
        notYet.values().forEach(all::or);
        return all;
    }
}
