package lucid.server.exceptions;

import java.time.Instant;
import java.util.List;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ExceptionGrant;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;

/**
 * How it is taken back that an exception goes on, renewed or handed over: another goes on with the day, the words and
 * the owner from before.
 */
@Component
class RevocableRenewals implements Revocable {

    private final ExceptionMapper mapper;

    RevocableRenewals(ExceptionMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.RENEWAL;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        Decisions decisions = snapshot.decisions();
        ExceptionGrant renewal = decisions
                .exception(new DecisionNumber.OfException(number))
                .filter(exception -> !exception.before().isEmpty())
                .orElseThrow(() -> ProblemException.notFound("exception " + number + " goes on from no other"));
        if (renewal.revokedAt().isPresent()) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "renewal",
                    "exception " + number + " was taken back, renewed or handed over before");
        }
        ExceptionGrant earlier = decisions
                .exception(renewal.before().get(renewal.before().size() - 1))
                .orElseThrow();
        ExceptionGrant goesOn = renewal.as(decisions.nextException(), earlier, now);
        return new Revoked(
                snapshot.with(decisions.withAll(List.of(renewal.revoked(now), goesOn))),
                snapshot.catalogue().updates().stream()
                        .filter(renewal.scope()::covers)
                        .toList(),
                ExceptionWords.subject(renewal),
                words(renewal, goesOn, snapshot));
    }

    private static String words(ExceptionGrant renewal, ExceptionGrant goesOn, Snapshot snapshot) {
        String exception = "the exception on " + ExceptionMapper.wordsOf(renewal.scope()) + " where " + renewal.hosts();
        return goesOn.owner().equals(renewal.owner())
                ? "Took back the renewal of " + exception + ": it ends again "
                        + ExceptionWords.lastDay(goesOn.until(), goesOn.hosts(), snapshot.fleet()) + "."
                : "Took back that " + exception + " was handed over: its owner is " + goesOn.owner() + " again.";
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.takeBack(number, now) > 0;
    }

    @Override
    public boolean keep(Snapshot next, long number, Instant now) {
        DecisionNumber.OfException taken = new DecisionNumber.OfException(number);
        ExceptionGrant goesOn = next.decisions().exceptions().stream()
                .filter(exception -> !exception.before().isEmpty()
                        && exception.before().get(exception.before().size() - 1).equals(taken))
                .findFirst()
                .orElseThrow();
        if (!keep(number, now)) {
            return false;
        }
        mapper.add(ExceptionMapper.Row.of(goesOn));
        return true;
    }
}
