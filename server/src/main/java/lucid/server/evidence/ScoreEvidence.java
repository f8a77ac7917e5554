package lucid.server.evidence;

import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScore;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.server.intake.KeptDocuments;
import lucid.server.snapshot.Snapshot;
import org.springframework.stereotype.Component;

/**
 * How likely vulnerabilities are exploited: a day's probabilities of all of them, some 300,000, stay in their document,
 * of which the newest is read at start; those of known updates are kept for each day.
 */
@Component
class ScoreEvidence extends EvidenceKind<Content.OfScores> {

    private final EvidenceMapper mapper;
    private final KeptDocuments documents;

    ScoreEvidence(EvidenceMapper mapper, KeptDocuments documents) {
        super(Content.OfScores.class);
        this.mapper = mapper;
        this.documents = documents;
    }

    @Override
    Snapshot with(Snapshot snapshot, Content.OfScores said) {
        return snapshot.with(said.scores());
    }

    @Override
    Map<Long, Content.OfScores> stored() {
        return Map.of();
    }

    @Override
    Snapshot load(Snapshot snapshot) {
        List<ExploitScore> history =
                mapper.scores().stream().map(EvidenceMapper.ScoreRow::score).toList();
        Snapshot next = snapshot.with(snapshot.evidence().withHistory(history));
        return documents
                .newest(Format.EXPLOIT_SCORES)
                .map(said -> with(next, of(said)))
                .orElse(next);
    }

    /** The document is what is stored. */
    @Override
    void store(long document, Content.OfScores said) {}

    @Override
    Map<String, Record> bySubject(Content.OfScores said) {
        return Map.of();
    }

    /** Of an earlier day than those that are known. */
    @Override
    boolean isOlder(Evidence known, Content.OfScores said) {
        return said.scores().scored().isBefore(known.scores().scored());
    }

    @Override
    OptionalInt listsInPlaceOfAll(Content.OfScores said) {
        return OptionalInt.of(said.scores().size());
    }

    @Override
    int listed(Evidence known) {
        return known.scores().size();
    }
}
