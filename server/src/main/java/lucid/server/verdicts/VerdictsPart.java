package lucid.server.verdicts;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import lucid.core.ruling.Decision;
import lucid.server.pilots.StoredPilots;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.springframework.stereotype.Component;

/** The part of the snapshot that verdicts and answers are. */
@Component
class VerdictsPart implements SnapshotPart {

    private final VerdictMapper verdicts;
    private final AcknowledgementMapper acknowledgements;
    private final StoredPilots pilots;

    VerdictsPart(VerdictMapper verdicts, AcknowledgementMapper acknowledgements, StoredPilots pilots) {
        this.verdicts = verdicts;
        this.acknowledgements = acknowledgements;
        this.pilots = pilots;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        List<Decision> decided = new ArrayList<>();
        decided.addAll(verdicts.all(pilots.all()));
        decided.addAll(acknowledgements.all());
        return snapshot -> snapshot.with(snapshot.decisions().withAll(decided));
    }
}
