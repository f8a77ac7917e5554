package lucid.server.verdicts;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import lucid.core.ruling.Decision;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.springframework.stereotype.Component;

/** The part of the snapshot that verdicts and answers are. */
@Component
class VerdictsPart implements SnapshotPart {

    private final VerdictMapper verdicts;
    private final AcknowledgementMapper acknowledgements;

    VerdictsPart(VerdictMapper verdicts, AcknowledgementMapper acknowledgements) {
        this.verdicts = verdicts;
        this.acknowledgements = acknowledgements;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        List<Decision> decided = new ArrayList<>();
        verdicts.all().forEach(row -> decided.add(row.verdict()));
        decided.addAll(acknowledgements.all());
        return snapshot -> snapshot.with(snapshot.decisions().withAll(decided));
    }
}
