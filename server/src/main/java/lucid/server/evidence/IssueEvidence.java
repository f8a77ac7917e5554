package lucid.server.evidence;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import lucid.core.evidence.KnownIssue;
import lucid.core.fleet.HostConditions;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.server.evidence.EvidenceReadingMapper.IssueRow;
import lucid.server.evidence.EvidenceReadingMapper.IssueUpdateRow;
import lucid.server.snapshot.Snapshot;
import org.springframework.stereotype.Component;

/** Known issues of updates, as vendors and others tell them. */
@Component
class IssueEvidence extends EvidenceKind<Content.OfIssues> {

    private final EvidenceReadingMapper mapper;

    IssueEvidence(EvidenceReadingMapper mapper) {
        super(Content.OfIssues.class);
        this.mapper = mapper;
    }

    @Override
    Snapshot with(Snapshot snapshot, Content.OfIssues said) {
        return snapshot.with(snapshot.evidence().withIssues(said.issues()).withoutIssues(said.withdrawn()));
    }

    @Override
    Map<Long, Content.OfIssues> stored() {
        Map<Long, List<IssueUpdateRow>> updates = byDocument(mapper.issueUpdates(), IssueUpdateRow::document);
        Map<Long, Content.OfIssues> stored = new TreeMap<>();
        byDocument(mapper.issues(), IssueRow::document)
                .forEach((document, rows) ->
                        stored.put(document, issues(rows, updates.getOrDefault(document, List.of()))));
        return stored;
    }

    private static Content.OfIssues issues(List<IssueRow> rows, List<IssueUpdateRow> updates) {
        return new Content.OfIssues(
                rows.stream()
                        .filter(row -> !row.withdrawn())
                        .map(row -> new KnownIssue(
                                row.id(),
                                updates(row, updates, false),
                                updates(row, updates, true),
                                row.words(),
                                row.state(),
                                Optional.ofNullable(row.failureClass()),
                                Optional.ofNullable(row.hosts()).map(HostConditions::parse),
                                row.source(),
                                row.since(),
                                row.changed()))
                        .toList(),
                rows.stream().filter(IssueRow::withdrawn).map(IssueRow::id).toList());
    }

    private static List<UpdateId> updates(IssueRow issue, List<IssueUpdateRow> updates, boolean fixes) {
        return updates.stream()
                .filter(row -> row.issue() == issue.position() && row.fixes() == fixes)
                .map(row -> new UpdateId(row.updateId()))
                .toList();
    }

    @Override
    void store(long document, Content.OfIssues said) {
        mapper.removeIssues(document);
        int position = 0;
        for (KnownIssue issue : said.issues()) {
            mapper.addIssue(new IssueRow(
                    document,
                    position,
                    issue.id(),
                    false,
                    issue.words(),
                    issue.state(),
                    issue.failureClass().orElse(null),
                    issue.hosts().map(Object::toString).orElse(null),
                    issue.source(),
                    issue.since(),
                    issue.changed()));
            int place = 0;
            for (UpdateId update : issue.updates()) {
                mapper.addIssueUpdate(new IssueUpdateRow(document, position, place++, update.value(), false));
            }
            for (UpdateId update : issue.fixedBy()) {
                mapper.addIssueUpdate(new IssueUpdateRow(document, position, place++, update.value(), true));
            }
            position++;
        }
        for (String id : said.withdrawn()) {
            mapper.addIssue(new IssueRow(document, position++, id, true, null, null, null, null, null, null, null));
        }
    }

    @Override
    Set<UpdateId> speaksOf(Content.OfIssues said) {
        Set<UpdateId> updates = new TreeSet<>();
        said.issues().forEach(issue -> updates.addAll(issue.updates()));
        return updates;
    }

    @Override
    Map<String, Record> bySubject(Content.OfIssues said) {
        Map<String, Record> bySubject = new TreeMap<>();
        said.issues().forEach(issue -> bySubject.put(issue.id(), issue));
        return bySubject;
    }
}
