package lucid.server.exceptions;

import java.util.List;
import java.util.function.UnaryOperator;
import lucid.core.ruling.ExceptionGrant;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.springframework.stereotype.Component;

/** The part of the snapshot that exceptions are. */
@Component
class ExceptionsPart implements SnapshotPart {

    private final ExceptionMapper exceptions;

    ExceptionsPart(ExceptionMapper exceptions) {
        this.exceptions = exceptions;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        List<ExceptionGrant> decided =
                exceptions.all().stream().map(ExceptionMapper.Row::exception).toList();
        return snapshot -> snapshot.with(snapshot.decisions().withAll(decided));
    }
}
