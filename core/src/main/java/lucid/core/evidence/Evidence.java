package lucid.core.evidence;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import lucid.core.update.UpdateId;

/**
 * Everything that speaks for or against updates beside what their own advisories say. Never changes; each {@code with}
 * makes the next one.
 *
 * @param scores the newest of all vulnerabilities
 * @param scoreHistory by CVE, of vulnerabilities that some update closes: each score that differs from the one before,
 *     the earliest first
 * @param exploited by CVE
 * @param statements by vulnerability
 * @param issues by their id
 * @param reports by their id
 */
public record Evidence(
        ExploitScores scores,
        Map<String, List<ExploitScore>> scoreHistory,
        Map<String, KnownExploited> exploited,
        Map<String, List<VexStatement>> statements,
        Map<String, KnownIssue> issues,
        Map<String, FailureReport> reports,
        Judgements judgements) {

    public static final Evidence NONE =
            new Evidence(ExploitScores.NONE, Map.of(), Map.of(), Map.of(), Map.of(), Map.of(), Judgements.NONE);

    /** What people judged of evidence, and wrote to each other of it; also what was taken back. */
    public record Judgements(
            List<NotAffectedNote> notes, List<DismissedFailure> dismissedFailures, List<CaseNote> caseNotes) {

        static final Judgements NONE = new Judgements(List.of(), List.of(), List.of());

        public Judgements {
            notes = List.copyOf(notes);
            dismissedFailures = List.copyOf(dismissedFailures);
            caseNotes = List.copyOf(caseNotes);
        }
    }

    public List<NotAffectedNote> notes() {
        return judgements.notes();
    }

    public List<DismissedFailure> dismissedFailures() {
        return judgements.dismissedFailures();
    }

    public List<CaseNote> caseNotes() {
        return judgements.caseNotes();
    }

    public Optional<CaseNote> caseNote(long number) {
        return caseNotes().stream().filter(note -> note.number() == number).findFirst();
    }

    /** The number of the next note on a case. */
    public long nextCaseNote() {
        return caseNotes().stream().mapToLong(CaseNote::number).max().orElse(0) + 1;
    }

    /** The newest score of a vulnerability. */
    public Optional<ExploitScore> score(String cve) {
        List<ExploitScore> history = scoreHistory.getOrDefault(cve, List.of());
        return history.isEmpty() ? scores.of(cve) : Optional.of(history.get(history.size() - 1));
    }

    /**
     * With the scores of a day, and what they change for the vulnerabilities of known updates.
     *
     * @param cves vulnerabilities that some update closes
     */
    public Evidence with(ExploitScores newest, Collection<String> cves) {
        Map<String, List<ExploitScore>> history = new HashMap<>(scoreHistory);
        for (String cve : cves) {
            Optional<ExploitScore> score = newest.of(cve);
            List<ExploitScore> before = history.getOrDefault(cve, List.of());
            if (score.isPresent()
                    && (before.isEmpty()
                            || before.get(before.size() - 1).probability()
                                    != score.get().probability())) {
                history.put(cve, appended(before, score.get()));
            }
        }
        return new Evidence(newest, history, exploited, statements, issues, reports, judgements);
    }

    /** With scores of the past. */
    public Evidence withHistory(Collection<ExploitScore> past) {
        Map<String, List<ExploitScore>> history = new HashMap<>(scoreHistory);
        past.stream()
                .sorted(Comparator.comparing(ExploitScore::read))
                .forEach(score ->
                        history.put(score.cve(), appended(history.getOrDefault(score.cve(), List.of()), score)));
        return new Evidence(scores, history, exploited, statements, issues, reports, judgements);
    }

    /**
     * With what a catalogue of exploited vulnerabilities lists: the whole of it, so that what it does not list any more
     * is gone.
     */
    public Evidence withExploited(Collection<KnownExploited> listed) {
        Map<String, KnownExploited> next = new HashMap<>();
        listed.forEach(one -> next.put(
                one.cve(),
                exploited.containsKey(one.cve())
                        ? one.firstRead(exploited.get(one.cve()).read())
                        : one));
        return new Evidence(scores, scoreHistory, next, statements, issues, reports, judgements);
    }

    /** With the instants at which listed vulnerabilities were first read, where they are known. */
    public Evidence readSince(Map<String, Instant> read) {
        Map<String, KnownExploited> next = new HashMap<>();
        exploited.forEach((cve, one) -> next.put(cve, one.firstRead(read.getOrDefault(cve, one.read()))));
        return new Evidence(scores, scoreHistory, next, statements, issues, reports, judgements);
    }

    /** Of several words on the same vulnerability and product the one that was written last counts. */
    public Evidence withStatements(Collection<VexStatement> told) {
        Map<String, List<VexStatement>> next = new HashMap<>(statements);
        for (VexStatement statement : told) {
            List<VexStatement> others = new ArrayList<>(next.getOrDefault(statement.vulnerability(), List.of()));
            if (others.stream().noneMatch(o -> o.isOfTheSame(statement) && o.at().isAfter(statement.at()))) {
                others.removeIf(o -> o.isOfTheSame(statement));
                others.add(statement);
                next.put(statement.vulnerability(), List.copyOf(others));
            }
        }
        return new Evidence(scores, scoreHistory, exploited, next, issues, reports, judgements);
    }

    public Evidence withIssues(Collection<KnownIssue> told) {
        Map<String, KnownIssue> next = new HashMap<>(issues);
        told.forEach(issue -> next.merge(issue.id(), issue, (before, now) -> now.after(before)));
        return new Evidence(scores, scoreHistory, exploited, statements, next, reports, judgements);
    }

    public Evidence withReports(Collection<FailureReport> told) {
        Map<String, FailureReport> next = new HashMap<>(reports);
        told.forEach(report -> next.put(report.id(), report));
        return new Evidence(scores, scoreHistory, exploited, statements, issues, next, judgements);
    }

    /** Without issues that were taken back. */
    public Evidence withoutIssues(Collection<String> ids) {
        return new Evidence(scores, scoreHistory, exploited, statements, without(issues, ids), reports, judgements);
    }

    /** Without reports that were taken back. */
    public Evidence withoutReports(Collection<String> ids) {
        return new Evidence(scores, scoreHistory, exploited, statements, issues, without(reports, ids), judgements);
    }

    private static <T> Map<String, T> without(Map<String, T> all, Collection<String> ids) {
        Map<String, T> next = new HashMap<>(all);
        next.keySet().removeAll(ids);
        return next;
    }

    /** What documents tell, with these judgements of people on it. */
    public Evidence judged(Judgements judged) {
        return new Evidence(scores, scoreHistory, exploited, statements, issues, reports, judged);
    }

    public Evidence with(NotAffectedNote note) {
        return judged(
                new Judgements(replaced(notes(), note, NotAffectedNote::number), dismissedFailures(), caseNotes()));
    }

    public Evidence with(DismissedFailure dismissed) {
        return judged(new Judgements(
                notes(), replaced(dismissedFailures(), dismissed, DismissedFailure::number), caseNotes()));
    }

    public Evidence with(CaseNote note) {
        return judged(new Judgements(notes(), dismissedFailures(), replaced(caseNotes(), note, CaseNote::number)));
    }

    private static <T> List<T> replaced(List<T> all, T one, Function<T, Long> number) {
        List<T> next = new ArrayList<>(all);
        next.removeIf(other -> number.apply(other).equals(number.apply(one)));
        next.add(one);
        next.sort(Comparator.comparing(number));
        return List.copyOf(next);
    }

    private static <T> List<T> appended(List<T> list, T one) {
        List<T> next = new ArrayList<>(list);
        next.add(one);
        return List.copyOf(next);
    }

    /** Issues that an update is told to have, whatever their state; the latest change first. */
    public List<KnownIssue> issuesOf(UpdateId updateId) {
        return issues.values().stream()
                .filter(issue -> issue.updates().contains(updateId))
                .sorted(Comparator.comparing(KnownIssue::changed).reversed().thenComparing(KnownIssue::id))
                .toList();
    }

    /** Failure reports on an update, the newest first. */
    public List<FailureReport> reportsOn(UpdateId updateId) {
        return reports.values().stream()
                .filter(report -> report.updateId().equals(updateId))
                .sorted(Comparator.comparing(FailureReport::at).reversed().thenComparing(FailureReport::id))
                .toList();
    }

    public List<NotAffectedNote> notesOn(UpdateId updateId) {
        return notes().stream().filter(note -> note.updateId().equals(updateId)).toList();
    }

    /** What people wrote to each other on the case of an update, the newest first; also what was taken back. */
    public List<CaseNote> caseNotesOn(UpdateId updateId) {
        return caseNotes().stream()
                .filter(note -> note.updateId().equals(updateId))
                .sorted(Comparator.comparing(CaseNote::number).reversed())
                .toList();
    }

    public List<DismissedFailure> dismissedFailuresOn(UpdateId updateId) {
        return dismissedFailures().stream()
                .filter(dismissed -> dismissed.updateId().equals(updateId))
                .toList();
    }

    /** True if this says something else of a vulnerability than {@code earlier} does. */
    public boolean differs(String vulnerability, Evidence earlier) {
        return !score(vulnerability)
                        .map(ExploitScore::probability)
                        .equals(earlier.score(vulnerability).map(ExploitScore::probability))
                || !Objects.equals(scoreHistory.get(vulnerability), earlier.scoreHistory.get(vulnerability))
                || !Objects.equals(exploited.get(vulnerability), earlier.exploited.get(vulnerability))
                || !Objects.equals(statements.get(vulnerability), earlier.statements.get(vulnerability));
    }

    /** Updates of which this says something else than {@code earlier} does, apart from their vulnerabilities. */
    public Set<UpdateId> updatesChangedSince(Evidence earlier) {
        Set<UpdateId> changed = new HashSet<>();
        for (String id : differing(issues, earlier.issues)) {
            Optional.ofNullable(issues.get(id)).ifPresent(issue -> changed.addAll(issue.updates()));
            Optional.ofNullable(earlier.issues.get(id)).ifPresent(issue -> changed.addAll(issue.updates()));
        }
        for (String id : differing(reports, earlier.reports)) {
            Optional.ofNullable(reports.get(id)).ifPresent(report -> changed.add(report.updateId()));
            Optional.ofNullable(earlier.reports.get(id)).ifPresent(report -> changed.add(report.updateId()));
        }
        if (judgements != earlier.judgements) {
            added(notes(), earlier.notes()).forEach(note -> changed.add(note.updateId()));
            added(dismissedFailures(), earlier.dismissedFailures())
                    .forEach(dismissed -> changed.add(dismissed.updateId()));
            added(caseNotes(), earlier.caseNotes()).forEach(note -> changed.add(note.updateId()));
        }
        return changed;
    }

    private static <T> Stream<T> added(List<T> now, List<T> earlier) {
        return now.stream().filter(one -> !earlier.contains(one));
    }

    private static <T> Set<String> differing(Map<String, T> now, Map<String, T> earlier) {
        Set<String> keys = new HashSet<>();
        if (now != earlier) {
            now.forEach((key, value) -> {
                if (!value.equals(earlier.get(key))) {
                    keys.add(key);
                }
            });
            earlier.keySet().stream().filter(key -> !now.containsKey(key)).forEach(keys::add);
        }
        return keys;
    }
}
