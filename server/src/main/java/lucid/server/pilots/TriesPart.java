package lucid.server.pilots;

import java.util.List;
import java.util.function.UnaryOperator;
import lucid.core.ruling.TriesShown;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.springframework.stereotype.Component;

/** What tries have shown, for the rules that wait for it. */
@Component
class TriesPart implements SnapshotPart {

    private final TriesMapper mapper;

    TriesPart(TriesMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        List<TriesShown> shown =
                mapper.all().stream().map(TriesMapper.Row::shown).toList();
        return snapshot -> snapshot.with(snapshot.decisions().withShown(shown));
    }
}
