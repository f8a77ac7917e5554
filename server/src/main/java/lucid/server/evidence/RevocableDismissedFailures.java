package lucid.server.evidence;

import java.time.Instant;
import java.util.List;
import lucid.core.evidence.DismissedFailure;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How the dismissal of a failure is taken back. */
@Component
class RevocableDismissedFailures implements Revocable {

    private final EvidenceMapper mapper;

    RevocableDismissedFailures(EvidenceMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.DISMISSED_FAILURE;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        DismissedFailure dismissed = snapshot.evidence().dismissedFailures().stream()
                .filter(d -> d.number() == number)
                .findFirst()
                .orElseThrow(() -> ProblemException.notFound("there is no dismissed failure " + number));
        return new Revoked(
                snapshot.with(snapshot.evidence().with(dismissed.revoked(now))),
                List.of(),
                dismissed.updateId().value(),
                "Took back that the failure of " + dismissed.host() + " is not by " + dismissed.updateId() + ".");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.revokeDismissedFailure(number, now) > 0;
    }
}
