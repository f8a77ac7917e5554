package lucid.server.evidence;

import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import lucid.core.evidence.VexStatement;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import lucid.formats.document.Content;
import lucid.server.evidence.EvidenceReadingMapper.StatementRow;
import lucid.server.snapshot.Snapshot;
import org.springframework.stereotype.Component;

/** Statements whether products are affected. */
@Component
class StatementEvidence extends EvidenceKind<Content.OfStatements> {

    private final EvidenceReadingMapper mapper;

    StatementEvidence(EvidenceReadingMapper mapper) {
        super(Content.OfStatements.class);
        this.mapper = mapper;
    }

    @Override
    Snapshot with(Snapshot snapshot, Content.OfStatements said) {
        return snapshot.with(snapshot.evidence().withStatements(said.statements()));
    }

    @Override
    Map<Long, Content.OfStatements> stored() {
        Map<Long, Content.OfStatements> stored = new TreeMap<>();
        byDocument(mapper.statements(), StatementRow::document)
                .forEach((document, rows) -> stored.put(
                        document,
                        new Content.OfStatements(
                                rows.stream().map(StatementEvidence::statement).toList())));
        return stored;
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

    @Override
    void store(long document, Content.OfStatements said) {
        mapper.removeStatements(document);
        int position = 0;
        for (VexStatement statement : said.statements()) {
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

    @Override
    Map<String, Record> bySubject(Content.OfStatements said) {
        Map<String, Record> bySubject = new TreeMap<>();
        said.statements()
                .forEach(one -> bySubject.put(
                        one.vulnerability() + " in " + one.product() + " "
                                + one.version().orElse(""),
                        one));
        return bySubject;
    }
}
