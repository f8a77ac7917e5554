package lucid.server.verdicts;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import lucid.core.update.UpdateId;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** Sentences that wait for an approver. */
@Component
public class WaitingProposals {

    private final ProposalMapper mapper;
    private final JsonMapper json;
    private final Clock clock;

    WaitingProposals(ProposalMapper mapper, JsonMapper json, Clock clock) {
        this.mapper = mapper;
        this.json = json;
        this.clock = clock;
    }

    /** @param hosts that it would be for */
    public record Waiting(UpdateId update, String author, int hosts, Instant lapsesAt) {}

    /** What lapses first in front. */
    public List<Waiting> all() {
        Instant now = clock.instant();
        return mapper.since(now).stream()
                .map(row -> row.proposal(json))
                .filter(proposal -> proposal.state(now) == Proposal.State.WAITING)
                .map(proposal -> new Waiting(
                        proposal.draft().update(), proposal.author(), proposal.hosts(), proposal.lapsesAt()))
                .toList();
    }
}
