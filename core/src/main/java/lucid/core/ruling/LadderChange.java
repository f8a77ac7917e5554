package lucid.core.ruling;

import java.time.Duration;
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
 * @param offers updates that would be offered to other hosts than now, or at another time, or fall due at another
 */
public record LadderChange(
        List<Move> moves, List<VerdictChange> verdicts, List<ExceptionKept> exceptions, List<OfferChange> offers) {

    /** Hosts that go from one population to another. Empty: none. */
    public record Move(Optional<Population> from, Optional<Population> to, RoaringBitmap hosts) {}

    /** @param gains hosts that the verdict would newly name; @param loses hosts that it would no longer name */
    public record VerdictChange(Verdict verdict, RoaringBitmap gains, RoaringBitmap loses) {}

    public record ExceptionKept(ExceptionGrant exception, RoaringBitmap hosts) {}

    /**
     * What would become of one update on the hosts that lack it.
     *
     * @param offered hosts to which it would now be offered; @param withheld from which it would now be withheld
     * @param dueSooner hosts on which it would fall due where it does not, or earlier; @param dueLater later, or never
     * @param hostDays by how many days, over all hosts, it would be offered later; negative: earlier. Hosts to which
     *     one of the two never offers it do not count: see {@code offersEnd} and {@code offersBegin}
     * @param offersBegin hosts to which it would be offered some day without a verdict, and never was to be
     * @param offersEnd hosts to which it would never be offered without a verdict, and was to be
     */
    public record OfferChange(
            Update update,
            RoaringBitmap offered,
            RoaringBitmap withheld,
            RoaringBitmap dueSooner,
            RoaringBitmap dueLater,
            double hostDays,
            RoaringBitmap offersBegin,
            RoaringBitmap offersEnd) {

        private static OfferChange of(Update update, List<RulingGroup> now, List<RulingGroup> then, Instant at) {
            OfferChange change = new OfferChange(
                    update,
                    new RoaringBitmap(),
                    new RoaringBitmap(),
                    new RoaringBitmap(),
                    new RoaringBitmap(),
                    0,
                    new RoaringBitmap(),
                    new RoaringBitmap());
            double hostDays = 0;
            for (RulingGroup before : now) {
                for (RulingGroup after : then) {
                    RoaringBitmap both = RoaringBitmap.and(before.hosts(), after.hosts());
                    if (!both.isEmpty()) {
                        hostDays += both.getCardinality() * change.add(before.match(), after.match(), both, at);
                    }
                }
            }
            return new OfferChange(
                    update,
                    change.offered(),
                    change.withheld(),
                    change.dueSooner(),
                    change.dueLater(),
                    hostDays,
                    change.offersBegin(),
                    change.offersEnd());
        }

        /** @return days by which it would be offered later */
        private double add(RuleMatch before, RuleMatch after, RoaringBitmap hosts, Instant at) {
            if (before.effect().isOffer() != after.effect().isOffer()) {
                (after.effect().isOffer() ? offered : withheld).or(hosts);
            }
            Instant dueBefore = before.due().orElse(Instant.MAX);
            Instant dueAfter = after.due().orElse(Instant.MAX);
            if (!dueBefore.equals(dueAfter)) {
                (dueAfter.isBefore(dueBefore) ? dueSooner : dueLater).or(hosts);
            }
            Optional<Instant> from = offeredFrom(before, at);
            Optional<Instant> to = offeredFrom(after, at);
            if (from.isPresent() && to.isPresent()) {
                return Duration.between(from.get(), to.get()).toSeconds() / SECONDS_A_DAY;
            }
            if (from.isPresent() || to.isPresent()) {
                (to.isPresent() ? offersBegin : offersEnd).or(hosts);
            }
            return 0;
        }

        /** What is withheld is taken to be offered when that ends. */
        private static Optional<Instant> offeredFrom(RuleMatch match, Instant at) {
            return match.effect().isOffer() ? Optional.of(at) : match.end();
        }

        private boolean isEmpty() {
            return Stream.of(offered, withheld, dueSooner, dueLater, offersBegin, offersEnd)
                            .allMatch(RoaringBitmap::isEmpty)
                    && hostDays == 0;
        }
    }

    private static final double SECONDS_A_DAY = Duration.ofDays(1).toSeconds();

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
            RoaringBitmap lacking = RoaringBitmap.and(among, carriage.lacking());
            OfferChange change = OfferChange.of(
                    update,
                    groups(update, lacking, carriages.fleet(), decisions, carriages.catalogue(), at),
                    groups(update, lacking, after, decisions, carriages.catalogue(), at),
                    at);
            if (!change.isEmpty()) {
                changes.add(change);
            }
        }
        changes.sort((a, b) -> a.update().id().compareTo(b.update().id()));
        return List.copyOf(changes);
    }

    private static List<RulingGroup> groups(
            Update update, RoaringBitmap lacking, Fleet fleet, Decisions decisions, Catalogue catalogue, Instant at) {
        return lacking.isEmpty()
                ? List.of()
                : Timeline.of(update, decisions, fleet, catalogue).groups(lacking, at);
    }
}
