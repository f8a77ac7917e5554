package lucid.server.freezes;

import java.util.List;
import java.util.function.UnaryOperator;
import lucid.core.ruling.Freeze;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.springframework.stereotype.Component;

/** The part of the snapshot that freezes are. */
@Component
class FreezesPart implements SnapshotPart {

    private final FreezeMapper freezes;

    FreezesPart(FreezeMapper freezes) {
        this.freezes = freezes;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        List<Freeze> decided = freezes.all();
        return snapshot -> snapshot.with(snapshot.decisions().withAll(decided));
    }
}
