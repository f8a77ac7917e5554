package lucid.core.docket;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.causes.Cause;
import lucid.core.causes.SuspectedCauses;
import lucid.core.evidence.CaseNote;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Requirements;
import lucid.core.ruling.Effect;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.weighing.BaselineRates;
import lucid.core.weighing.Rates;
import lucid.core.weighing.Suggestion;
import lucid.core.weighing.Weigher;
import lucid.core.weighing.Weighing;
import lucid.core.weighing.WeighingInput;
import lucid.core.weighing.Weights;
import org.roaringbitmap.RoaringBitmap;

/** Makes cases, all from the same facts at one instant. */
final class Cases {

    private static final Set<Rating> ROUTINE_RATINGS =
            EnumSet.of(Rating.UNRATED, Rating.NONE, Rating.LOW, Rating.MEDIUM);
    private static final Set<Cue.Type> ROUTINE_CUES = EnumSet.of(Cue.Type.NEW, Cue.Type.OFFERED_SOON);
    private static final Set<Suggestion.Type> ROUTINE_SUGGESTIONS =
            EnumSet.of(Suggestion.Type.LEAVE_TO_RULE, Suggestion.Type.NONE, Suggestion.Type.NOTHING_TO_INSTALL);

    private static final RoaringBitmap NO_HOSTS = new RoaringBitmap();

    private final Docket.Facts facts;
    private final Instant now;
    private final Fleet fleet;
    private final Function<UpdateId, TriedHosts> tried;
    private final BaselineRates usual;
    private final List<Population> entries;
    private final Rates rates = new Rates();
    private final Map<PopulationId, RoaringBitmap> members = new HashMap<>();
    private final Map<UpdateId, Succession> succession = new HashMap<>();

    /** @param tried the tried hosts of an update, by its identifier */
    Cases(Docket.Facts facts, Instant now, Function<UpdateId, TriedHosts> tried, BaselineRates usual) {
        this.facts = facts;
        this.now = now;
        this.fleet = facts.carriages().fleet();
        this.tried = tried;
        this.usual = usual;
        this.entries = fleet.ladder().entries();
        entries.forEach(entry -> members.put(entry.id(), fleet.members(entry.id())));
    }

    /**
     * The hosts of an update that decide how it folds with others.
     *
     * @param claimed hosts that told of an install and have not reported since
     */
    private record Succession(RoaringBitmap lacking, RoaringBitmap applicable, RoaringBitmap claimed) {}

    DocketCase of(Update update) {
        CaseFacts of = factsOf(update);
        Carriage carriage = of.carriage();
        RoaringBitmap lacking = carriage.lacking();
        RoaringBitmap concerned = RoaringBitmap.or(lacking, carriage.restartOutstanding());
        Timeline timeline = timeline(update);
        Weigher weigher = new Weigher(facts.weights(), of.input().update(), rates);
        List<DocketCase.OfPopulation> weighings = new ArrayList<>();
        List<DocketCase.Mark> marks = new ArrayList<>();
        RoaringBitmap carryOver = timeline.asksToCarryOver(lacking, now);
        Map<PopulationId, RoaringBitmap> concernedByEntry = fleet.byEntry(concerned);
        Map<PopulationId, RoaringBitmap> lackingByEntry =
                carriage.restartOutstanding().isEmpty() ? concernedByEntry : fleet.byEntry(lacking);
        RoaringBitmap never = new RoaringBitmap();
        List<Instant> dues = new ArrayList<>();
        for (Population entry : entries) {
            RoaringBitmap hosts = concernedByEntry.get(entry.id());
            RoaringBitmap lackingHere = lackingByEntry.getOrDefault(entry.id(), NO_HOSTS);
            boolean named = !entry.id().equals(Ladder.NO_POPULATION);
            List<RulingGroup> groups = timeline.groups(entry, lackingHere, now);
            groups.forEach(group -> group.match().due().ifPresent(dues::add));
            groups.stream().filter(group -> group.match().isNever()).forEach(group -> never.or(group.hosts()));
            if (hosts != null) {
                Weighing weighing = weigher.weigh(
                        of.input().population(entry.tier(), hosts), asksToCarryOver(lackingHere, carryOver));
                weighings.add(
                        new DocketCase.OfPopulation(named ? Optional.of(entry.id()) : Optional.empty(), weighing));
            }
            if (named) {
                int applicable = RoaringBitmap.andCardinality(members.get(entry.id()), carriage.applicable());
                marks.add(mark(entry.id(), lackingHere.getCardinality(), applicable, groups));
            }
        }
        DocketCase.Counts counts = new DocketCase.Counts(
                lacking.getCardinality(),
                carriage.having().getCardinality(),
                RoaringBitmap.andCardinality(lacking, carriage.stale()),
                RoaringBitmap.andCardinality(
                        lacking, fleet.withTrait(Weights.Facing.TRAIT, Weights.Facing.PUBLIC.word())),
                carriage.restartOutstanding().getCardinality(),
                of.input().notAffected().getCardinality());
        Optional<DocketCase.Offer> nextOffer = nextOffer(timeline, lackingByEntry, carryOver);
        List<UpdateId> contains = contains(update);
        Cues own = new Cues(facts, update, of, List.of(timeline), usual.of(update), now);
        List<Cue> cues = new ArrayList<>(own.all(weighings, nextOffer, never));
        RoaringBitmap open = own.open();
        for (UpdateId id : contains) {
            Cues folded = folded(facts.carriages().catalogue().update(id).orElseThrow(), timeline);
            List<Cue> more = folded.foldedUnder().stream()
                    .filter(cue -> cues.stream()
                            .noneMatch(known ->
                                    known.type() == cue.type() && known.about().equals(cue.about())))
                    .toList();
            if (!more.isEmpty()) {
                cues.addAll(more);
                open.or(folded.open());
            }
        }
        cues.sort(Cues.ORDER);
        return new DocketCase(
                update,
                List.copyOf(cues),
                counts,
                weighings,
                marks,
                openByEntry(open.equals(lacking) ? lackingByEntry : fleet.byEntry(open)),
                isRoutine(update, of, cues, weighings),
                nextOffer,
                dues.stream().min(Comparator.naturalOrder()),
                foldedUnder(update),
                contains,
                siblings(update),
                validUntil(update, timeline, lacking));
    }

    private Timeline timeline(Update update) {
        return Timeline.of(update, facts.decisions(), fleet, facts.carriages().catalogue());
    }

    private Cues folded(Update earlier, Timeline successor) {
        Carriage carriage = facts.carriages().of(earlier, now);
        CaseFacts of = new CaseFacts(carriage, tried.apply(earlier.id()), List.of(), issues(earlier), null);
        return new Cues(facts, earlier, of, List.of(timeline(earlier), successor), usual.of(earlier), now);
    }

    private static Map<PopulationId, Integer> openByEntry(Map<PopulationId, RoaringBitmap> open) {
        Map<PopulationId, Integer> byEntry = new LinkedHashMap<>();
        open.forEach((entry, hosts) -> byEntry.put(entry, hosts.getCardinality()));
        return byEntry;
    }

    /**
     * What can be left to the rule without a look at it: nothing is known that speaks against it, nothing waits, and it
     * is not grave.
     */
    private boolean isRoutine(Update update, CaseFacts of, List<Cue> cues, List<DocketCase.OfPopulation> weighings) {
        return ROUTINE_RATINGS.contains(update.rating())
                && cues.stream().allMatch(cue -> ROUTINE_CUES.contains(cue.type()))
                && weighings.stream()
                        .allMatch(one -> ROUTINE_SUGGESTIONS.contains(
                                one.weighing().suggestion().type()))
                && of.issues().isEmpty()
                && of.tried().failed() == 0
                && facts.evidence().notesOn(update.id()).stream().noneMatch(NotAffectedNote::stands)
                && facts.evidence().caseNotesOn(update.id()).stream().noneMatch(CaseNote::stands);
    }

    CaseFacts factsOf(Update update) {
        Carriage carriage = facts.carriages().of(update, now);
        TriedHosts hosts = tried.apply(update.id());
        List<Cause> causes = SuspectedCauses.find(hosts, fleet);
        List<KnownIssue> issues = issues(update);
        WeighingInput input = new WeighingInput(
                update,
                WeighingInput.Contained.in(update, facts.carriages().catalogue(), earlier -> succession(earlier)
                        .lacking()),
                carriage,
                facts.carriages(),
                facts.evidence(),
                hosts,
                causes,
                issues,
                usual.of(update),
                now);
        return new CaseFacts(carriage, hosts, causes, issues, input);
    }

    /**
     * An update that supersedes a blocked one is taken to have its open issues, unless they are told to be fixed by it.
     */
    private List<KnownIssue> issues(Update update) {
        return Stream.concat(
                        facts.evidence().issuesOf(update.id()).stream(),
                        blockedContents(update).stream()
                                .map(Verdict::updateId)
                                .distinct()
                                .flatMap(id -> facts.evidence().issuesOf(id).stream())
                                .filter(issue ->
                                        issue.isOpen() && !issue.fixedBy().contains(update.id())))
                .distinct()
                .toList();
    }

    /** Blocks that stand on updates which this one contains. */
    private List<Verdict> blockedContents(Update update) {
        return facts.carriages().catalogue().containedIn(update.id()).stream()
                .flatMap(earlier -> standingBlocks(earlier).stream())
                .toList();
    }

    private List<Verdict> standingBlocks(Update update) {
        return facts.decisions().verdictsOn(update.id()).stream()
                .filter(v -> v.type() == VerdictType.BLOCK && v.standsAt(now))
                .toList();
    }

    private static DocketCase.Mark mark(
            PopulationId population, int lacking, int applicable, List<RulingGroup> groups) {
        return new DocketCase.Mark(
                population,
                lacking,
                applicable,
                groups.stream().findFirst().map(RulingGroup::match),
                groups.stream()
                        .skip(1)
                        .mapToInt(h -> h.hosts().getCardinality())
                        .sum());
    }

    /**
     * Whether that an earlier update is withheld is what a population is to be judged by first: if it is so for most of
     * its hosts that lack the update. For a few excepted ones the cue asks.
     *
     * @param lacking hosts of the population that lack it
     */
    static boolean asksToCarryOver(RoaringBitmap lacking, RoaringBitmap carryOver) {
        return !carryOver.isEmpty() && 2 * RoaringBitmap.andCardinality(lacking, carryOver) > lacking.getCardinality();
    }

    /** Hosts from which it is withheld until somebody answers for it are not offered anything by their rule. */
    private Optional<DocketCase.Offer> nextOffer(
            Timeline timeline, Map<PopulationId, RoaringBitmap> lacking, RoaringBitmap carryOver) {
        RoaringBitmap waiting = RoaringBitmap.or(lacking.values().iterator());
        return timeline.offeredByRule(waiting, now).stream()
                .flatMap(of -> of.at().stream()
                        .filter(at -> at.isAfter(now))
                        .map(at -> new DocketCase.Offer(
                                of.entry().name(), at, RoaringBitmap.andNot(of.hosts(), carryOver))))
                .filter(offer -> !offer.hosts().isEmpty())
                .min(Comparator.comparing(DocketCase.Offer::at));
    }

    private Succession succession(Update update) {
        return succession.computeIfAbsent(update.id(), id -> {
            Carriage carriage = facts.carriages().of(update, now);
            return new Succession(carriage.lacking(), carriage.applicable(), carriage.in(CarriageState.CLAIMED));
        });
    }

    private List<UpdateId> contains(Update update) {
        return facts.carriages().catalogue().predecessorsOf(update.id()).stream()
                .filter(earlier ->
                        foldedUnder(earlier).filter(update.id()::equals).isPresent())
                .sorted(Comparator.comparing(Update::published).reversed().thenComparing(Update::id))
                .map(Update::id)
                .toList();
    }

    private Optional<UpdateId> foldedUnder(Update update) {
        List<Update> successors = facts.carriages().catalogue().successorsOf(update.id());
        if (successors.isEmpty()) {
            return Optional.empty();
        }
        RoaringBitmap lacking = succession(update).lacking();
        return successors.stream()
                .filter(successor -> !successor.isWithdrawn()
                        && !isWithheldSomewhere(successor, lacking)
                        && Requirements.cannotTake(successor, lacking, fleet).isEmpty())
                .filter(successor ->
                        !lacking.isEmpty() && succession(successor).applicable().contains(lacking))
                .max(Comparator.comparing(Update::published).thenComparing(Update::id))
                .map(Update::id);
    }

    /**
     * True if a verdict or an exception withholds it from one of these hosts: then what it would bring is offered by
     * the earlier update alone.
     */
    private boolean isWithheldSomewhere(Update successor, RoaringBitmap hosts) {
        boolean decided = !facts.decisions().verdictsOn(successor.id()).isEmpty()
                || !facts.decisions().exceptionsOn(successor).isEmpty();
        return decided
                && timeline(successor).groups(hosts, now).stream()
                        .map(RulingGroup::match)
                        .anyMatch(match -> match.effect() == Effect.WITHHELD
                                && (match.clause() == RuleMatch.Clause.VERDICT
                                        || match.clause() == RuleMatch.Clause.EXCEPTION));
    }

    private List<UpdateId> siblings(Update update) {
        return update.vulnerabilities().stream()
                .filter(v -> v.hasCve())
                .flatMap(v -> facts.carriages().catalogue().closing(v.id()).stream())
                .map(Update::id)
                .filter(id -> !id.equals(update.id()))
                .distinct()
                .sorted()
                .toList();
    }

    /**
     * Everything here that the clock alone can change: offers, ends, cues that come near an end or go after it, days on
     * which somebody wanted it looked at again, and hosts whose silence begins to mean something.
     */
    private Instant validUntil(Update update, Timeline timeline, RoaringBitmap lacking) {
        Stream<Instant> ends = Stream.concat(
                        timeline.changes(lacking),
                        facts.carriages().catalogue().containing(update.id()).stream()
                                .flatMap(other -> timeline(other).changes(lacking)))
                .flatMap(end -> Stream.of(
                        end,
                        end.minus(Cues.BEFORE_OFFER),
                        end.minus(Cues.BEFORE_END),
                        end.minus(Cues.BEFORE_DUE),
                        end.plus(Cues.AFTER_END)));
        Stream<Instant> silences = Stream.concat(
                        Stream.of(update), facts.carriages().catalogue().containedIn(update.id()).stream())
                .flatMap(one -> Stream.concat(tried.apply(one.id()).nextChange().stream(), claimsEnd(one)));
        Stream<Instant> followUps = Stream.concat(
                        Stream.of(update), facts.carriages().catalogue().containedIn(update.id()).stream())
                .flatMap(one -> facts.evidence().caseNotesOn(one.id()).stream())
                .flatMap(note -> note.followUp().from().stream());
        return Stream.of(ends, silences, followUps)
                .flatMap(instants -> instants)
                .filter(instant -> instant.isAfter(now))
                .min(Comparator.naturalOrder())
                .orElse(Instant.MAX);
    }

    /** When an install that a host told of, and has not confirmed, counts as followed by silence. */
    private Stream<Instant> claimsEnd(Update update) {
        Map<Integer, Outcome> last = facts.carriages().outcomes().last(update.id());
        return fleet.hosts(succession(update).claimed())
                .map(host -> host.silentAfterInstall(last.get(host.number()).at(), fleet.rhythmOf(host)));
    }
}
