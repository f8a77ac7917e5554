package lucid.core.ruling;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * What another ladder would change, before it takes the place of the present one.
 *
 * @param moves hosts that would belong to another population, or newly to one or none
 * @param verdicts standing verdicts that would gain or lose hosts
 * @param exceptions standing exceptions that name hosts which move; these stay with their hosts, wherever they belong
 * @param offers updates that would be offered to other hosts than now
 */
public record LadderChange(
        List<Move> moves, List<VerdictChange> verdicts, List<ExceptionKept> exceptions, List<OfferChange> offers) {

    /** Hosts that go from one population to another. Empty: none. */
    public record Move(Optional<Population> from, Optional<Population> to, RoaringBitmap hosts) {}

    /** @param gains hosts that the verdict would newly name; @param loses hosts that it would no longer name */
    public record VerdictChange(Verdict verdict, RoaringBitmap gains, RoaringBitmap loses) {}

    public record ExceptionKept(ExceptionGrant exception, RoaringBitmap hosts) {}

    /**
     * @param offered hosts lacking the update to which it would now be offered; @param withheld from which it would now
     *     be withheld
     */
    public record OfferChange(Update update, RoaringBitmap offered, RoaringBitmap withheld) {}

    public static LadderChange of(Carriages carriages, Decisions decisions, Ladder next, Instant at) {
        Fleet before = carriages.fleet();
        Fleet after = before.with(next);
        List<Move> moves = moves(before, after);
        RoaringBitmap moved = new RoaringBitmap();
        moves.forEach(move -> moved.or(move.hosts()));
        return new LadderChange(
                moves,
                verdicts(before, after, decisions, at),
                exceptions(before, moved, decisions, at),
                offers(carriages, after, decisions, RoaringBitmap.or(moved, underAnotherRule(before, after)), at));
    }

    private static List<Move> moves(Fleet before, Fleet after) {
        List<Move> moves = new ArrayList<>();
        for (Optional<Population> from : owners(before.ladder())) {
            for (Optional<Population> to : owners(after.ladder())) {
                RoaringBitmap both = RoaringBitmap.and(members(before, from), members(after, to));
                if (!both.isEmpty() && !from.map(Population::id).equals(to.map(Population::id))) {
                    moves.add(new Move(from, to, both));
                }
            }
        }
        return List.copyOf(moves);
    }

    private static List<Optional<Population>> owners(Ladder ladder) {
        return Stream.concat(ladder.populations().stream().map(Optional::of), Stream.of(Optional.<Population>empty()))
                .toList();
    }

    private static RoaringBitmap members(Fleet fleet, Optional<Population> owner) {
        return owner.map(p -> fleet.members(p.id())).orElseGet(fleet::inNoPopulation);
    }

    private static List<VerdictChange> verdicts(Fleet before, Fleet after, Decisions decisions, Instant at) {
        List<VerdictChange> changes = new ArrayList<>();
        for (Verdict verdict : decisions.verdicts()) {
            if (verdict.standsAt(at)) {
                RoaringBitmap named = named(verdict, before);
                RoaringBitmap then = named(verdict, after);
                if (!named.equals(then)) {
                    changes.add(new VerdictChange(
                            verdict, RoaringBitmap.andNot(then, named), RoaringBitmap.andNot(named, then)));
                }
            }
        }
        return List.copyOf(changes);
    }

    /** Nobody, once the population is gone. */
    private static RoaringBitmap named(Verdict verdict, Fleet fleet) {
        if (fleet.ladder().entry(verdict.populationId()).isEmpty()) {
            return new RoaringBitmap();
        }
        RoaringBitmap members = fleet.members(verdict.populationId());
        return verdict.narrowing()
                .map(condition -> fleet.matching(condition, members))
                .orElse(members);
    }

    private static List<ExceptionKept> exceptions(Fleet fleet, RoaringBitmap moved, Decisions decisions, Instant at) {
        return decisions.exceptions().stream()
                .filter(e -> e.standsAt(at))
                .map(e -> new ExceptionKept(e, fleet.matching(e.hosts(), moved)))
                .filter(kept -> !kept.hosts().isEmpty())
                .toList();
    }

    private static RoaringBitmap underAnotherRule(Fleet before, Fleet after) {
        RoaringBitmap hosts = new RoaringBitmap();
        for (Population population : after.ladder().populations()) {
            Population known = before.ladder().find(population.id()).orElse(population);
            if (!known.rule().equals(population.rule()) || !known.staysAt().equals(population.staysAt())) {
                hosts.or(after.members(population.id()));
            }
        }
        if (!before.ladder().fleetRule().equals(after.ladder().fleetRule())) {
            hosts.or(after.inNoPopulation());
        }
        return hosts;
    }

    private static List<OfferChange> offers(
            Carriages carriages, Fleet after, Decisions decisions, RoaringBitmap among, Instant at) {
        List<OfferChange> changes = new ArrayList<>();
        if (among.isEmpty()) {
            return changes;
        }
        for (Update update : carriages.catalogue().updates()) {
            Carriage carriage = carriages.of(update, at);
            RoaringBitmap now =
                    offered(update, carriage, carriages.fleet(), decisions, carriages.catalogue(), among, at);
            RoaringBitmap then = offered(update, carriage, after, decisions, carriages.catalogue(), among, at);
            if (!now.equals(then)) {
                changes.add(new OfferChange(update, RoaringBitmap.andNot(then, now), RoaringBitmap.andNot(now, then)));
            }
        }
        changes.sort((a, b) -> a.update().id().compareTo(b.update().id()));
        return List.copyOf(changes);
    }

    private static RoaringBitmap offered(
            Update update,
            Carriage carriage,
            Fleet fleet,
            Decisions decisions,
            Catalogue catalogue,
            RoaringBitmap among,
            Instant at) {
        RoaringBitmap offered = new RoaringBitmap();
        Timeline.of(update, decisions, fleet, catalogue)
                .groups(RoaringBitmap.and(among, carriage.lacking()), at)
                .stream()
                .filter(group -> group.match().effect().isOffer())
                .forEach(group -> offered.or(group.hosts()));
        return offered;
    }
}
