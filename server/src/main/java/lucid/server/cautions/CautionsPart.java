package lucid.server.cautions;

import java.util.List;
import java.util.function.UnaryOperator;
import lucid.core.ruling.Caution;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.springframework.stereotype.Component;

/** The part of the snapshot that the fleet's caution is. */
@Component
class CautionsPart implements SnapshotPart {

    private final CautionMapper cautions;

    CautionsPart(CautionMapper cautions) {
        this.cautions = cautions;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        List<Caution> declared =
                cautions.rows().stream().map(CautionMapper.Row::caution).toList();
        return snapshot -> snapshot.with(snapshot.decisions().withAll(declared));
    }
}
