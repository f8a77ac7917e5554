package lucid.core.docket;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.causes.Cause;
import lucid.core.causes.SuspectedCauses;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.TriedHosts;
import lucid.core.evidence.UsualRates;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Holding;
import lucid.core.ruling.Holdings;
import lucid.core.ruling.Rulings;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.weighing.Gathering;
import lucid.core.weighing.Rates;
import lucid.core.weighing.Scales;
import lucid.core.weighing.Weighing;
import lucid.core.weighing.Weights;
import org.roaringbitmap.RoaringBitmap;

/** Makes cases, all from the same facts at one instant. */
final class Cases {

    /** Hosts in no population cost least to lose. */
    private static final int LOWEST_TIER = 4;

    private final Docket.Facts facts;
    private final Instant now;
    private final Fleet fleet;
    private final Function<String, TriedHosts> tried;
    private final UsualRates usual;
    private final Rulings rulings;
    private final Rates rates = new Rates();
    private final Map<String, RoaringBitmap> members = new HashMap<>();
    private final Map<String, Succession> succession = new HashMap<>();

    /** @param tried the tried hosts of an update, by its identifier */
    Cases(Docket.Facts facts, Instant now, Function<String, TriedHosts> tried, UsualRates usual) {
        this.facts = facts;
        this.now = now;
        this.fleet = facts.carriages().fleet();
        this.tried = tried;
        this.usual = usual;
        this.rulings = new Rulings(facts.decisions(), fleet.ladder(), facts.carriages().catalogue());
        fleet.ladder().populations().forEach(p -> members.put(p.id(), fleet.members(p.id())));
    }

    /** The hosts of an update that decide how it folds with others. */
    private record Succession(RoaringBitmap lacking, RoaringBitmap applicable) {}

    DocketCase of(Update update) {
        CaseFacts of = factsOf(update);
        Carriage carriage = of.carriage();
        RoaringBitmap lacking = carriage.lacking();
        RoaringBitmap concerned = RoaringBitmap.or(lacking, carriage.restartOutstanding());
        List<Verdict> blocked = blockedPredecessors(update);
        Scales scales = new Scales(facts.weights(), of.gathering().update(), rates);
        Cues cues = new Cues(facts, update, of, members, blocked, usual.of(update), now);
        List<DocketCase.OfPopulation> weighings = new ArrayList<>();
        List<DocketCase.Mark> marks = new ArrayList<>();
        for (Population population : fleet.ladder().populations()) {
            RoaringBitmap hosts = members.get(population.id());
            if (RoaringBitmap.intersects(hosts, concerned)) {
                Weighing weighing = scales.weigh(of.gathering().population(population.tier(), hosts), cues.asksToCarryOver(population.id()));
                weighings.add(new DocketCase.OfPopulation(Optional.of(population.id()), weighing));
            }
            marks.add(mark(update, carriage, lacking, population, hosts));
        }
        RoaringBitmap unowned = RoaringBitmap.and(fleet.inNoPopulation(), concerned);
        if (!unowned.isEmpty()) {
            weighings.add(new DocketCase.OfPopulation(Optional.empty(), scales.weigh(of.gathering().population(LOWEST_TIER, unowned), false)));
        }
        DocketCase.Counts counts = new DocketCase.Counts(lacking.getCardinality(), carriage.having().getCardinality(), RoaringBitmap.andCardinality(lacking, carriage.stale()),
                RoaringBitmap.andCardinality(lacking, fleet.withTrait(Weights.Facing.TRAIT, Weights.Facing.PUBLIC.word())), carriage.restartOutstanding().getCardinality(),
                of.gathering().doesNotMatter().getCardinality());
        Optional<DocketCase.Offer> nextOffer = nextOffer(update, lacking, cues);
        return new DocketCase(update, cues.all(weighings, nextOffer), counts, weighings, marks, nextOffer, foldedUnder(update), contains(update), siblings(update), validUntil(update));
    }

    CaseFacts factsOf(Update update) {
        Carriage carriage = facts.carriages().of(update, now);
        TriedHosts hosts = tried.apply(update.id());
        List<Cause> causes = SuspectedCauses.find(hosts, fleet);
        List<KnownIssue> issues = issues(update);
        Gathering gathering = new Gathering(update, carriage, facts.carriages(), facts.evidence(), hosts, causes, issues, usual.of(update), now);
        return new CaseFacts(carriage, hosts, causes, issues, gathering);
    }

    /** An update that supersedes a blocked one is taken to have its open issues, unless they are told to be fixed by it. */
    private List<KnownIssue> issues(Update update) {
        return Stream.concat(facts.evidence().issuesOf(update.id()).stream(),
                        blockedPredecessors(update).stream().map(Verdict::updateId).distinct()
                                .flatMap(id -> facts.evidence().issuesOf(id).stream())
                                .filter(issue -> issue.isOpen() && !issue.fixedBy().contains(update.id())))
                .distinct().toList();
    }

    /** Blocks that stand on updates which this one supersedes. */
    private List<Verdict> blockedPredecessors(Update update) {
        return facts.carriages().catalogue().predecessorsOf(update.id()).stream().flatMap(earlier -> standingBlocks(earlier).stream()).toList();
    }

    private List<Verdict> standingBlocks(Update update) {
        return facts.decisions().verdictsOn(update.id()).stream().filter(v -> v.type() == VerdictType.BLOCK && v.standsAt(now)).toList();
    }

    private DocketCase.Mark mark(Update update, Carriage carriage, RoaringBitmap lacking, Population population, RoaringBitmap hosts) {
        int lackingHere = RoaringBitmap.andCardinality(hosts, lacking);
        List<Holding> holdings = lackingHere == 0 ? List.of() : Holdings.of(update, carriage, fleet, facts.decisions(), facts.carriages().catalogue(), hosts, now);
        return new DocketCase.Mark(population.id(), lackingHere, RoaringBitmap.andCardinality(hosts, carriage.applicable()),
                holdings.stream().findFirst().map(Holding::finding), holdings.stream().skip(1).mapToInt(h -> h.hosts().getCardinality()).sum());
    }

    /** Populations from which it is withheld until somebody answers for it are not offered anything by their rule. */
    private Optional<DocketCase.Offer> nextOffer(Update update, RoaringBitmap lacking, Cues cues) {
        return fleet.ladder().populations().stream()
                .filter(p -> !cues.asksToCarryOver(p.id()))
                .filter(p -> RoaringBitmap.intersects(members.get(p.id()), lacking))
                .flatMap(p -> rulings.offeredByRule(update, Optional.of(p)).stream().map(at -> new DocketCase.Offer(p.name(), at)))
                .filter(offer -> offer.at().isAfter(now))
                .min(Comparator.comparing(DocketCase.Offer::at));
    }

    private Succession succession(Update update) {
        return succession.computeIfAbsent(update.id(), id -> {
            Carriage carriage = facts.carriages().of(update, now);
            return new Succession(carriage.lacking(), carriage.applicable());
        });
    }

    private List<String> contains(Update update) {
        return facts.carriages().catalogue().predecessorsOf(update.id()).stream()
                .filter(earlier -> foldedUnder(earlier).filter(update.id()::equals).isPresent())
                .sorted(Comparator.comparing(Update::published).reversed().thenComparing(Update::id))
                .map(Update::id).toList();
    }

    private Optional<String> foldedUnder(Update update) {
        List<Update> successors = facts.carriages().catalogue().successorsOf(update.id());
        if (successors.isEmpty()) {
            return Optional.empty();
        }
        RoaringBitmap lacking = succession(update).lacking();
        return successors.stream()
                .filter(successor -> !successor.isWithdrawn() && standingBlocks(successor).isEmpty())
                .filter(successor -> !lacking.isEmpty() && succession(successor).applicable().contains(lacking))
                .max(Comparator.comparing(Update::published).thenComparing(Update::id))
                .map(Update::id);
    }

    private List<String> siblings(Update update) {
        return Stream.concat(
                        update.vulnerabilities().stream().filter(v -> v.hasCve()).flatMap(v -> facts.carriages().catalogue().closing(v.id()).stream()),
                        update.references().stream().flatMap(reference -> facts.carriages().catalogue().update(reference).stream()))
                .map(Update::id).filter(id -> !id.equals(update.id())).distinct().sorted().toList();
    }

    /** Everything here that the clock alone can change: offers, ends, cues that come near an end, and hosts whose silence begins to mean something. */
    private Instant validUntil(Update update) {
        Stream<Instant> offers = fleet.ladder().populations().stream().flatMap(p -> rulings.offeredByRule(update, Optional.of(p)).stream())
                .flatMap(at -> Stream.of(at, at.minus(Cues.BEFORE_OFFER)));
        Stream<Instant> verdicts = facts.decisions().verdictsOn(update.id()).stream().map(Verdict::end).flatMap(end -> Stream.of(end, end.minus(Cues.BEFORE_END), end.minus(Cues.BEFORE_DUE)));
        Stream<Instant> blocks = Stream.concat(facts.carriages().catalogue().predecessorsOf(update.id()).stream(), facts.carriages().catalogue().successorsOf(update.id()).stream())
                .flatMap(other -> facts.decisions().verdictsOn(other.id()).stream()).map(Verdict::end);
        Stream<Instant> exceptions = facts.decisions().exceptions().stream().filter(e -> e.scope().covers(update)).map(ExceptionGrant::until).flatMap(end -> Stream.of(end, end.minus(Cues.BEFORE_END)));
        Stream<Instant> silences = tried.apply(update.id()).nextSilence().stream();
        return Stream.of(offers, verdicts, blocks, exceptions, silences).flatMap(s -> s).filter(instant -> instant.isAfter(now)).min(Comparator.naturalOrder())
                .orElse(Instant.MAX);
    }
}
