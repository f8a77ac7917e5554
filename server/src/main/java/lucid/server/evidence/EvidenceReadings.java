package lucid.server.evidence;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.KnownExploited;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.intake.Arrival;
import lucid.server.intake.ContentTaker;
import lucid.server.intake.IntakeOutcome;
import lucid.server.intake.KeptDocuments;
import lucid.server.intake.ReadingDifference;
import lucid.server.intake.ReadingTaker;
import lucid.server.snapshot.Snapshot;
import org.springframework.stereotype.Component;

/**
 * Documents that speak for or against updates. What was read of them is stored; only a day's exploit probabilities of
 * all vulnerabilities, some 300,000, stay in their document, of which the newest is read at start.
 */
@Component
class EvidenceReadings implements ReadingTaker {

    private final StoredEvidence stored;
    private final EvidenceMapper mapper;
    private final KeptDocuments documents;

    EvidenceReadings(StoredEvidence stored, EvidenceMapper mapper, KeptDocuments documents) {
        this.stored = stored;
        this.mapper = mapper;
        this.documents = documents;
    }

    @Override
    public boolean takes(Content content) {
        return content instanceof Content.OfScores
                || content instanceof Content.OfExploited
                || content instanceof Content.OfStatements
                || content instanceof Content.OfIssues
                || content instanceof Content.OfReports;
    }

    @Override
    public Taken take(Snapshot snapshot, ReadDocument document, Arrival arrival) {
        Content content = document.content();
        Evidence before = snapshot.evidence();
        if (isOlder(before, content)) {
            return Taken.nothing(snapshot, IntakeOutcome.STALE, document.problems());
        }
        List<Problem> problems = ContentTaker.join(
                document.problems(),
                remarks(snapshot, content, arrival.refusedBefore().isPresent()));
        Snapshot next = with(snapshot, content);
        if (next.evidence().equals(before) || documents.isNewest(document.format(), arrival)) {
            return Taken.nothing(snapshot, IntakeOutcome.DUPLICATE, problems);
        }
        storeScores(before, next.evidence());
        return new Taken(next, IntakeOutcome.ACCEPTED, problems, Optional.empty(), true, number -> {
            store(number, content);
            if (onlyNewestCounts(content)) {
                documents.forgetBefore(document.format(), number);
            }
        });
    }

    /** Scores of an earlier day than those that are known. */
    private static boolean isOlder(Evidence known, Content content) {
        return content instanceof Content.OfScores scores
                && scores.scores().scored().isBefore(known.scores().scored());
    }

    /** True for what a newer document of its format replaces as a whole. */
    private static boolean onlyNewestCounts(Content content) {
        return content instanceof Content.OfScores || content instanceof Content.OfExploited;
    }

    /** Scores of the vulnerabilities of known updates, where they changed. */
    private void storeScores(Evidence before, Evidence after) {
        after.scoreHistory().forEach((cve, history) -> {
            int known = before.scoreHistory().getOrDefault(cve, List.of()).size();
            history.subList(known, history.size()).forEach(mapper::addScore);
        });
    }

    /**
     * What in a document does not count yet: it speaks of updates or hosts that nobody has told of.
     *
     * @throws RefusedDocumentException if it would take the place of one that lists more than twice as much, and nobody
     *     says that it is whole
     */
    private static List<Problem> remarks(Snapshot snapshot, Content content, boolean saidToBeWhole) {
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

    private static Snapshot with(Snapshot snapshot, Content content) {
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

    @Override
    public UnaryOperator<Snapshot> load() {
        List<ExploitScore> scores =
                mapper.scores().stream().map(EvidenceMapper.ScoreRow::score).toList();
        Optional<Content> newest = documents.newest(Format.EXPLOIT_SCORES);
        Snapshot told = Snapshot.EMPTY.with(Evidence.NONE.withHistory(scores).withExploited(stored.exploited()));
        for (Content content : stored.all().values()) {
            told = with(told, content);
        }
        if (newest.isPresent()) {
            told = with(told, newest.get());
        }
        Evidence evidence = told.evidence();
        return snapshot -> snapshot.with(evidence.judged(snapshot.evidence().judgements()));
    }

    @Override
    public void store(long document, Content content) {
        stored.store(document, content);
    }

    @Override
    public List<ReadingDifference> differences(long document, Content content) {
        Map<String, Record> before = StoredEvidence.bySubject(
                content instanceof Content.OfExploited
                        ? new Content.OfExploited(stored.exploited())
                        : Optional.ofNullable(stored.all().get(document)).orElse(new Content.OfStatements(List.of())));
        Map<String, Record> now = StoredEvidence.bySubject(content);
        Set<String> subjects = new TreeSet<>(before.keySet());
        subjects.addAll(now.keySet());
        return subjects.stream()
                .flatMap(subject -> ReadingDifference.between(
                        subject,
                        Optional.ofNullable(before.get(subject)),
                        Optional.ofNullable(asFirstRead(now.get(subject), before.get(subject))))
                        .stream())
                .toList();
    }

    /** When a vulnerability was first listed is not read from the newest catalogue. */
    private static Record asFirstRead(Record now, Record before) {
        return now instanceof KnownExploited listed && before instanceof KnownExploited known
                ? listed.firstRead(known.read())
                : now;
    }
}
