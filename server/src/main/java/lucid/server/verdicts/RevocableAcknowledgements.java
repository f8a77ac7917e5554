package lucid.server.verdicts;

import java.time.Instant;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.DecisionNumber;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How "leave to the rule" is taken back. */
@Component
class RevocableAcknowledgements implements Revocable {

    private final AcknowledgementMapper mapper;

    RevocableAcknowledgements(AcknowledgementMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.ACKNOWLEDGEMENT;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        Acknowledgement given = snapshot.decisions()
                .acknowledgement(new DecisionNumber.OfAcknowledgement(number))
                .orElseThrow(() -> ProblemException.notFound("there is no answer " + number));
        return new Revoked(
                snapshot.with(snapshot.decisions().with(given.revoked(now))),
                snapshot.catalogue().update(given.updateId()).stream().toList(),
                given.updateId().value(),
                "Took back that " + given.updateId() + " is left to the rule.");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.takeBack(number, now) > 0;
    }
}
