package lucid.server.verdicts;

import java.time.Instant;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.approval.ApprovalRules;
import lucid.core.approval.Ground;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Spread;
import lucid.core.forecast.GroupForecast;
import lucid.core.forecast.Hours;
import lucid.core.ruling.Consequence;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.server.pilots.DrawnPilot;
import lucid.server.pilots.PilotDraft;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.ConditionParser;
import lucid.server.views.Views;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;

/** Reads a sentence as it is worded, and tells what each of its verdicts would do. */
final class Wording {

    /** Nothing withholds for ever; a year is as far as anybody can see. */
    private static final int LONGEST_DAYS = 366;

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private final Snapshot snapshot;
    private final VerdictDraft draft;
    private final Update update;
    private final Verdict.Origin origin;
    private final ApprovalRules rules;

    private Wording(Snapshot snapshot, VerdictDraft draft, Verdict.Origin origin, ApprovalRules rules) {
        this.snapshot = snapshot;
        this.draft = draft;
        this.update = snapshot.update(draft.update());
        this.origin = origin;
        this.rules = rules;
    }

    /**
     * One verdict of a sentence, with what it would do.
     *
     * @param answer place among the answers of the sentence
     * @param drawn of a pilot: who would try it, of all populations of the answer
     * @param foreseen what else it would do
     * @param grounds why it needs an approver
     */
    record Worded(
            int answer,
            Verdict verdict,
            Population population,
            Consequence consequence,
            Optional<DrawnPilot> drawn,
            Foreseen foreseen,
            Set<Ground> grounds) {

        /** Nothing is foreseen of it, and nobody has to approve it. */
        static Worded plainly(Verdict verdict, Population population, Consequence consequence) {
            return new Worded(0, verdict, population, consequence, Optional.empty(), Foreseen.NOTHING, Set.of());
        }
    }

    /** One for each population of each answer, in their order. */
    static List<Worded> of(Snapshot snapshot, VerdictDraft draft, Verdict.Origin origin, ApprovalRules rules) {
        return new Wording(snapshot, draft, origin, rules).worded();
    }

    private Instant now() {
        return origin.createdAt();
    }

    private List<Worded> worded() {
        if (!update.revision().equals(draft.revision())) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "revision",
                    update.id() + " is now at revision " + update.revision()
                            + "; look at what changed before you decide");
        }
        requireOneAnswerEach();
        Carriage carriage = snapshot.carriage(update, now());
        List<Worded> worded = new ArrayList<>();
        // What one answer decides, the next ones know.
        Snapshot sofar = snapshot.with(snapshot.decisions().withAll(replaced(snapshot, draft, now())));
        for (int place = 0; place < draft.answers().size(); place++) {
            AnswerDraft answer = draft.answers().get(place);
            List<Verdict> drafts = verdicts(answer, sofar.decisions());
            Snapshot before = sofar;
            Optional<DrawnPilot> drawn = answer.type() == VerdictType.PILOT
                    ? Optional.of(DrawnPilot.of(answer.pilot().orElse(PilotDraft.USUAL), drafts, update, before, now()))
                    : Optional.empty();
            for (Verdict one : drafts) {
                Verdict verdict = drawn.map(DrawnPilot::pilot)
                        .map(one::with)
                        .orElseGet(() -> inParts(one, answer, carriage, before.decisions()));
                worded.add(worded(place, verdict, drawn, carriage, before.decisions()));
                sofar = sofar.with(sofar.decisions().with(verdict));
            }
        }
        return worded;
    }

    /**
     * The verdicts that a sentence takes the place of, as they are once it is handed down.
     *
     * @throws ProblemException 422 if one is of another update, or cannot be replaced; 409 if it no longer stands
     */
    static List<Verdict> replaced(Snapshot snapshot, VerdictDraft draft, Instant now) {
        return draft.replaces().stream()
                .map(number -> {
                    Verdict verdict = snapshot.decisions()
                            .verdict(number)
                            .filter(one -> one.updateId().equals(draft.update()))
                            .orElseThrow(() -> ProblemException.badField(
                                    "replaces", "there is no verdict " + number + " on " + draft.update()));
                    if (verdict.type() == VerdictType.PILOT) {
                        throw ProblemException.badField(
                                "replaces", "a pilot is extended or stopped where it is told how it goes");
                    }
                    if (!verdict.standsAt(now)) {
                        throw new ProblemException(
                                HttpStatus.CONFLICT, "replaces", "verdict " + number + " no longer stands");
                    }
                    return verdict.revoked(now);
                })
                .toList();
    }

    private Worded worded(
            int place, Verdict verdict, Optional<DrawnPilot> drawn, Carriage carriage, Decisions decisions) {
        Population population =
                snapshot.fleet().ladder().entry(verdict.populationId()).orElseThrow();
        Consequence consequence = consequence(verdict, carriage, decisions);
        Foreseen foreseen = Foreseen.of(
                verdict, population, consequence.decided(), update, carriage, snapshot.with(decisions), now());
        return new Worded(
                place,
                verdict,
                population,
                consequence,
                drawn,
                foreseen,
                Ground.of(
                        verdict,
                        population,
                        consequence.decided(),
                        foreseen.forecast().map(GroupForecast::inBusyHours).orElseGet(RoaringBitmap::new),
                        snapshot.decisions(),
                        rules));
    }

    private Consequence consequence(Verdict verdict, Carriage carriage, Decisions decisions) {
        Consequence consequence =
                Consequences.of(verdict, update, carriage, snapshot.fleet(), decisions, snapshot.catalogue(), now());
        // What is in force now is so with what it takes the place of.
        return draft.replaces().isEmpty()
                ? consequence
                : new Consequence(
                        consequence.named(),
                        consequence.carrying(),
                        consequence.notApplicable(),
                        consequence.decided(),
                        Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue())
                                .groups(consequence.decided(), now()),
                        consequence.claimed(),
                        consequence.unknown(),
                        consequence.otherSupply());
    }

    /** The parts are of the hosts for which it would be what holds; whoever comes later follows with the last. */
    private Verdict inParts(Verdict verdict, AnswerDraft answer, Carriage carriage, Decisions decisions) {
        if (answer.spread().isEmpty()) {
            return verdict;
        }
        SpreadDraft asked = answer.spread().get();
        Population population =
                snapshot.fleet().ladder().entry(verdict.populationId()).orElseThrow();
        RoaringBitmap hosts = consequence(verdict, carriage, decisions).decided();
        LocalDate first = answer.until().orElseThrow();
        List<Instant> ends = IntStream.range(0, asked.parts())
                .mapToObj(part -> end(answer, first.plusDays((long) part * asked.daysApart()), population))
                .toList();
        Map<Integer, Integer> moved = new HashMap<>();
        for (SpreadDraft.Moved one : asked.moved()) {
            if (one.host() == null || one.part() < 1 || one.part() > asked.parts()) {
                throw ProblemException.badField("spread.moved", "name a host, and a part from 1 to " + asked.parts());
            }
            // A sentence for several populations moves the hosts of all of them.
            snapshot.fleet()
                    .host(one.host())
                    .filter(host -> hosts.contains(host.number()))
                    .ifPresent(host -> moved.put(host.number(), one.part() - 1));
        }
        String seed = update.id() + " " + update.revision() + " " + population.id();
        return verdict.spreadOver(Spread.of(hosts, ends, seed, snapshot.fleet()).with(moved));
    }

    /** A population is named twice only where one of the answers is narrowed. */
    private void requireOneAnswerEach() {
        Set<PopulationId> whole = new LinkedHashSet<>();
        for (AnswerDraft answer : draft.answers()) {
            for (PopulationId id : new LinkedHashSet<>(answer.populations())) {
                if (answer.where().isEmpty() && !whole.add(id)) {
                    throw ProblemException.badField(
                            "populations", "the sentence has two answers for " + id + "; narrow one of them");
                }
            }
        }
    }

    private List<Verdict> verdicts(AnswerDraft answer, Decisions decisions) {
        if (answer.type() == null) {
            throw ProblemException.badField("type", "choose block, defer, pilot or force");
        }
        if (answer.populations().isEmpty()) {
            throw ProblemException.badField("populations", "choose at least one population");
        }
        Optional<HostCondition> where =
                answer.where().map(text -> ConditionParser.read("where", text, snapshot.fleet()));
        long number = decisions.nextVerdict().value();
        List<Verdict> verdicts = new ArrayList<>();
        for (PopulationId id : new LinkedHashSet<>(answer.populations())) {
            Population population = snapshot.fleet()
                    .ladder()
                    .entry(id)
                    .orElseThrow(() -> ProblemException.badField("populations", "there is no population " + id));
            verdicts.add(new Verdict(
                            new DecisionNumber.OfVerdict(number++),
                            new Verdict.Subject(update.id(), draft.revision(), id, where),
                            // A pilot becomes one once its sample is drawn.
                            answer.type() == VerdictType.PILOT ? VerdictType.DEFER : answer.type(),
                            end(answer, day(answer), population),
                            new Verdict.Reason(Set.copyOf(draft.reasons()), draft.words()),
                            origin,
                            answer.goesOver(),
                            Optional.empty())
                    .with(Deliveries.of(answer, update, snapshot.fleet(), now())));
        }
        boolean offers = answer.type() == VerdictType.FORCE
                || answer.type() == VerdictType.PILOT
                || verdicts.stream().anyMatch(Verdict::isLetGo);
        if (!update.canBeOffered() && offers) {
            throw ProblemException.badField(
                    "type",
                    update.isWithdrawn()
                            ? update.id() + " was withdrawn by its vendor: nobody is offered it"
                            : "no version with the fix of " + update.id() + " is known: there is nothing to install");
        }
        return verdicts;
    }

    private static LocalDate day(AnswerDraft answer) {
        return answer.until()
                .orElseThrow(() -> ProblemException.badField("until", "choose a day: nothing withholds for ever"));
    }

    private Instant end(AnswerDraft answer, LocalDate day, Population population) {
        LocalDate today = LocalDate.ofInstant(now(), population.zone());
        if (day.isBefore(today)) {
            throw ProblemException.badField("until", DAY.format(day) + " is past");
        }
        if (day.isAfter(today.plusDays(LONGEST_DAYS))) {
            throw ProblemException.badField("until", DAY.format(day) + " is more than a year away");
        }
        if (answer.type() == VerdictType.FORCE) {
            return Hours.dueOn(day, population, now());
        }
        boolean letGoNow = answer.type() == VerdictType.DEFER && day.equals(today);
        return letGoNow ? now() : Views.endOfDay(day, population.zone());
    }
}
