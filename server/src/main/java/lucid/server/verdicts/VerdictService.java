package lucid.server.verdicts;

import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.forecast.Hours;
import lucid.core.pilot.Pilot;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Consequence;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.pilots.DrawnPilot;
import lucid.server.pilots.PilotDraft;
import lucid.server.pilots.StoredPilots;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.CaseVersions;
import lucid.server.views.ConditionParser;
import lucid.server.views.Views;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;

/** Checks verdicts as they are worded, tells their consequence and hands them down; leaves updates to the rule. */
@Service
class VerdictService {

    /** Nothing withholds for ever; a year is as far as anybody can see. */
    private static final int LONGEST_DAYS = 366;

    /** Where the rule never offers what is left to it, the case comes back after so long. */
    private static final Duration UNTIL_LOOKED_AT_AGAIN = Duration.ofDays(30);

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private final SnapshotStore store;
    private final VerdictMapper verdicts;
    private final AcknowledgementMapper answers;
    private final StoredPilots pilots;
    private final Clock clock;

    VerdictService(
            SnapshotStore store,
            VerdictMapper verdicts,
            AcknowledgementMapper answers,
            StoredPilots pilots,
            Clock clock) {
        this.store = store;
        this.verdicts = verdicts;
        this.answers = answers;
        this.pilots = pilots;
        this.clock = clock;
    }

    /**
     * A draft as the verdict for one of its populations, with what it would do.
     *
     * @param drawn of a pilot: who would try it, of all its populations
     */
    record Worded(Verdict verdict, Population population, Consequence consequence, Optional<DrawnPilot> drawn) {}

    List<Worded> consequences(Snapshot snapshot, VerdictDraft draft, Principal who) {
        Instant now = clock.instant();
        List<Worded> worded = new ArrayList<>();
        Update update = snapshot.update(draft.update());
        Carriage carriage = snapshot.carriage(update, now);
        List<Verdict> drafts = verdicts(snapshot, draft, update, who, now);
        Optional<DrawnPilot> drawn = draft.type() == VerdictType.PILOT
                ? Optional.of(DrawnPilot.of(draft.pilot().orElse(PilotDraft.USUAL), drafts, update, snapshot, now))
                : Optional.empty();
        for (Verdict one : drafts) {
            Verdict verdict = drawn.map(DrawnPilot::pilot).map(one::with).orElse(one);
            worded.add(new Worded(
                    verdict,
                    snapshot.fleet().ladder().entry(verdict.populationId()).orElseThrow(),
                    Consequences.of(
                            verdict,
                            update,
                            carriage,
                            snapshot.fleet(),
                            snapshot.decisions(),
                            snapshot.catalogue(),
                            now),
                    drawn));
        }
        return worded;
    }

    private static List<Verdict> verdicts(
            Snapshot snapshot, VerdictDraft draft, Update update, Principal who, Instant now) {
        if (draft.type() == null) {
            throw ProblemException.badField("type", "choose block, defer, pilot or force");
        }
        if (!update.revision().equals(draft.revision())) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "revision",
                    update.id() + " is now at revision " + update.revision()
                            + "; look at what changed before you decide");
        }
        if (draft.populations().isEmpty()) {
            throw ProblemException.badField("populations", "choose at least one population");
        }
        Optional<HostCondition> where =
                draft.where().map(text -> ConditionParser.read("where", text, snapshot.fleet()));
        long number = snapshot.decisions().nextVerdict().value();
        List<Verdict> verdicts = new ArrayList<>();
        for (PopulationId id : new LinkedHashSet<>(draft.populations())) {
            Population population = snapshot.fleet()
                    .ladder()
                    .entry(id)
                    .orElseThrow(() -> ProblemException.badField("populations", "there is no population " + id));
            verdicts.add(new Verdict(
                    new DecisionNumber.OfVerdict(number++),
                    new Verdict.Subject(update.id(), draft.revision(), id, where),
                    // A pilot becomes one once its sample is drawn.
                    draft.type() == VerdictType.PILOT ? VerdictType.DEFER : draft.type(),
                    end(draft, population, now),
                    new Verdict.Reason(Set.copyOf(draft.reasons()), draft.words()),
                    new Verdict.Origin(who.getName(), now),
                    new Verdict.Overrides(
                            Set.copyOf(draft.overrides()),
                            Set.copyOf(draft.overriddenExceptions()),
                            Set.copyOf(draft.overriddenFreezes())),
                    Optional.empty()));
        }
        boolean offers = draft.type() == VerdictType.FORCE
                || draft.type() == VerdictType.PILOT
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

    private static Instant end(VerdictDraft draft, Population population, Instant now) {
        LocalDate day = draft.until()
                .orElseThrow(() -> ProblemException.badField("until", "choose a day: nothing withholds for ever"));
        LocalDate today = LocalDate.ofInstant(now, population.zone());
        if (day.isBefore(today)) {
            throw ProblemException.badField("until", DAY.format(day) + " is past");
        }
        if (day.isAfter(today.plusDays(LONGEST_DAYS))) {
            throw ProblemException.badField("until", DAY.format(day) + " is more than a year away");
        }
        if (draft.type() == VerdictType.FORCE) {
            return Hours.dueOn(day, population, now);
        }
        boolean letGoNow = draft.type() == VerdictType.DEFER && day.equals(today);
        return letGoNow ? now : Views.endOfDay(day, population.zone());
    }

    /**
     * Hands down a verdict for each of its populations, all at one instant. What it would do is computed before the
     * writer's turn, on the snapshot of that moment; in its turn only that nothing changed on the case since then, and
     * since it was worded, is checked.
     *
     * @param ifMatch version of the case on which it was worded
     * @param request by which the same request is known again, if its sender named a key
     * @throws ProblemException 412 if the case changed since, 428 without a version
     */
    Committed handDown(VerdictDraft draft, String ifMatch, Optional<RequestKey> request, Principal who) {
        if (draft.reasons().isEmpty() && draft.words().isEmpty()) {
            throw ProblemException.badField("reasons", "say why: choose a reason or write one");
        }
        if (draft.words().length() > 2000) {
            throw ProblemException.badField("words", "at most 2,000 characters");
        }
        Optional<Committed> before = request.flatMap(key -> store.answered(key, Committed.class));
        if (before.isPresent()) {
            return before.get();
        }
        Snapshot worded = store.snapshot();
        List<Worded> consequences = consequences(worded, draft, who);
        String wordedOn = CaseVersions.of(worded, worded.update(draft.update()));
        return store.writeOnce(request, 0, Committed.class, snapshot -> {
            Update update = snapshot.update(draft.update());
            CaseVersions.require(ifMatch, snapshot, update);
            CaseVersions.require(wordedOn, snapshot, update);
            Decisions decisions = snapshot.decisions();
            // Nobody else started one since: its case is unchanged, but others may have started on other cases.
            Optional<Pilot> pilot = consequences.get(0).drawn().map(drawn -> drawn.pilot()
                    .numbered(snapshot.decisions().nextPilot()));
            pilot.ifPresent(pilots::add);
            List<HandedDown> handedDown = new ArrayList<>();
            for (Worded one : consequences) {
                Verdict numbered = one.verdict()
                        .numbered(decisions.nextVerdict())
                        .at(one.consequence().moment());
                Verdict verdict = pilot.map(numbered::with).orElse(numbered);
                verdicts.add(verdict);
                store.record(AuditEntry.Kind.VERDICT, draft.update().value(), who, sentence(one));
                decisions = decisions.with(verdict);
                handedDown.add(new HandedDown(
                        verdict.number(),
                        one.population().id(),
                        one.consequence().decided().getCardinality()));
            }
            return new SnapshotStore.Change<>(
                    snapshot.with(decisions),
                    new Committed(
                            handedDown,
                            Undo.of(
                                    Revocable.Kind.VERDICT,
                                    handedDown.stream()
                                            .map(one -> one.number().value())
                                            .toList())));
        });
    }

    /** @param hosts for which it is what holds */
    record HandedDown(DecisionNumber.OfVerdict number, PopulationId population, int hosts) {}

    /**
     * @param verdicts one for each population, in the order in which they were named
     * @param undo address to which a DELETE takes all of them back
     */
    record Committed(List<HandedDown> verdicts, String undo) {}

    private static String sentence(Worded worded) {
        Verdict verdict = worded.verdict();
        boolean letGo = verdict.type() == VerdictType.DEFER && !verdict.end().isAfter(verdict.createdAt());
        String day = DAY.format(LocalDate.ofInstant(
                verdict.end().minusMillis(1), worded.population().zone()));
        String what =
                switch (verdict.type()) {
                    case BLOCK -> "Blocked";
                    case DEFER -> letGo ? "Let go now" : "Deferred";
                    case PILOT -> "Started a pilot of";
                    case FORCE -> "Forced";
                };
        return what + " " + verdict.updateId() + " revision " + verdict.revision() + " for "
                + worded.population().name()
                + verdict.narrowing().map(where -> " where " + where).orElse("")
                + (letGo ? "" : untilWords(verdict.type()) + day)
                + ", because " + because(verdict) + ": "
                + hosts(worded.consequence().decided().getCardinality()) + first(worded) + ".";
    }

    private static String untilWords(VerdictType type) {
        return switch (type) {
            case BLOCK, DEFER -> " until ";
            case PILOT -> ", to answer by ";
            case FORCE -> ", due ";
        };
    }

    /** Of a pilot: how many of its hosts try it. */
    private static String first(Worded worded) {
        return worded.verdict()
                .pilot()
                .map(pilot -> ", of which "
                        + RoaringBitmap.andCardinality(
                                pilot.everSampled(), worded.consequence().decided())
                        + " try it first")
                .orElse("");
    }

    private static String because(Verdict verdict) {
        String reasons =
                verdict.reasons().stream().sorted().map(ReasonWord::words).collect(Collectors.joining(", "));
        return verdict.words().isEmpty() ? reasons : (reasons.isEmpty() ? "" : reasons + "; ") + verdict.words();
    }

    private static String hosts(int count) {
        return count == 1 ? "1 host" : count + " hosts";
    }

    record GivenAnswer(DecisionNumber.OfAcknowledgement number, UpdateId update) {}

    /** @param undo address to which a DELETE takes all of them back */
    record GivenAnswers(List<GivenAnswer> acknowledgements, String undo) {}

    /**
     * Leaves updates to the rule.
     *
     * @param populations entries of the ladder for which each is left to it; empty: all that have hosts which lack it
     * @param ifMatch versions of the cases as they were seen
     */
    GivenAnswers leaveToTheRule(
            List<UpdateId> updates,
            List<PopulationId> populations,
            String ifMatch,
            Optional<RequestKey> request,
            Principal who) {
        return store.writeOnce(request, 0, GivenAnswers.class, snapshot -> {
            Instant now = clock.instant();
            List<Population> chosen = populations.stream()
                    .distinct()
                    .map(id -> snapshot.fleet()
                            .ladder()
                            .entry(id)
                            .orElseThrow(
                                    () -> ProblemException.badField("populations", "there is no population " + id)))
                    .toList();
            Decisions decisions = snapshot.decisions();
            List<GivenAnswer> given = new ArrayList<>();
            for (UpdateId id : new LinkedHashSet<>(updates)) {
                Update update = snapshot.update(id);
                CaseVersions.require(ifMatch, snapshot, update);
                RoaringBitmap lacking = snapshot.carriage(update, now).lacking();
                List<Population> entries = chosen.isEmpty() ? with(lacking, snapshot.fleet()) : chosen;
                Timeline timeline = Timeline.of(update, decisions, snapshot.fleet(), snapshot.catalogue());
                boolean never = entries.stream()
                        .anyMatch(entry -> timeline.offeredByRule(entry).isEmpty());
                Acknowledgement answer = new Acknowledgement(
                        decisions.nextAcknowledgement(),
                        update.id(),
                        entries.stream().map(Population::id).collect(Collectors.toSet()),
                        never ? Optional.of(now.plus(UNTIL_LOOKED_AT_AGAIN)) : Optional.empty(),
                        who.getName(),
                        now,
                        Optional.empty(),
                        Optional.of(lacking));
                answers.add(answer);
                store.record(
                        AuditEntry.Kind.ANSWER,
                        id.value(),
                        who,
                        "Left " + id + " to the rule"
                                + (entries.isEmpty()
                                        ? ""
                                        : " for "
                                                + entries.stream()
                                                        .map(Population::name)
                                                        .collect(Collectors.joining(", ")))
                                + answer.lookAgain()
                                        .map(day -> "; where the rule never offers it, it comes back on "
                                                + DAY.format(LocalDate.ofInstant(day, ZoneOffset.UTC)))
                                        .orElse("")
                                + ".");
                decisions = decisions.with(answer);
                given.add(new GivenAnswer(answer.number(), id));
            }
            return new SnapshotStore.Change<>(
                    snapshot.with(decisions),
                    new GivenAnswers(
                            given,
                            Undo.of(
                                    Revocable.Kind.ACKNOWLEDGEMENT,
                                    given.stream()
                                            .map(one -> one.number().value())
                                            .toList())));
        });
    }

    private static List<Population> with(RoaringBitmap hosts, Fleet fleet) {
        return fleet.ladder().entries().stream()
                .filter(entry -> RoaringBitmap.intersects(fleet.members(entry.id()), hosts))
                .toList();
    }
}
