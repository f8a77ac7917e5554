package lucid.server.verdicts;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.approval.Ground;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.proposals.Proposal;
import lucid.server.proposals.Proposals;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Proposals: what waits for an approver. */
@RestController
@RequestMapping("/api/proposals")
class ProposalController {

    private final ProposalService service;
    private final RequestKeys keys;
    private final Clock clock;

    ProposalController(ProposalService service, RequestKeys keys, Clock clock) {
        this.service = service;
        this.keys = keys;
        this.clock = clock;
    }

    /** @param populations names of them, in the order of the sentence */
    record ProposedAnswer(AnswerDraft draft, List<String> populations) {}

    /**
     * @param hosts for which it would have been what holds when it was proposed
     * @param decidedBy who approved it or sent it back
     * @param returned why it was sent back
     * @param undo address to which a DELETE withdraws it, while it waits
     */
    record ProposalView(
            long number,
            UpdateId update,
            String title,
            VerdictDraft draft,
            List<ProposedAnswer> answers,
            List<Ground> grounds,
            int hosts,
            String author,
            Instant createdAt,
            Instant lapsesAt,
            Proposal.State state,
            Optional<String> decidedBy,
            Optional<Instant> decidedAt,
            Optional<String> returned,
            String undo) {
        static ProposalView of(Proposal proposal, VerdictDraft draft, Snapshot snapshot, Instant now) {
            return new ProposalView(
                    proposal.number(),
                    proposal.update(),
                    snapshot.catalogue()
                            .update(proposal.update())
                            .map(Update::title)
                            .orElse(""),
                    draft,
                    draft.answers().stream()
                            .map(answer -> new ProposedAnswer(
                                    answer,
                                    answer.populations().stream()
                                            .map(id -> name(id, snapshot))
                                            .toList()))
                            .toList(),
                    proposal.grounds().stream().sorted().toList(),
                    proposal.hosts(),
                    proposal.author(),
                    proposal.createdAt(),
                    proposal.lapsesAt(),
                    proposal.state(now),
                    proposal.decided().map(Proposal.Decided::by),
                    proposal.decided().map(Proposal.Decided::at),
                    proposal.decided().map(Proposal.Decided::words).filter(words -> !words.isEmpty()),
                    Undo.of(Revocable.Kind.PROPOSAL, List.of(proposal.number())));
        }

        private static String name(PopulationId id, Snapshot snapshot) {
            return snapshot.fleet().ladder().entry(id).map(Population::name).orElse(id.value());
        }
    }

    /** Those that wait, and what became of others within a week; what lapses first comes first. */
    @GetMapping
    List<ProposalView> open(Snapshot snapshot) {
        Instant now = clock.instant();
        return service.open().stream()
                .map(proposal -> ProposalView.of(proposal, service.draft(proposal), snapshot, now))
                .toList();
    }

    /** Proposes what needs an approver: it holds nothing until somebody else approves it. */
    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Proposals.Proposed propose(
            @RequestBody VerdictDraft draft,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.propose(draft, ifMatch, keys.of(key, who, "proposal", draft), who);
    }

    @PostMapping("/{number}/approvals")
    @ResponseStatus(HttpStatus.CREATED)
    VerdictService.Committed approve(
            @PathVariable long number,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.approve(number, ifMatch, keys.of(key, who, "approval", number), who);
    }
}
