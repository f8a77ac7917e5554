package lucid.server.exceptions;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import lucid.core.ruling.DecisionNumber;
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
        Map<Long, ExceptionGrant> byNumber = new LinkedHashMap<>();
        exceptions.all().forEach(row -> byNumber.put(row.number(), row.exception(before(byNumber, row.goesOnFrom()))));
        List<ExceptionGrant> decided = List.copyOf(byNumber.values());
        return snapshot -> snapshot.with(snapshot.decisions().withAll(decided));
    }

    private static List<DecisionNumber.OfException> before(Map<Long, ExceptionGrant> known, Long goesOnFrom) {
        return goesOnFrom == null
                ? List.of()
                : Stream.concat(
                                known.get(goesOnFrom).before().stream(),
                                Stream.of(new DecisionNumber.OfException(goesOnFrom)))
                        .toList();
    }
}
