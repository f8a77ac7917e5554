package lucid.server.verdicts;

import java.time.Instant;
import java.util.List;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** How a proposal is withdrawn: it held nothing. */
@Component
class RevocableProposals implements Revocable {

    private final ProposalMapper mapper;
    private final JsonMapper json;

    RevocableProposals(ProposalMapper mapper, JsonMapper json) {
        this.mapper = mapper;
        this.json = json;
    }

    @Override
    public Kind kind() {
        return Kind.PROPOSAL;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        Proposal proposal = mapper.find(number)
                .map(row -> row.proposal(json))
                .orElseThrow(() -> ProblemException.notFound("there is no proposal " + number));
        return new Revoked(
                snapshot,
                List.of(),
                proposal.draft().update().value(),
                "Withdrew what " + proposal.author() + " proposed on "
                        + proposal.draft().update() + ".");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.decide(number, Proposal.Outcome.WITHDRAWN, null, now, null) > 0;
    }
}
