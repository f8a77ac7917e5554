package lucid.server.snapshot;

import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.function.UnaryOperator;
import org.springframework.stereotype.Component;

/** Makes the snapshot anew from what is stored, at start: every part by the slice that owns it. */
@Component
class SnapshotLoader {

    private final List<SnapshotPart.Preparation> preparations;
    private final List<SnapshotPart> parts;

    SnapshotLoader(List<SnapshotPart.Preparation> preparations, List<SnapshotPart> parts) {
        this.preparations = preparations;
        this.parts = parts;
    }

    Snapshot fromStorage() {
        preparations.forEach(SnapshotPart.Preparation::prepare);
        List<CompletableFuture<UnaryOperator<Snapshot>>> loading = parts.stream()
                .map(part -> CompletableFuture.supplyAsync(part::load))
                .toList();
        Snapshot snapshot = Snapshot.EMPTY;
        for (CompletableFuture<UnaryOperator<Snapshot>> part : loading) {
            snapshot = part.join().apply(snapshot);
        }
        return snapshot;
    }
}
