package lucid.server.exceptions;

import java.time.Instant;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ExceptionGrant;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How an exception is taken back. */
@Component
class RevocableExceptions implements Revocable {

    private final ExceptionMapper mapper;

    RevocableExceptions(ExceptionMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.EXCEPTION;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        ExceptionGrant exception = snapshot.decisions()
                .exception(new DecisionNumber.OfException(number))
                .orElseThrow(() -> ProblemException.notFound("there is no exception " + number));
        return new Revoked(
                snapshot.with(snapshot.decisions().with(exception.revoked(now))),
                snapshot.catalogue().updates().stream()
                        .filter(exception.scope()::covers)
                        .toList(),
                exception.scope() instanceof ExceptionGrant.Scope.OfUpdate update
                        ? update.updateId().value()
                        : "",
                "Took back the exception on " + ExceptionMapper.wordsOf(exception.scope()) + " where "
                        + exception.hosts() + ".");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.takeBack(number, now) > 0;
    }
}
