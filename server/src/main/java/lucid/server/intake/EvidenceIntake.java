package lucid.server.intake;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.KnownExploited;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import lucid.formats.Content;
import lucid.formats.Problem;
import lucid.formats.RefusedDocumentException;
import lucid.server.evidence.EvidenceMapper;
import lucid.server.snapshot.Snapshot;
import org.springframework.stereotype.Component;

/**
 * Takes what speaks for or against updates. The documents themselves are kept and played again at start; only what they
 * do not tell is stored beside them.
 */
@Component
public class EvidenceIntake {

    private final EvidenceMapper mapper;

    EvidenceIntake(EvidenceMapper mapper) {
        this.mapper = mapper;
    }

    static boolean takes(Content content) {
        return content instanceof Content.OfScores
                || content instanceof Content.OfExploited
                || content instanceof Content.OfStatements
                || content instanceof Content.OfIssues
                || content instanceof Content.OfReports;
    }

    /**
     * What in a document does not count yet: it speaks of updates or hosts that nobody has told of.
     *
     * @throws RefusedDocumentException if it would take the place of one that lists more than twice as much, and nobody
     *     says that it is whole
     */
    List<Problem> remarks(Snapshot snapshot, Content content, boolean saidToBeWhole) {
        Evidence known = snapshot.evidence();
        if (content instanceof Content.OfScores scores) {
            requireWhole(scores.scores().size(), known.scores().size(), saidToBeWhole);
        } else if (content instanceof Content.OfExploited exploited) {
            requireWhole(exploited.listed().size(), known.exploited().size(), saidToBeWhole);
        }
        Set<UpdateId> updates = new TreeSet<>();
        Set<HostName> hosts = new TreeSet<>();
        if (content instanceof Content.OfIssues issues) {
            issues.issues().forEach(issue -> updates.addAll(issue.updates()));
        } else if (content instanceof Content.OfReports reports) {
            reports.reports().forEach(report -> {
                updates.add(report.updateId());
                hosts.addAll(report.hosts());
            });
        }
        List<Problem> remarks = new ArrayList<>();
        updates.stream()
                .filter(id -> snapshot.catalogue().update(id).isEmpty())
                .forEach(id -> remarks.add(new Problem(
                        id.value(), "no update of this name is known; what is said of it counts once it is")));
        hosts.stream()
                .filter(name -> snapshot.fleet().host(name).isEmpty())
                .forEach(name ->
                        remarks.add(new Problem(name.value(), "no host of this name is known; it counts once it is")));
        return remarks;
    }

    private static void requireWhole(int lists, int before, boolean saidToBeWhole) {
        if (2L * lists < before && !saidToBeWhole) {
            throw new RefusedDocumentException(
                    "",
                    "it lists " + lists + ", the one before " + before
                            + ": it may have been cut off. The one before still counts. Try it again to take it all the same");
        }
    }

    /** True for what a newer document of its format replaces as a whole. */
    static boolean onlyNewestCounts(Content content) {
        return content instanceof Content.OfScores || content instanceof Content.OfExploited;
    }

    /** Scores of an earlier day than those that are known. */
    boolean isOlder(Evidence known, Content content) {
        return content instanceof Content.OfScores scores
                && scores.scores().scored().isBefore(known.scores().scored());
    }

    public Snapshot with(Snapshot snapshot, Content content) {
        Evidence evidence = snapshot.evidence();
        if (content instanceof Content.OfScores scores) {
            return snapshot.with(scores.scores());
        }
        if (content instanceof Content.OfExploited exploited) {
            return snapshot.with(evidence.withExploited(exploited.listed()));
        }
        if (content instanceof Content.OfStatements statements) {
            return snapshot.with(evidence.withStatements(statements.statements()));
        }
        if (content instanceof Content.OfIssues issues) {
            return snapshot.with(evidence.withIssues(issues.issues()).withoutIssues(issues.withdrawn()));
        }
        Content.OfReports reports = (Content.OfReports) content;
        return snapshot.with(evidence.withReports(reports.reports())
                .withoutReports(reports.withdrawn().keySet()));
    }

    /**
     * Scores that changed, and vulnerabilities that are newly listed; within
     * {@link lucid.server.snapshot.SnapshotStore#write}.
     */
    void store(Evidence before, Evidence after) {
        after.scoreHistory().forEach((cve, history) -> {
            int known = before.scoreHistory().getOrDefault(cve, List.of()).size();
            history.subList(known, history.size()).forEach(mapper::addScore);
        });
        for (KnownExploited listed : after.exploited().values()) {
            if (!before.exploited().containsKey(listed.cve())) {
                mapper.addExploited(listed.cve(), listed.read());
            }
        }
    }

    /**
     * What was known before the documents are played: each score as it was read, and since when vulnerabilities are
     * listed.
     */
    public Evidence stored() {
        List<ExploitScore> scores =
                mapper.scores().stream().map(EvidenceMapper.ScoreRow::score).toList();
        return new Evidence(
                        Evidence.NONE.scores(),
                        Map.of(),
                        Map.of(),
                        Map.of(),
                        Map.of(),
                        Map.of(),
                        mapper.notes().stream()
                                .map(EvidenceMapper.NoteRow::note)
                                .toList(),
                        mapper.dismissedFailures().stream()
                                .map(EvidenceMapper.DismissedFailureRow::dismissedFailure)
                                .toList())
                .withHistory(scores);
    }

    /** The catalogue of exploited vulnerabilities, each as of when it was first read. */
    public Evidence since(Evidence evidence) {
        Map<String, Instant> read = new HashMap<>();
        mapper.exploited().forEach(row -> read.put(row.cve(), row.read()));
        return evidence.readSince(read);
    }
}
