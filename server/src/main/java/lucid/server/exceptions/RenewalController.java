package lucid.server.exceptions;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.approval.Ground;
import lucid.core.ruling.DecisionNumber;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.exceptions.RenewalService.Renewed;
import lucid.server.proposals.Proposal;
import lucid.server.proposals.Proposals;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views.ExceptionView;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Exceptions that go on after their day: several at once with one reason, all of them or none. */
@RestController
@RequestMapping("/api/exceptions/renewals")
class RenewalController {

    private final RenewalService service;
    private final RequestKeys keys;
    private final Clock clock;

    RenewalController(RenewalService service, RequestKeys keys, Clock clock) {
        this.service = service;
        this.keys = keys;
        this.clock = clock;
    }

    /**
     * @param exceptions numbers of those that are renewed
     * @param until their new last day, in the zone of the hosts of each; after the day that it has now
     * @param reason why they go on; the reason of the first time is not enough
     */
    record RenewalDraft(List<Long> exceptions, LocalDate until, String reason) {}

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Renewed renew(
            @RequestBody RenewalDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.renew(draft, keys.of(key, who, "renewal", draft), who);
    }

    /** @param about as that of an exception */
    record GoesOn(long number, String about, String where, String owner) {}

    /**
     * @param exceptions those that would go on
     * @param until their new last day
     * @param hosts that their conditions named when it was proposed
     * @param decidedBy who approved it or sent it back
     * @param returned why it was sent back
     * @param undo address to which a DELETE withdraws it, while it waits
     */
    record ProposedRenewal(
            long number,
            List<GoesOn> exceptions,
            LocalDate until,
            String reason,
            List<Ground> grounds,
            int hosts,
            String author,
            Instant createdAt,
            Instant lapsesAt,
            Proposal.State state,
            Optional<String> decidedBy,
            Optional<String> returned,
            String undo) {}

    /** Those that wait, and what became of others within a week; what lapses first comes first. */
    @GetMapping("/proposals")
    List<ProposedRenewal> proposed(Snapshot snapshot) {
        return service.proposed().stream()
                .map(proposal -> view(proposal, snapshot))
                .toList();
    }

    private ProposedRenewal view(Proposal proposal, Snapshot snapshot) {
        RenewalDraft draft = service.draft(proposal);
        return new ProposedRenewal(
                proposal.number(),
                draft.exceptions().stream()
                        .distinct()
                        .map(DecisionNumber.OfException::new)
                        .flatMap(number -> snapshot.decisions().exception(number).stream())
                        .map(exception -> new GoesOn(
                                exception.number().value(),
                                ExceptionView.about(exception),
                                exception.hosts().toString(),
                                exception.owner()))
                        .toList(),
                draft.until(),
                draft.reason(),
                proposal.grounds().stream().sorted().toList(),
                proposal.hosts(),
                proposal.author(),
                proposal.createdAt(),
                proposal.lapsesAt(),
                proposal.state(clock.instant()),
                proposal.decided().map(Proposal.Decided::by),
                proposal.decided().map(Proposal.Decided::words).filter(words -> !words.isEmpty()),
                Undo.of(Revocable.Kind.PROPOSAL, List.of(proposal.number())));
    }

    /** Proposes what needs an approver: nothing goes on until somebody else approves it. */
    @PostMapping("/proposals")
    @ResponseStatus(HttpStatus.CREATED)
    Proposals.Proposed propose(
            @RequestBody RenewalDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.propose(draft, keys.of(key, who, "proposed renewal", draft), who);
    }

    @PostMapping("/proposals/{number}/approvals")
    @ResponseStatus(HttpStatus.CREATED)
    Renewed approve(
            @PathVariable long number,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.approve(number, keys.of(key, who, "approved renewal", number), who);
    }
}
