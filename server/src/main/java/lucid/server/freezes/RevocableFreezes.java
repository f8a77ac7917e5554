package lucid.server.freezes;

import java.time.Instant;
import java.util.List;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Freeze;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How a freeze is taken back: whatever it withheld goes on at once. */
@Component
class RevocableFreezes implements Revocable {

    private final FreezeMapper mapper;

    RevocableFreezes(FreezeMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.FREEZE;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        Freeze freeze = snapshot.decisions()
                .freeze(new DecisionNumber.OfFreeze(number))
                .orElseThrow(() -> ProblemException.notFound("there is no freeze " + number));
        return new Revoked(
                snapshot.with(snapshot.decisions().with(freeze.revoked(now))),
                List.copyOf(snapshot.catalogue().updates()),
                "",
                "Took back the freeze of " + FreezeWords.populations(freeze, snapshot.fleet()) + ".");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.takeBack(number, now) > 0;
    }
}
