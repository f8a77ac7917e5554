package lucid.server.verdicts;

import java.time.Instant;
import lucid.core.fleet.Population;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Verdict;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How a verdict is taken back. */
@Component
class RevocableVerdicts implements Revocable {

    private final VerdictMapper mapper;

    RevocableVerdicts(VerdictMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.VERDICT;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        Verdict verdict = snapshot.decisions()
                .verdict(new DecisionNumber.OfVerdict(number))
                .orElseThrow(() -> ProblemException.notFound("there is no verdict " + number));
        String population = snapshot.fleet()
                .ladder()
                .entry(verdict.populationId())
                .map(Population::name)
                .orElse(verdict.populationId().value());
        return new Revoked(
                snapshot.with(snapshot.decisions().with(verdict.revoked(now))),
                snapshot.catalogue().update(verdict.updateId()).stream().toList(),
                verdict.updateId().value(),
                "Took back the " + verdict.type().word() + " of " + verdict.updateId() + " for " + population
                        + verdict.narrowing().map(where -> " where " + where).orElse("") + ".");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.takeBack(number, now) > 0;
    }
}
