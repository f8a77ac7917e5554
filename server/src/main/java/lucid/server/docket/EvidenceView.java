package lucid.server.docket;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import lucid.core.docket.CaseFacts;
import lucid.core.evidence.CaseNote;
import lucid.core.evidence.DismissedFailure;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostName;
import lucid.core.update.AttackVector;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.weighing.BaselineRates;
import lucid.core.weighing.CellTries;
import lucid.core.weighing.HarmInEvidence;
import lucid.core.weighing.VulnerabilityRisk;
import lucid.core.weighing.Weights;
import lucid.server.docket.WeighingViews.CauseView;
import lucid.server.docket.WeighingViews.RateView;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views.HostList;
import org.roaringbitmap.RoaringBitmap;

/**
 * What an update is weighed by.
 *
 * @param reports of our own people and of others
 * @param notes hosts on which it is told not to matter
 * @param notAffected hosts that lack it and on which no vulnerability of it matters, by notes and statements together
 * @param removable false if it can no longer be removed once it is on a host
 * @param caseNotes what people wrote for whoever looks next, the newest first
 */
record EvidenceView(
        List<VulnerabilityView> vulnerabilities,
        TriesView tries,
        List<CauseView> causes,
        List<IssueView> issues,
        List<ReportView> reports,
        List<NoteView> notes,
        HostList notAffected,
        List<DismissedFailureView> dismissedFailures,
        boolean removable,
        List<CaseNoteView> caseNotes) {

    /**
     * @param closedBy the earlier update that closes it and that this one contains; none: this one
     * @param likelihood probability of exploitation that counts, {@code from} tells what it rests on
     * @param baseGiven false if the base score stands for a missing one
     * @param added day on which it was listed as exploited
     * @param scores exploit probabilities as they were read, the earliest first
     */
    record VulnerabilityView(
            String id,
            Optional<UpdateId> closedBy,
            double likelihood,
            From from,
            AttackVector vector,
            double vectorFactor,
            double base,
            boolean baseGiven,
            double risk,
            Optional<LocalDate> added,
            Optional<Instant> addedRead,
            String exploitedWords,
            String asked,
            Optional<LocalDate> due,
            boolean ransomware,
            List<ScoreView> scores) {
        enum From {
            KNOWN_EXPLOITED,
            PROBABILITY,
            RATING
        }
    }

    record ScoreView(LocalDate scored, double probability, double percentile, String model, Instant read) {}

    /** @param rate of all that tried it */
    record CodeView(String code, FailureClass failureClass, RateView rate, HostList hosts) {}

    /** Tries until the end of a day, all in all. */
    record DayOfTries(LocalDate day, int tried, int failed) {}

    /**
     * @param waiting hosts that installed it and have not reported since: neither clean nor failed
     * @param dismissed hosts whose failure an analyst dismissed
     * @param usualRate how often sound updates of its kind fail, learned from {@code usualTries} with
     *     {@code usualFailures}
     * @param aboveUsual how sure it is that it fails more than twice as often
     * @param days one for each day with tries, the earliest first
     */
    record TriesView(
            RateView failed,
            HostList waiting,
            HostList dismissed,
            List<CodeView> codes,
            double usualRate,
            int usualTries,
            int usualFailures,
            double aboveUsual,
            List<DayOfTries> days) {}

    /**
     * @param touches hosts that lack the update and that it names; none: nobody can tell which; @param inherited true
     *     if it is an issue of a blocked update that this one supersedes
     */
    record IssueView(
            String id,
            String words,
            KnownIssue.State state,
            Optional<FailureClass> failureClass,
            Optional<String> where,
            String source,
            Instant since,
            Instant changed,
            List<UpdateId> updates,
            List<UpdateId> fixedBy,
            Optional<HostList> touches,
            boolean inherited) {}

    record ReportView(
            String id,
            Optional<String> code,
            FailureClass failureClass,
            String words,
            List<HostName> hosts,
            List<HostName> unknownHosts,
            int others,
            Optional<String> where,
            String source,
            Instant at) {}

    record NoteView(
            long number,
            String where,
            String reason,
            String author,
            Instant createdAt,
            Optional<Instant> revokedAt,
            int hosts) {}

    /** @param code of the failure, and @param failedAt its instant; none where all failures until then are meant */
    record DismissedFailureView(
            long number,
            HostName host,
            Optional<String> code,
            Optional<Instant> failedAt,
            String reason,
            String author,
            Instant createdAt,
            Optional<Instant> revokedAt) {}

    /**
     * @param objectsTo the force that it objects to, and the exception which that goes over
     * @param revokedAt when its author, or somebody else, took it back
     */
    record CaseNoteView(
            long number,
            String words,
            Optional<String> assignee,
            Optional<LocalDate> lookAgain,
            Optional<CaseNote.Objection> objectsTo,
            String author,
            Instant createdAt,
            Optional<Instant> revokedAt) {}

    static EvidenceView of(Update update, CaseFacts facts, BaselineRates.Baseline usual, Snapshot snapshot) {
        Fleet fleet = snapshot.fleet();
        Evidence evidence = snapshot.evidence();
        RoaringBitmap lacking = facts.carriage().lacking();
        return new EvidenceView(
                facts.input().update().vulnerabilities().stream()
                        .map(vulnerability -> vulnerability(vulnerability, evidence, snapshot.weights()))
                        .toList(),
                tries(facts.tried(), usual, fleet),
                facts.causes().stream()
                        .map(cause -> CauseView.of(
                                cause, facts.input().lackingIn(cause).getCardinality()))
                        .toList(),
                facts.issues().stream()
                        .map(issue -> issue(issue, update, lacking, fleet))
                        .toList(),
                evidence.reportsOn(update.id()).stream()
                        .map(report -> report(report, fleet))
                        .toList(),
                evidence.notesOn(update.id()).stream()
                        .map(note -> note(note, lacking, fleet))
                        .toList(),
                HostList.of(fleet, facts.input().notAffected()),
                evidence.dismissedFailuresOn(update.id()).stream()
                        .map(s -> new DismissedFailureView(
                                s.number(),
                                s.host(),
                                s.failure().map(DismissedFailure.Failure::code),
                                s.failure().map(DismissedFailure.Failure::at),
                                s.reason(),
                                s.author(),
                                s.createdAt(),
                                s.revokedAt()))
                        .toList(),
                facts.input().update().removable(),
                evidence.caseNotesOn(update.id()).stream()
                        .map(note -> new CaseNoteView(
                                note.number(),
                                note.words(),
                                note.followUp().assignee(),
                                note.followUp().day(),
                                note.objection(),
                                note.author(),
                                note.createdAt(),
                                note.revokedAt()))
                        .toList());
    }

    private static VulnerabilityView vulnerability(
            VulnerabilityRisk vulnerability, Evidence evidence, Weights weights) {
        VulnerabilityView.From from = vulnerability.knownExploited()
                ? VulnerabilityView.From.KNOWN_EXPLOITED
                : vulnerability.probability().isPresent()
                        ? VulnerabilityView.From.PROBABILITY
                        : VulnerabilityView.From.RATING;
        Optional<KnownExploited> listed =
                Optional.ofNullable(evidence.exploited().get(vulnerability.id()));
        List<ScoreView> scores =
                new ArrayList<>(evidence.scoreHistory().getOrDefault(vulnerability.id(), List.of()).stream()
                        .map(s -> new ScoreView(s.scored(), s.probability(), s.percentile(), s.model(), s.read()))
                        .toList());
        if (scores.isEmpty()) {
            evidence.score(vulnerability.id())
                    .ifPresent(s -> scores.add(
                            new ScoreView(s.scored(), s.probability(), s.percentile(), s.model(), s.read())));
        }
        return new VulnerabilityView(
                vulnerability.id(),
                vulnerability.closedBy(),
                vulnerability.likelihood(weights),
                from,
                vulnerability.vector(),
                weights.vectors().get(vulnerability.vector()),
                vulnerability.countedBase(weights),
                vulnerability.base().isPresent(),
                vulnerability.risk(weights),
                listed.map(KnownExploited::added),
                listed.map(KnownExploited::read),
                listed.map(KnownExploited::words).orElse(""),
                listed.map(KnownExploited::asked).orElse(""),
                listed.flatMap(KnownExploited::due),
                listed.filter(KnownExploited::ransomware).isPresent(),
                scores);
    }

    private static TriesView tries(TriedHosts tried, BaselineRates.Baseline usual, Fleet fleet) {
        Map<String, RoaringBitmap> byCode = new TreeMap<>();
        Map<String, FailureClass> worst = new TreeMap<>();
        Map<LocalDate, int[]> byDay = new TreeMap<>();
        int[] soFar = new int[2];
        for (TriedHosts.Try one : tried.tries()) {
            one.failure().ifPresent(failure -> {
                byCode.computeIfAbsent(failure.code(), code -> new RoaringBitmap())
                        .add(one.host());
                worst.merge(failure.code(), failure.failureClass(), (a, b) -> a.compareTo(b) >= 0 ? a : b);
            });
            soFar[0]++;
            soFar[1] += one.failed() ? 1 : 0;
            byDay.put(LocalDate.ofInstant(one.at(), ZoneOffset.UTC), soFar.clone());
        }
        List<CodeView> codes = byCode.entrySet().stream()
                .map(entry -> new CodeView(
                        entry.getKey(),
                        worst.get(entry.getKey()),
                        RateView.of(entry.getValue().getCardinality(), tried.tried()),
                        HostList.of(fleet, entry.getValue())))
                .sorted(Comparator.comparingInt((CodeView code) -> code.rate().count())
                        .reversed())
                .toList();
        double aboveUsual = tried.failed() == 0
                ? 0
                : HarmInEvidence.aboveUsual(
                        CellTries.of(tried.tried(), Map.of(FailureClass.DEGRADED, tried.failed())), usual.rate());
        return new TriesView(
                RateView.of(tried.failed(), tried.tried()),
                HostList.of(fleet, set(tried.waiting())),
                HostList.of(fleet, set(tried.dismissed())),
                codes,
                usual.rate(),
                usual.tries(),
                usual.failures(),
                aboveUsual,
                byDay.entrySet().stream()
                        .map(e -> new DayOfTries(e.getKey(), e.getValue()[0], e.getValue()[1]))
                        .toList());
    }

    private static RoaringBitmap set(List<Integer> numbers) {
        RoaringBitmap set = new RoaringBitmap();
        numbers.forEach(set::add);
        return set;
    }

    private static IssueView issue(KnownIssue issue, Update update, RoaringBitmap lacking, Fleet fleet) {
        return new IssueView(
                issue.id(),
                issue.words(),
                issue.state(),
                issue.failureClass(),
                issue.hosts().map(Object::toString),
                issue.source(),
                issue.since(),
                issue.changed(),
                issue.updates(),
                issue.fixedBy(),
                issue.hosts().map(where -> HostList.of(fleet, fleet.matching(where, lacking))),
                !issue.updates().contains(update.id()));
    }

    private static ReportView report(FailureReport report, Fleet fleet) {
        return new ReportView(
                report.id(),
                report.code(),
                report.failureClass(),
                report.words(),
                report.hosts().stream()
                        .filter(name -> fleet.host(name).isPresent())
                        .toList(),
                report.hosts().stream()
                        .filter(name -> fleet.host(name).isEmpty())
                        .toList(),
                report.others(),
                report.where().map(Object::toString),
                report.source(),
                report.at());
    }

    private static NoteView note(NotAffectedNote note, RoaringBitmap lacking, Fleet fleet) {
        return new NoteView(
                note.number(),
                note.hosts().toString(),
                note.reason(),
                note.author(),
                note.createdAt(),
                note.revokedAt(),
                fleet.matching(note.hosts(), lacking).getCardinality());
    }
}
