package lucid.server.exceptions;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.approval.Ground;
import lucid.core.ruling.Effect;
import lucid.core.update.UpdateId;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.exceptions.ExceptionService.MadeException;
import lucid.server.proposals.Proposal;
import lucid.server.proposals.Proposals;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.ConsequenceView;
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

/** Exceptions: hosts that depart from the verdicts until a day. */
@RestController
@RequestMapping("/api/exceptions")
class ExceptionController {

    private final ExceptionService service;
    private final RequestKeys keys;
    private final Clock clock;

    ExceptionController(ExceptionService service, RequestKeys keys, Clock clock) {
        this.service = service;
        this.keys = keys;
        this.clock = clock;
    }

    /** @param grounds why it needs an approver; none: it does not */
    record ExceptionConsequence(ConsequenceView consequence, List<Ground> grounds) {}

    @PostMapping("/preview")
    ExceptionConsequence consequence(@RequestBody ExceptionDraft draft, Principal who, Snapshot snapshot) {
        return view(service.worded(snapshot, draft, who.getName()), snapshot);
    }

    private static ExceptionConsequence view(ExceptionService.Worded worded, Snapshot snapshot) {
        return new ExceptionConsequence(
                ConsequenceView.of(worded.consequence(), snapshot.fleet(), snapshot.decisions()),
                worded.grounds().stream().sorted().toList());
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    MadeException make(
            @RequestBody ExceptionDraft draft,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.make(draft, ifMatch, keys.of(key, who, "exception", draft), who);
    }

    /**
     * @param about as that of an exception
     * @param until its last day, in the zone of the hosts
     * @param hosts for which it would have been in force when it was proposed
     * @param decidedBy who approved it or sent it back
     * @param returned why it was sent back
     * @param undo address to which a DELETE withdraws it, while it waits
     */
    record ProposedException(
            long number,
            UpdateId update,
            String about,
            String where,
            Effect effect,
            LocalDate until,
            String reason,
            String owner,
            String measure,
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
    List<ProposedException> proposed(Snapshot snapshot) {
        return service.proposed().stream()
                .map(proposal -> view(proposal, snapshot))
                .toList();
    }

    private ProposedException view(Proposal proposal, Snapshot snapshot) {
        ExceptionDraft draft = service.draft(proposal);
        return new ProposedException(
                proposal.number(),
                proposal.update(),
                about(draft, snapshot),
                draft.hosts(),
                draft.effect().orElse(Effect.WITHHELD),
                draft.until().orElseThrow(),
                draft.reason(),
                draft.owner(),
                draft.measure(),
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

    /** From its words alone: what it is about may be another now. */
    private static String about(ExceptionDraft draft, Snapshot snapshot) {
        return switch (draft.scope()) {
            case UPDATE -> draft.update().value();
            case PRODUCT -> draft.product().orElseThrow();
            case KIND ->
                snapshot.catalogue()
                        .update(draft.update())
                        .map(update -> "kind " + update.kind().word())
                        .orElse("the kind of " + draft.update());
        };
    }

    /** Proposes what needs an approver: it holds nothing until somebody else approves it. */
    @PostMapping("/proposals")
    @ResponseStatus(HttpStatus.CREATED)
    Proposals.Proposed propose(
            @RequestBody ExceptionDraft draft,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.propose(draft, ifMatch, keys.of(key, who, "proposed exception", draft), who);
    }

    /** What one that waits would do now. */
    @GetMapping("/proposals/{number}/preview")
    ExceptionConsequence proposed(@PathVariable long number, Snapshot snapshot) {
        return view(service.proposed(number, snapshot), snapshot);
    }

    @PostMapping("/proposals/{number}/approvals")
    @ResponseStatus(HttpStatus.CREATED)
    MadeException approve(
            @PathVariable long number,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.approve(number, keys.of(key, who, "approved exception", number), who);
    }
}
