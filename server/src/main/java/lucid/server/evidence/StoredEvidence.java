package lucid.server.evidence;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.VexStatement;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.HostName;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.server.evidence.EvidenceReadingMapper.ExploitedRow;
import lucid.server.evidence.EvidenceReadingMapper.IssueRow;
import lucid.server.evidence.EvidenceReadingMapper.IssueUpdateRow;
import lucid.server.evidence.EvidenceReadingMapper.ReportHostRow;
import lucid.server.evidence.EvidenceReadingMapper.ReportRow;
import lucid.server.evidence.EvidenceReadingMapper.StatementRow;
import org.springframework.stereotype.Component;

/** What was read of documents of evidence, as rows: written once, and read again as it was. */
@Component
class StoredEvidence {

    private final EvidenceReadingMapper mapper;

    StoredEvidence(EvidenceReadingMapper mapper) {
        this.mapper = mapper;
    }

    /** What each document says, in the order in which they were read; the catalogue of exploited ones is not here. */
    Map<Long, Content> all() {
        Map<Long, Content> byDocument = new TreeMap<>();
        byDocument(mapper.statements(), StatementRow::document)
                .forEach((document, rows) -> byDocument.put(
                        document,
                        new Content.OfStatements(
                                rows.stream().map(StoredEvidence::statement).toList())));
        Map<Long, List<IssueUpdateRow>> updates = byDocument(mapper.issueUpdates(), IssueUpdateRow::document);
        byDocument(mapper.issues(), IssueRow::document)
                .forEach((document, rows) ->
                        byDocument.put(document, issues(rows, updates.getOrDefault(document, List.of()))));
        Map<Long, List<ReportHostRow>> hosts = byDocument(mapper.reportHosts(), ReportHostRow::document);
        byDocument(mapper.reports(), ReportRow::document)
                .forEach((document, rows) ->
                        byDocument.put(document, reports(rows, hosts.getOrDefault(document, List.of()))));
        return byDocument;
    }

    private static <R> Map<Long, List<R>> byDocument(List<R> rows, Function<R, Long> document) {
        return rows.stream().collect(Collectors.groupingBy(document));
    }

    private static VexStatement statement(StatementRow row) {
        return new VexStatement(
                row.vulnerability(),
                new ProductBuild(new Product(row.product()), row.distro(), row.arch()),
                Optional.ofNullable(row.version()),
                row.status(),
                row.justification(),
                row.source(),
                row.at());
    }

    private static Content issues(List<IssueRow> rows, List<IssueUpdateRow> updates) {
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

    private static Content reports(List<ReportRow> rows, List<ReportHostRow> hosts) {
        Map<String, UpdateId> withdrawn = new HashMap<>();
        rows.stream()
                .filter(ReportRow::withdrawn)
                .forEach(row -> withdrawn.put(row.id(), new UpdateId(row.updateId())));
        return new Content.OfReports(
                rows.stream()
                        .filter(row -> !row.withdrawn())
                        .map(row -> new FailureReport(
                                row.id(),
                                new UpdateId(row.updateId()),
                                Optional.ofNullable(row.code()),
                                row.failureClass(),
                                row.words(),
                                hosts.stream()
                                        .filter(host -> host.report() == row.position())
                                        .map(host -> new HostName(host.host()))
                                        .toList(),
                                row.others(),
                                Optional.ofNullable(row.traits()).map(HostConditions::parse),
                                row.source(),
                                row.at()))
                        .toList(),
                withdrawn);
    }

    /** What the newest catalogue of exploited vulnerabilities names, each as of when it was first read. */
    List<KnownExploited> exploited() {
        return mapper.exploited().stream()
                .filter(row -> row.listed() && row.added() != null)
                .map(row -> new KnownExploited(
                        row.cve(),
                        row.added(),
                        row.words(),
                        row.asked(),
                        Optional.ofNullable(row.due()),
                        row.ransomware(),
                        row.read()))
                .toList();
    }

    /** Stores what a document says, in the place of what was stored of it; within a transaction. */
    void store(long document, Content content) {
        if (content instanceof Content.OfStatements statements) {
            mapper.removeStatements(document);
            storeStatements(document, statements.statements());
        } else if (content instanceof Content.OfIssues issues) {
            mapper.removeIssues(document);
            storeIssues(document, issues);
        } else if (content instanceof Content.OfReports reports) {
            mapper.removeReports(document);
            storeReports(document, reports);
        } else if (content instanceof Content.OfExploited exploited) {
            storeExploited(exploited.listed());
        }
    }

    private void storeStatements(long document, List<VexStatement> statements) {
        int position = 0;
        for (VexStatement statement : statements) {
            mapper.addStatement(new StatementRow(
                    document,
                    position++,
                    statement.vulnerability(),
                    statement.product().product().purl(),
                    statement.product().distro(),
                    statement.product().arch(),
                    statement.version().orElse(null),
                    statement.status(),
                    statement.justification(),
                    statement.source(),
                    statement.at()));
        }
    }

    private void storeIssues(long document, Content.OfIssues issues) {
        int position = 0;
        for (KnownIssue issue : issues.issues()) {
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
        for (String id : issues.withdrawn()) {
            mapper.addIssue(new IssueRow(document, position++, id, true, null, null, null, null, null, null, null));
        }
    }

    private void storeReports(long document, Content.OfReports reports) {
        int position = 0;
        for (FailureReport report : reports.reports()) {
            mapper.addReport(new ReportRow(
                    document,
                    position,
                    report.id(),
                    report.updateId().value(),
                    false,
                    report.code().orElse(null),
                    report.failureClass(),
                    report.words(),
                    report.others(),
                    report.where().map(Object::toString).orElse(null),
                    report.source(),
                    report.at()));
            int place = 0;
            for (HostName host : report.hosts()) {
                mapper.addReportHost(new ReportHostRow(document, position, place++, host.value()));
            }
            position++;
        }
        for (Map.Entry<String, UpdateId> withdrawn : reports.withdrawn().entrySet()) {
            mapper.addReport(new ReportRow(
                    document,
                    position++,
                    withdrawn.getKey(),
                    withdrawn.getValue().value(),
                    true,
                    null,
                    null,
                    null,
                    null,
                    null,
                    null,
                    null));
        }
    }

    /** What was listed until now keeps the instant at which it was first read. */
    private void storeExploited(List<KnownExploited> listed) {
        Map<String, ExploitedRow> before = mapper.exploited().stream()
                .filter(ExploitedRow::listed)
                .collect(Collectors.toMap(ExploitedRow::cve, Function.identity()));
        mapper.unlistAllExploited();
        listed.forEach(one -> mapper.keepExploited(new ExploitedRow(
                one.cve(),
                Optional.ofNullable(before.get(one.cve()))
                        .map(ExploitedRow::read)
                        .orElse(one.read()),
                one.added(),
                one.words(),
                one.asked(),
                one.due().orElse(null),
                one.ransomware(),
                true)));
    }

    /** The parts of a content by what each is about: what two readings are compared by. */
    static Map<String, Record> bySubject(Content content) {
        Map<String, Record> bySubject = new TreeMap<>();
        if (content instanceof Content.OfStatements statements) {
            statements
                    .statements()
                    .forEach(s -> bySubject.put(
                            s.vulnerability() + " in " + s.product() + " "
                                    + s.version().orElse(""),
                            s));
        } else if (content instanceof Content.OfIssues issues) {
            issues.issues().forEach(issue -> bySubject.put(issue.id(), issue));
        } else if (content instanceof Content.OfReports reports) {
            reports.reports().forEach(report -> bySubject.put(report.id(), report));
        } else if (content instanceof Content.OfExploited exploited) {
            exploited.listed().forEach(one -> bySubject.put(one.cve(), one));
        }
        return bySubject;
    }
}
