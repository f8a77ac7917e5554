package lucid.core.ruling;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Fleet;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/** Computes what a verdict or an exception would do, host by host, before it is handed down. */
public final class Consequences {

    private Consequences() {}

    /** @param draft a verdict with a number that no other has and that is higher than all */
    public static Consequence of(
            Verdict draft,
            Update update,
            Carriage carriage,
            Fleet fleet,
            Decisions decisions,
            Catalogue catalogue,
            Instant at) {
        RoaringBitmap members = fleet.members(draft.populationId());
        RoaringBitmap named = draft.narrowing()
                .map(condition -> fleet.matching(condition, members))
                .orElse(members);
        return compare(draft.number(), named, decisions.with(draft), update, carriage, fleet, decisions, catalogue, at);
    }

    /** @param draft an exception with a number that no other has and that is higher than all */
    public static Consequence of(
            ExceptionGrant draft,
            Update update,
            Carriage carriage,
            Fleet fleet,
            Decisions decisions,
            Catalogue catalogue,
            Instant at) {
        return compare(
                draft.number(),
                fleet.matching(draft.hosts(), fleet.all()),
                decisions.with(draft),
                update,
                carriage,
                fleet,
                decisions,
                catalogue,
                at);
    }

    private static Consequence compare(
            DecisionNumber draft,
            RoaringBitmap named,
            Decisions after,
            Update update,
            Carriage carriage,
            Fleet fleet,
            Decisions before,
            Catalogue catalogue,
            Instant at) {
        List<RulingGroup> groups =
                Timeline.of(update, after, fleet, catalogue).groups(RoaringBitmap.and(named, carriage.lacking()), at);
        RoaringBitmap decided = groups.stream()
                .filter(h -> h.match().source().equals(Optional.of(draft)))
                .map(RulingGroup::hosts)
                .reduce(new RoaringBitmap(), (a, b) -> RoaringBitmap.or(a, b));
        return new Consequence(
                named,
                RoaringBitmap.and(named, carriage.having()),
                RoaringBitmap.andNot(named, carriage.applicable()),
                decided,
                Timeline.of(update, before, fleet, catalogue).groups(decided, at),
                groups.stream()
                        .filter(h -> RoaringBitmap.andCardinality(h.hosts(), decided) == 0)
                        .toList(),
                RoaringBitmap.and(decided, carriage.stale()),
                fleet.onAnotherSupply(decided));
    }
}
