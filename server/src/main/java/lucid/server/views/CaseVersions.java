package lucid.server.views;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.evidence.Evidence;
import lucid.core.ruling.Decision;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.Digests;
import lucid.server.web.ETags;

/**
 * The version of a case: another one after every revision, decision and taking back that concerns it, and when
 * something is told of it: a known issue, a failure, a note, that a vulnerability is exploited. It is the same after a
 * restart. Exploit probabilities, which change every day, are left out.
 */
public final class CaseVersions {

    private CaseVersions() {}

    public static String of(Snapshot snapshot, Update update) {
        Decisions decisions = snapshot.decisions();
        Evidence evidence = snapshot.evidence();
        Stream<Object> parts = Stream.of(
                        Stream.of(update.revision(), update.revisions().size()),
                        Stream.of(
                                        decisions.verdictsOn(update.id()),
                                        decisions.acknowledgementsOn(update.id()),
                                        decisions.exceptionsOn(update))
                                .flatMap(List::stream)
                                .map(CaseVersions::part),
                        evidence.issuesOf(update.id()).stream()
                                .map(issue -> issue.id() + " " + issue.state() + " " + issue.changed()),
                        evidence.reportsOn(update.id()).stream().map(report -> report.id() + " " + report.at()),
                        evidence.notesOn(update.id()).stream().map(note -> note.number() + " " + note.revokedAt()),
                        evidence.dismissedFailuresOn(update.id()).stream()
                                .map(dismissed -> dismissed.number() + " " + dismissed.revokedAt()),
                        update.vulnerabilities().stream()
                                .map(v -> v.id() + " "
                                        + Optional.ofNullable(
                                                        evidence.exploited().get(v.id()))
                                                .map(listed -> listed.added())))
                .flatMap(part -> part);
        return ETags.of(Digests.sha256(parts.toList().toString()).substring(0, 16));
    }

    /**
     * Nobody decides on a case over what changed since they saw it.
     *
     * @param ifMatch header of the request: the version that was seen, of each case that is decided on
     * @throws lucid.server.web.ProblemException 428 if it is missing, 412 if the case is another now
     */
    public static void require(String ifMatch, Snapshot snapshot, Update update) {
        ETags.require(
                ifMatch,
                of(snapshot, update),
                update.id()
                        + " has changed since you saw it: somebody decided on it, or something was told of it; look at it again before you decide");
    }

    /** As {@link #require}, where something is told of several updates and was worded on the case of one of them. */
    public static void requireOne(String ifMatch, Snapshot snapshot, List<Update> updates) {
        Update seen = updates.stream()
                .filter(update -> ETags.names(ifMatch, of(snapshot, update)))
                .findFirst()
                .orElse(updates.get(0));
        require(ifMatch, snapshot, seen);
    }

    /** Decisions are never altered but for being taken back, and for what becomes of a pilot. */
    private static String part(Decision decision) {
        return decision.getClass().getSimpleName() + " " + decision.number() + " " + decision.revokedAt()
                + (decision instanceof Verdict verdict
                        ? verdict.pilot().map(pilot -> " " + pilot.failedAt()).orElse("")
                        : "");
    }
}
