package lucid.server.proposals;

import java.time.Instant;
import java.util.List;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How a proposal is withdrawn: it held nothing. */
@Component
class RevocableProposals implements Revocable {

    private final ProposalMapper mapper;

    RevocableProposals(ProposalMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.PROPOSAL;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        Proposal proposal = mapper.find(number)
                .map(ProposalMapper.Row::proposal)
                .orElseThrow(() -> ProblemException.notFound("there is no proposal " + number));
        return new Revoked(
                snapshot,
                List.of(),
                proposal.update().value(),
                "Withdrew what " + proposal.author() + " proposed"
                        + (proposal.update().value().isEmpty() ? "" : " on " + proposal.update()) + ".");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.decide(number, Proposal.Outcome.WITHDRAWN, null, now, null) > 0;
    }
}
