package lucid.server.exceptions;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import lucid.core.approval.Ground;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.update.UpdateId;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.exceptions.RenewalController.RenewalDraft;
import lucid.server.proposals.Proposal;
import lucid.server.proposals.ProposalWords;
import lucid.server.proposals.Proposals;
import lucid.server.proposals.StoredApprovalRules;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;

/** Lets exceptions go on, and proposes that where their hosts need a second person. */
@Service
class RenewalService {

    private static final int MOST_AT_ONCE = 100;

    private final SnapshotStore store;
    private final ExceptionMapper mapper;
    private final Proposals proposals;
    private final StoredApprovalRules rules;
    private final Clock clock;

    RenewalService(
            SnapshotStore store, ExceptionMapper mapper, Proposals proposals, StoredApprovalRules rules, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.proposals = proposals;
        this.rules = rules;
        this.clock = clock;
    }

    /** @param undo address to which a DELETE takes all of them back */
    record Renewed(List<DecisionNumber.OfException> exceptions, String undo) {}

    /** @throws ProblemException 422 if one of them needs an approver */
    Renewed renew(RenewalDraft draft, Optional<RequestKey> request, Principal who) {
        return renew(draft, who.getName(), Optional.empty(), request, who, ProposalWords::requireNone);
    }

    private Renewed renew(
            RenewalDraft draft,
            String author,
            Optional<String> approver,
            Optional<RequestKey> request,
            Principal who,
            Consumer<Set<Ground>> inTurn) {
        requireWords(draft);
        return store.writeOnce(request, 0, Renewed.class, snapshot -> {
            Snapshot next = snapshot;
            List<Long> renewed = new ArrayList<>();
            List<ExceptionGrant> goOn = goOn(draft, author, approver, snapshot);
            inTurn.accept(grounds(goOn, snapshot));
            for (ExceptionGrant after : goOn) {
                DecisionNumber.OfException earlier =
                        after.before().get(after.before().size() - 1);
                ExceptionGrant before = snapshot.decisions().exception(earlier).orElseThrow();
                mapper.takeBack(earlier.value(), after.createdAt());
                mapper.add(ExceptionMapper.Row.of(after));
                next = next.with(next.decisions().withAll(List.of(before.revoked(after.createdAt()), after)));
                renewed.add(after.number().value());
                store.record(
                        AuditEntry.Kind.EXCEPTION,
                        ExceptionWords.subject(after),
                        who,
                        approver.map(name -> "Approved what " + author + " proposed: ")
                                        .orElse("")
                                + words(after, snapshot),
                        Revocable.Kind.RENEWAL.about(after.number().value()));
            }
            return new SnapshotStore.Change<>(
                    next,
                    new Renewed(
                            renewed.stream()
                                    .map(DecisionNumber.OfException::new)
                                    .toList(),
                            Undo.of(Revocable.Kind.RENEWAL, renewed)));
        });
    }

    private static void requireWords(RenewalDraft draft) {
        ProblemException.requireLine("reason", draft.reason(), 2000, "say why they go on");
        if (draft.exceptions() == null
                || draft.exceptions().isEmpty()
                || draft.exceptions().size() > MOST_AT_ONCE) {
            throw ProblemException.badField("exceptions", "1 to " + MOST_AT_ONCE + " exceptions are renewed at once");
        }
    }

    /** What would go on, each with a number of its own. */
    private List<ExceptionGrant> goOn(RenewalDraft draft, String author, Optional<String> approver, Snapshot snapshot) {
        Instant now = clock.instant();
        long number = snapshot.decisions().nextException().value();
        List<ExceptionGrant> goOn = new ArrayList<>();
        for (long one : draft.exceptions().stream().distinct().toList()) {
            ExceptionGrant before = standing(snapshot.decisions(), one, now);
            Instant until =
                    ExceptionWords.end(draft.until(), ExceptionWords.zone(snapshot.fleet(), before.hosts()), now);
            if (!until.isAfter(before.until())) {
                throw ProblemException.badField(
                        "until",
                        "exception " + one + " goes on until "
                                + ExceptionWords.lastDay(before.until(), before.hosts(), snapshot.fleet())
                                + " already; a renewal ends later");
            }
            goOn.add(before.renewed(
                            new DecisionNumber.OfException(number++),
                            until,
                            draft.reason().strip(),
                            author,
                            now)
                    .approvedBy(approver));
        }
        return goOn;
    }

    private Set<Ground> grounds(List<ExceptionGrant> exceptions, Snapshot snapshot) {
        return exceptions.stream()
                .flatMap(exception -> Ground.of(exception, snapshot.fleet(), rules.now()).stream())
                .collect(Collectors.toCollection(TreeSet::new));
    }

    /**
     * Proposes that they go on; it lapses within a week, or with the first of them.
     *
     * @throws ProblemException 422 if that needs no approver
     */
    Proposals.Proposed propose(RenewalDraft draft, Optional<RequestKey> request, Principal who) {
        requireWords(draft);
        return store.writeOnce(request, 0, Proposals.Proposed.class, snapshot -> {
            List<ExceptionGrant> goOn = goOn(draft, who.getName(), Optional.empty(), snapshot);
            RoaringBitmap hosts = new RoaringBitmap();
            goOn.forEach(one -> hosts.or(
                    snapshot.fleet().matching(one.hosts(), snapshot.fleet().all())));
            Instant week = clock.instant().plus(Proposals.WEEK);
            Instant lapses = draft.exceptions().stream()
                    .map(number -> standing(snapshot.decisions(), number, clock.instant())
                            .end())
                    .min(Comparator.naturalOrder())
                    .filter(week::isAfter)
                    .orElse(week);
            return new SnapshotStore.Change<>(
                    snapshot,
                    proposals.propose(
                            Proposal.About.RENEWAL,
                            new UpdateId(ExceptionWords.subject(goOn.get(0))),
                            draft,
                            grounds(goOn, snapshot),
                            hosts.getCardinality(),
                            lapses,
                            goOn.stream().map(one -> words(one, snapshot)).collect(Collectors.joining(" ")),
                            who));
        });
    }

    List<Proposal> proposed() {
        return proposals.open(Proposal.About.RENEWAL);
    }

    RenewalDraft draft(Proposal proposal) {
        return proposals.draft(proposal, RenewalDraft.class);
    }

    /** Lets go on what is proposed to, as it is now. */
    Renewed approve(long number, Optional<RequestKey> request, Principal who) {
        Optional<Renewed> before = request.flatMap(key -> store.answered(key, Renewed.class));
        if (before.isPresent()) {
            return before.get();
        }
        Proposal proposal = proposals.waiting(number, Proposal.About.RENEWAL, who);
        return renew(
                draft(proposal),
                proposal.author(),
                Optional.of(who.getName()),
                request,
                who,
                grounds -> proposals.approved(number, who));
    }

    private static ExceptionGrant standing(Decisions decisions, long number, Instant now) {
        ExceptionGrant exception = decisions
                .exception(new DecisionNumber.OfException(number))
                .orElseThrow(() -> ProblemException.notFound("there is no exception " + number));
        if (!exception.standsAt(now)) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "exceptions",
                    "exception " + number
                            + " does not stand any more: it was renewed, taken back, or has lapsed; make another one on the case");
        }
        return exception;
    }

    private static String words(ExceptionGrant after, Snapshot snapshot) {
        return "Renewed the exception on " + ExceptionMapper.wordsOf(after.scope()) + " where " + after.hosts()
                + ", the "
                + (after.renewals() == 1 ? "first" : after.renewals() == 2 ? "second" : after.renewals() + "th")
                + " time, until " + ExceptionWords.lastDay(after.until(), after.hosts(), snapshot.fleet())
                + ", because " + after.reason() + "; owner " + after.owner() + ".";
    }
}
