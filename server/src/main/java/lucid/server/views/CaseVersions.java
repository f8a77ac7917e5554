package lucid.server.views;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.evidence.Evidence;
import lucid.core.ruling.Decision;
import lucid.core.ruling.Decisions;
import lucid.core.update.Update;
import lucid.server.state.Picture;
import lucid.server.web.Digests;
import lucid.server.web.ETags;

/**
 * The version of a case: another one after every revision, decision and taking back that concerns it, and when something is told of it: a known issue, a failure,
 * a note, that a vulnerability is exploited. It is the same after a restart. Exploit probabilities, which change every day, are left out.
 */
public final class CaseVersions {

    private CaseVersions() {}

    public static String of(Picture picture, Update update) {
        Decisions decisions = picture.decisions();
        Evidence evidence = picture.evidence();
        Stream<Object> parts = Stream.of(
                Stream.of(update.revision(), update.revisions().size()),
                Stream.of(decisions.verdictsOn(update.id()), decisions.answersOn(update.id()), decisions.exceptionsOn(update)).flatMap(List::stream).map(CaseVersions::part),
                evidence.issuesOf(update.id()).stream().map(issue -> issue.id() + " " + issue.state() + " " + issue.changed()),
                evidence.reportsOn(update.id()).stream().map(report -> report.id() + " " + report.at()),
                evidence.notesOn(update.id()).stream().map(note -> note.number() + " " + note.takenBack()),
                evidence.strikesOn(update.id()).stream().map(strike -> strike.number() + " " + strike.takenBack()),
                update.vulnerabilities().stream().map(v -> v.id() + " " + Optional.ofNullable(evidence.exploited().get(v.id())).map(listed -> listed.added()))).flatMap(part -> part);
        return ETags.of(Digests.sha256(parts.toList().toString()).substring(0, 16));
    }

    /** Decisions are never altered but for being taken back. */
    private static String part(Decision decision) {
        return decision.getClass().getSimpleName() + " " + decision.number() + " " + decision.takenBack();
    }
}
