package lucid.server.evidence;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import lucid.core.evidence.FailureReport;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.server.evidence.EvidenceReadingMapper.ReportHostRow;
import lucid.server.evidence.EvidenceReadingMapper.ReportRow;
import lucid.server.snapshot.Snapshot;
import org.springframework.stereotype.Component;

/** Failures that people tell of. */
@Component
class ReportEvidence extends EvidenceKind<Content.OfReports> {

    private final EvidenceReadingMapper mapper;

    ReportEvidence(EvidenceReadingMapper mapper) {
        super(Content.OfReports.class);
        this.mapper = mapper;
    }

    @Override
    Snapshot with(Snapshot snapshot, Content.OfReports said) {
        return snapshot.with(snapshot.evidence()
                .withReports(said.reports())
                .withoutReports(said.withdrawn().keySet()));
    }

    @Override
    Map<Long, Content.OfReports> stored() {
        Map<Long, List<ReportHostRow>> hosts = byDocument(mapper.reportHosts(), ReportHostRow::document);
        Map<Long, Content.OfReports> stored = new TreeMap<>();
        byDocument(mapper.reports(), ReportRow::document)
                .forEach((document, rows) ->
                        stored.put(document, reports(rows, hosts.getOrDefault(document, List.of()))));
        return stored;
    }

    private static Content.OfReports reports(List<ReportRow> rows, List<ReportHostRow> hosts) {
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

    @Override
    void store(long document, Content.OfReports said) {
        mapper.removeReports(document);
        int position = 0;
        for (FailureReport report : said.reports()) {
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
        for (Map.Entry<String, UpdateId> withdrawn : said.withdrawn().entrySet()) {
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

    @Override
    Set<UpdateId> speaksOf(Content.OfReports said) {
        Set<UpdateId> updates = new TreeSet<>();
        said.reports().forEach(report -> updates.add(report.updateId()));
        return updates;
    }

    @Override
    Set<HostName> speaksOfHosts(Content.OfReports said) {
        Set<HostName> hosts = new TreeSet<>();
        said.reports().forEach(report -> hosts.addAll(report.hosts()));
        return hosts;
    }

    @Override
    Map<String, Record> bySubject(Content.OfReports said) {
        Map<String, Record> bySubject = new TreeMap<>();
        said.reports().forEach(report -> bySubject.put(report.id(), report));
        return bySubject;
    }
}
