package lucid.core.ruling;

import java.time.Instant;
import java.util.List;
import java.util.function.Predicate;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Fleet;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * What becomes of the hosts that lack an update when decisions change, for example when some are taken back.
 *
 * @param offered hosts that would newly be offered it
 * @param forced hosts that would newly be due to carry it
 * @param withheld hosts from which it would newly be withheld
 */
public record Opening(Update update, RoaringBitmap offered, RoaringBitmap forced, RoaringBitmap withheld) {

    public static Opening of(
            Update update,
            Carriage carriage,
            Fleet fleet,
            Catalogue catalogue,
            Decisions before,
            Decisions after,
            Instant at) {
        List<RulingGroup> now = Timeline.of(update, before, fleet, catalogue).groups(carriage.lacking(), at);
        List<RulingGroup> then = Timeline.of(update, after, fleet, catalogue).groups(carriage.lacking(), at);
        RoaringBitmap offeredNow = hosts(now, match -> match.effect() != Effect.WITHHELD);
        RoaringBitmap offeredThen = hosts(then, match -> match.effect() != Effect.WITHHELD);
        return new Opening(
                update,
                RoaringBitmap.andNot(offeredThen, offeredNow),
                RoaringBitmap.andNot(hosts(then, match -> match.due().isPresent()), hosts(now, match -> match.due()
                        .isPresent())),
                RoaringBitmap.andNot(offeredNow, offeredThen));
    }

    private static RoaringBitmap hosts(List<RulingGroup> groups, Predicate<RuleMatch> which) {
        RoaringBitmap hosts = new RoaringBitmap();
        groups.stream().filter(group -> which.test(group.match())).forEach(group -> hosts.or(group.hosts()));
        return hosts;
    }

    /** True if something would go to a host that does not go there now. */
    public boolean releases() {
        return !offered.isEmpty() || !forced.isEmpty();
    }

    public boolean isEmpty() {
        return !releases() && withheld.isEmpty();
    }
}
