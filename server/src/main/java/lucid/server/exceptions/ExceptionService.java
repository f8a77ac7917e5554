package lucid.server.exceptions;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import lucid.core.approval.Ground;
import lucid.core.ruling.Consequence;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.update.Update;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.proposals.Proposal;
import lucid.server.proposals.ProposalWords;
import lucid.server.proposals.Proposals;
import lucid.server.proposals.StoredApprovalRules;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.CaseVersions;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Service;

/** Makes exceptions, and proposes those that need a second person. */
@Service
class ExceptionService {

    /** What is approved was read as a sentence, not on a case. */
    private static final String ANY_VERSION = "*";

    private final SnapshotStore store;
    private final ExceptionMapper mapper;
    private final Proposals proposals;
    private final StoredApprovalRules rules;
    private final Clock clock;

    ExceptionService(
            SnapshotStore store, ExceptionMapper mapper, Proposals proposals, StoredApprovalRules rules, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.proposals = proposals;
        this.rules = rules;
        this.clock = clock;
    }

    /**
     * What an exception would do to the update on whose case it is worded.
     *
     * @param grounds why it needs an approver
     */
    record Worded(ExceptionGrant exception, Consequence consequence, Set<Ground> grounds) {}

    Worded worded(Snapshot snapshot, ExceptionDraft draft, String author) {
        Instant now = clock.instant();
        ExceptionGrant exception = ExceptionWording.of(snapshot, draft, author, Optional.empty(), now);
        Update update = snapshot.update(draft.update());
        return new Worded(
                exception,
                Consequences.of(
                        exception,
                        update,
                        snapshot.carriage(update, now),
                        snapshot.fleet(),
                        snapshot.decisions(),
                        snapshot.catalogue(),
                        now),
                grounds(snapshot, exception));
    }

    private Set<Ground> grounds(Snapshot snapshot, ExceptionGrant exception) {
        return Ground.of(exception, snapshot.fleet(), rules.now());
    }

    /** @param undo address to which a DELETE takes it back */
    record MadeException(DecisionNumber.OfException number, String undo) {}

    /** @throws ProblemException 422 if it needs an approver */
    MadeException make(ExceptionDraft draft, String ifMatch, Optional<RequestKey> request, Principal who) {
        return make(
                draft,
                who.getName(),
                Optional.empty(),
                ifMatch,
                request,
                who,
                grounds -> ProposalWords.requireNone(grounds));
    }

    private MadeException make(
            ExceptionDraft draft,
            String author,
            Optional<String> approver,
            String ifMatch,
            Optional<RequestKey> request,
            Principal who,
            Consumer<Set<Ground>> inTurn) {
        ExceptionWording.requireWords(draft);
        return store.writeOnce(request, 0, MadeException.class, snapshot -> {
            CaseVersions.require(ifMatch, snapshot, snapshot.update(draft.update()));
            ExceptionGrant exception = ExceptionWording.of(snapshot, draft, author, approver, clock.instant());
            requireHosts(exception, snapshot);
            inTurn.accept(grounds(snapshot, exception));
            mapper.add(ExceptionMapper.Row.of(exception));
            store.record(
                    AuditEntry.Kind.EXCEPTION,
                    draft.update().value(),
                    who,
                    approver.map(name -> "Approved what " + author + " proposed: made")
                                    .orElse("Made")
                            + " an exception: " + ExceptionWords.sentence(exception, snapshot.fleet()),
                    Revocable.Kind.EXCEPTION.about(exception.number().value()));
            return new SnapshotStore.Change<>(
                    snapshot.with(snapshot.decisions().with(exception)),
                    new MadeException(
                            exception.number(),
                            Undo.of(
                                    Revocable.Kind.EXCEPTION,
                                    List.of(exception.number().value()))));
        });
    }

    private static void requireHosts(ExceptionGrant exception, Snapshot snapshot) {
        if (snapshot.fleet().matching(exception.hosts(), snapshot.fleet().all()).isEmpty()) {
            throw ProblemException.badField("hosts", "no host matches " + exception.hosts());
        }
    }

    /**
     * Proposes one; it lapses with the week, or with its own last day.
     *
     * @throws ProblemException 422 if it needs no approver
     */
    Proposals.Proposed propose(ExceptionDraft draft, String ifMatch, Optional<RequestKey> request, Principal who) {
        ExceptionWording.requireWords(draft);
        return store.writeOnce(request, 0, Proposals.Proposed.class, snapshot -> {
            CaseVersions.require(ifMatch, snapshot, snapshot.update(draft.update()));
            Worded worded = worded(snapshot, draft, who.getName());
            requireHosts(worded.exception(), snapshot);
            return new SnapshotStore.Change<>(
                    snapshot,
                    proposals.propose(
                            Proposal.About.EXCEPTION,
                            draft.update(),
                            draft,
                            worded.grounds(),
                            worded.consequence().decided().getCardinality(),
                            Collections.min(List.of(
                                    worded.exception().until(), clock.instant().plus(Proposals.WEEK))),
                            "An exception: " + ExceptionWords.sentence(worded.exception(), snapshot.fleet()),
                            who));
        });
    }

    List<Proposal> proposed() {
        return proposals.open(Proposal.About.EXCEPTION);
    }

    ExceptionDraft draft(Proposal proposal) {
        return proposals.draft(proposal, ExceptionDraft.class);
    }

    /**
     * What a proposed one would do now.
     *
     * @throws ProblemException 404 if none of this number waits
     */
    Worded proposed(long number, Snapshot snapshot) {
        return proposed().stream()
                .filter(proposal ->
                        proposal.number() == number && proposal.state(clock.instant()) == Proposal.State.WAITING)
                .findAny()
                .map(proposal -> worded(snapshot, draft(proposal), proposal.author()))
                .orElseThrow(() -> ProblemException.notFound("no exception waits as proposal " + number));
    }

    /** Makes what is proposed, as it would be now. */
    MadeException approve(long number, Optional<RequestKey> request, Principal who) {
        Optional<MadeException> before = request.flatMap(key -> store.answered(key, MadeException.class));
        if (before.isPresent()) {
            return before.get();
        }
        Proposal proposal = proposals.waiting(number, Proposal.About.EXCEPTION, who);
        return make(
                draft(proposal),
                proposal.author(),
                Optional.of(who.getName()),
                ANY_VERSION,
                request,
                who,
                grounds -> proposals.approved(number, who));
    }
}
