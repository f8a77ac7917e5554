package lucid.core.fleet;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Collection;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import lucid.core.update.Kind;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * A host that has just come is offered no upgrade on its first day: it is still being set up, and what its population
 * is to have is not read from it yet. Other updates reach it at once.
 */
public final class FirstDay {

    private static final Duration LENGTH = Duration.ofDays(1);

    private FirstDay() {}

    /** Until when nothing of this update is offered to the host; none where its first day is over, or is no matter. */
    public static Optional<Instant> of(Host host, Update update, Instant at) {
        return Optional.of(host)
                .filter(any -> update.kind() == Kind.UPGRADE)
                .map(FirstDay::end)
                .filter(at::isBefore);
    }

    /** A full hour, so that hosts which came together are offered it together. */
    private static Instant end(Host host) {
        Instant end = host.firstReport().plus(LENGTH);
        Instant hour = end.truncatedTo(ChronoUnit.HOURS);
        return hour.equals(end) ? end : hour.plus(Duration.ofHours(1));
    }

    /** The hosts among these whose first day keeps an update from them, each set by when that ends. */
    public static Collection<RoaringBitmap> byEnd(Update update, RoaringBitmap among, Instant at, Fleet fleet) {
        Map<Instant, RoaringBitmap> hosts = new TreeMap<>();
        if (update.kind() == Kind.UPGRADE) {
            among.forEach((int host) -> of(fleet.host(host), update, at)
                    .ifPresent(end -> hosts.computeIfAbsent(end, any -> new RoaringBitmap())
                            .add(host)));
        }
        return hosts.values();
    }

    /** When first days of these hosts end that keep, or kept, an update from them. */
    public static Stream<Instant> ends(Update update, RoaringBitmap among, Fleet fleet) {
        return update.kind() == Kind.UPGRADE
                ? fleet.hosts(among).map(FirstDay::end).distinct()
                : Stream.empty();
    }
}
