package lucid.server.verdicts;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import lucid.core.approval.Ground;
import lucid.core.fleet.PopulationId;
import lucid.core.pilot.Pilot;
import lucid.core.pilot.PilotNumber;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.pilots.StoredPilots;
import lucid.server.proposals.ProposalWords;
import lucid.server.proposals.StoredApprovalRules;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.verdicts.CasesAtHand.CaseThen;
import lucid.server.verdicts.Wording.Worded;
import lucid.server.views.CaseVersions;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;

/** Hands sentences down: all their verdicts, or none. */
@Service
class VerdictService {

    private static final int LONGEST_WORDS = 2_000;

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private final SnapshotStore store;
    private final VerdictMapper verdicts;
    private final StoredPilots pilots;
    private final VerdictSheets sheets;
    private final CasesAtHand cases;
    private final StoredApprovalRules rules;
    private final RevocableVerdicts revocable;
    private final Clock clock;

    VerdictService(
            SnapshotStore store,
            VerdictMapper verdicts,
            StoredPilots pilots,
            VerdictSheets sheets,
            CasesAtHand cases,
            StoredApprovalRules rules,
            RevocableVerdicts revocable,
            Clock clock) {
        this.sheets = sheets;
        this.cases = cases;
        this.rules = rules;
        this.revocable = revocable;
        this.store = store;
        this.verdicts = verdicts;
        this.pilots = pilots;
        this.clock = clock;
    }

    /** What a sentence would do if this person handed it down now; nothing is kept. */
    List<Worded> consequences(Snapshot snapshot, VerdictDraft draft, String author) {
        return Wording.of(snapshot, draft, new Verdict.Origin(author, clock.instant()), rules.now());
    }

    /** Why its verdicts need an approver. */
    static Set<Ground> grounds(List<Worded> worded) {
        return worded.stream().flatMap(one -> one.grounds().stream()).collect(Collectors.toSet());
    }

    static void requireReason(VerdictDraft draft) {
        if (draft.reasons().isEmpty() && draft.words().isEmpty()) {
            throw ProblemException.badField("reasons", "say why: choose a reason or write one");
        }
        if (draft.words().length() > LONGEST_WORDS) {
            throw ProblemException.badField("words", "at most 2,000 characters");
        }
    }

    /**
     * Hands down one sentence, or several on as many updates.
     *
     * @throws ProblemException 422 if one needs an approver
     */
    Committed handDown(List<VerdictDraft> drafts, String ifMatch, Optional<RequestKey> request, Principal who) {
        drafts.forEach(VerdictService::requireReason);
        return handDown(drafts, new Verdict.Origin(who.getName(), clock.instant()), ifMatch, request, who, worded -> {
            ProposalWords.requireNone(grounds(worded));
        });
    }

    /**
     * Hands down a verdict for each population of each answer of each sentence, all at one instant: all of them or
     * none. What they would do is computed before the writer's turn, on the snapshot of that moment; in its turn only
     * that nothing changed on the cases since then, and since they were worded, is checked.
     *
     * @param drafts each on another update
     * @param ifMatch versions of the cases on which they were worded
     * @param request by which the same request is known again, if its sender named a key
     * @param who hands them down
     * @param inTurn what is done in the writer's turn before anything is stored; it throws where they may not be handed
     *     down
     * @throws ProblemException 412 if a case changed since, 428 without a version
     */
    Committed handDown(
            List<VerdictDraft> drafts,
            Verdict.Origin origin,
            String ifMatch,
            Optional<RequestKey> request,
            Principal who,
            Consumer<List<Worded>> inTurn) {
        Optional<Committed> before = request.flatMap(key -> store.answered(key, Committed.class));
        if (before.isPresent()) {
            return before.get();
        }
        Snapshot seen = store.snapshot();
        List<Sentence> sentences = drafts.stream()
                .map(draft -> sentence(draft, drafts.size(), seen, origin))
                .toList();
        List<Worded> worded =
                sentences.stream().flatMap(one -> one.worded().stream()).toList();
        return store.writeOnce(request, 0, Committed.class, snapshot -> {
            for (Sentence sentence : sentences) {
                Update update = snapshot.update(sentence.update());
                CaseVersions.require(ifMatch, snapshot, update);
                CaseVersions.require(sentence.wordedOn(), snapshot, update);
            }
            inTurn.accept(worded);
            List<Verdict> made = new ArrayList<>();
            List<HandedDown> handedDown = new ArrayList<>();
            for (Sentence sentence : sentences) {
                sentence.replaced().forEach(verdict -> takeBack(verdict, snapshot, who));
                made.addAll(sentence.replaced());
                for (Kept kept : keep(sentence, snapshot.decisions().withAll(made), who)) {
                    made.add(kept.verdict());
                    handedDown.add(kept.told());
                }
            }
            return new SnapshotStore.Change<>(
                    snapshot.with(snapshot.decisions().withAll(made)),
                    new Committed(handedDown, undo(handedDown, sentences)));
        });
    }

    /** What it took the place of stands again once it is taken back. */
    private static String undo(List<HandedDown> handedDown, List<Sentence> sentences) {
        Map<Revocable.Kind, List<Long>> numbers = new EnumMap<>(Revocable.Kind.class);
        numbers.put(
                Revocable.Kind.VERDICT,
                handedDown.stream().map(one -> one.number().value()).toList());
        List<Long> replaced = sentences.stream()
                .flatMap(sentence -> sentence.replaced().stream())
                .map(verdict -> verdict.number().value())
                .toList();
        if (!replaced.isEmpty()) {
            numbers.put(Revocable.Kind.REPLACED_VERDICT, replaced);
        }
        return Undo.of(numbers);
    }

    private void takeBack(Verdict replaced, Snapshot snapshot, Principal who) {
        long number = replaced.number().value();
        Instant at = replaced.revokedAt().orElseThrow();
        Revocable.Revoked revoked = revocable.revoke(snapshot, number, at);
        if (!revocable.keep(number, at)) {
            throw new ProblemException(HttpStatus.CONFLICT, "replaces", "verdict " + number + " was taken back before");
        }
        store.record(
                AuditEntry.Kind.TAKEN_BACK,
                revoked.subject(),
                who,
                revoked.sentence().replaceFirst("\\.$", "") + ", to put another in its place.",
                Revocable.Kind.VERDICT.about(number));
    }

    /**
     * A sentence that is about to be handed down.
     *
     * @param wordedOn version of the case for which it was computed what it would do
     * @param stood how the case stood then
     * @param replaced the verdicts that it takes the place of, taken back
     */
    private record Sentence(
            UpdateId update,
            List<Worded> worded,
            String wordedOn,
            Map<PopulationId, CaseThen> stood,
            List<Verdict> replaced) {}

    private Sentence sentence(VerdictDraft draft, int of, Snapshot snapshot, Verdict.Origin origin) {
        List<Worded> worded;
        try {
            worded = Wording.of(snapshot, draft, origin, rules.now());
        } catch (ProblemException e) {
            throw of == 1 ? e : e.of(draft.update());
        }
        return new Sentence(
                draft.update(),
                worded,
                CaseVersions.of(snapshot, snapshot.update(draft.update())),
                cases.of(
                        draft.update(),
                        worded.stream().map(one -> one.population().id()).toList()),
                Wording.replaced(snapshot, draft, origin.createdAt()));
    }

    private record Kept(Verdict verdict, HandedDown told) {}

    /** @param decisions those before it; numbers go on from them */
    private List<Kept> keep(Sentence sentence, Decisions decisions, Principal who) {
        long number = decisions.nextVerdict().value();
        PilotNumber pilotNumber = decisions.nextPilot();
        Map<Integer, Pilot> started = new HashMap<>();
        List<Kept> kept = new ArrayList<>();
        for (Worded one : sentence.worded()) {
            if (one.drawn().isPresent() && !started.containsKey(one.answer())) {
                Pilot pilot = one.drawn().get().pilot().numbered(new PilotNumber(pilotNumber.value() + started.size()));
                pilots.add(pilot);
                started.put(one.answer(), pilot);
            }
            Verdict numbered = one.verdict()
                    .numbered(new DecisionNumber.OfVerdict(number++))
                    .at(one.consequence().moment());
            Verdict verdict = one.drawn().isPresent() ? numbered.with(started.get(one.answer())) : numbered;
            verdicts.add(verdict);
            sheets.keep(
                    verdict.number(), one, sentence.stood().get(one.population().id()));
            store.record(
                    AuditEntry.Kind.VERDICT,
                    sentence.update().value(),
                    who,
                    sentence(one),
                    Revocable.Kind.VERDICT.about(verdict.number().value()));
            kept.add(new Kept(
                    verdict,
                    new HandedDown(
                            verdict.number(),
                            sentence.update(),
                            one.population().id(),
                            one.consequence().decided().getCardinality())));
        }
        return kept;
    }

    /** @param hosts for which it is what holds */
    record HandedDown(DecisionNumber.OfVerdict number, UpdateId update, PopulationId population, int hosts) {}

    /**
     * @param verdicts one for each population, in the order in which they were named
     * @param undo address to which a DELETE takes all of them back
     */
    record Committed(List<HandedDown> verdicts, String undo) {}

    static String sentence(Worded worded) {
        Verdict verdict = worded.verdict();
        boolean letGo = verdict.isLetGo();
        String day = DAY.format(LocalDate.ofInstant(
                verdict.end().minusMillis(1), worded.population().zone()));
        String what =
                switch (verdict.type()) {
                    case BLOCK -> "Blocked";
                    case DEFER -> letGo ? "Let go now" : "Deferred";
                    case PILOT -> "Started a pilot of";
                    case FORCE -> "Forced";
                };
        return verdict.origin()
                        .approver()
                        .map(approver -> "Approved what " + verdict.author() + " proposed: ")
                        .orElse("")
                + what + " " + verdict.updateId() + " revision " + verdict.revision() + " for "
                + worded.population().name()
                + verdict.narrowing().map(where -> " where " + where).orElse("")
                + (letGo ? "" : untilWords(verdict.type()) + day)
                + delivery(worded)
                + ", because " + because(verdict) + ": "
                + hosts(worded.consequence().decided().getCardinality()) + first(worded) + ".";
    }

    private static String delivery(Worded worded) {
        Verdict.Delivery delivery = worded.verdict().delivery();
        long days = delivery.allowance().toDays();
        return (days == 0
                        ? ""
                        : " (hosts that were away " + days + (days == 1 ? " day" : " days") + " after they return)")
                + (delivery.outsideWindows() ? ", also outside windows" : "")
                + delivery.spread()
                        .map(spread -> ", in " + spread.parts().size() + " parts from "
                                + DAY.format(LocalDate.ofInstant(
                                        spread.parts().get(0).at().minusMillis(1),
                                        worded.population().zone()))
                                + " on")
                        .orElse("")
                + (delivery.byOperator().isPresent() ? ", by operator" : "")
                + worded.foreseen()
                        .removal()
                        .map(removal ->
                                ", to be removed from " + hosts(removal.hosts().getCardinality()))
                        .orElse("");
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
}
