package lucid.server.verdicts;

import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.approval.Ground;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.verdicts.Wording.Worded;
import lucid.server.views.CaseVersions;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;
import tools.jackson.databind.json.JsonMapper;

/** Sentences that need a second person: proposed by one, approved or sent back by another. */
@Service
class ProposalService {

    private static final int LONGEST_WORDS = 2_000;

    /** What has no day of its own lapses after so long; what was decided is told for so long. */
    private static final Duration WEEK = Duration.ofDays(7);

    private final SnapshotStore store;
    private final VerdictService verdicts;
    private final ProposalMapper mapper;
    private final JsonMapper json;
    private final Clock clock;

    ProposalService(SnapshotStore store, VerdictService verdicts, ProposalMapper mapper, JsonMapper json, Clock clock) {
        this.store = store;
        this.verdicts = verdicts;
        this.mapper = mapper;
        this.json = json;
        this.clock = clock;
    }

    /** Those that wait, and those of which something became within a week; what lapses first comes first. */
    List<Proposal> open() {
        return mapper.since(clock.instant().minus(WEEK)).stream()
                .map(row -> row.proposal(json))
                .toList();
    }

    /** @param undo address to which a DELETE withdraws it */
    record Proposed(long number, Instant lapsesAt, String undo) {}

    /** @throws ProblemException 422 if it needs no approver */
    Proposed propose(VerdictDraft draft, String ifMatch, Optional<RequestKey> request, Principal who) {
        VerdictService.requireReason(draft);
        Snapshot seen = store.snapshot();
        List<Worded> worded = verdicts.consequences(seen, draft, who.getName());
        Set<Ground> grounds = VerdictService.grounds(worded);
        if (grounds.isEmpty()) {
            throw ProblemException.badField("approval", "this needs no approver; hand it down");
        }
        return store.writeOnce(request, 0, Proposed.class, snapshot -> {
            Update update = snapshot.update(draft.update());
            CaseVersions.require(ifMatch, snapshot, update);
            Instant now = clock.instant();
            Instant lapses = worded.stream()
                    .map(Worded::verdict)
                    .filter(verdict -> !verdict.isLetGo())
                    .flatMap(Verdict::ends)
                    .min(Comparator.naturalOrder())
                    .orElse(now.plus(WEEK));
            long number = mapper.next();
            mapper.add(new ProposalMapper.Row(
                    number,
                    draft.update().value(),
                    json.writeValueAsString(draft),
                    grounds.stream().sorted().map(Ground::name).collect(Collectors.joining(",")),
                    worded.stream()
                            .mapToInt(one -> one.consequence().decided().getCardinality())
                            .sum(),
                    who.getName(),
                    now,
                    lapses,
                    null,
                    null,
                    null,
                    null));
            store.record(
                    AuditEntry.Kind.VERDICT,
                    draft.update().value(),
                    who,
                    "Proposed, because it " + ProposalWords.of(grounds) + ": "
                            + worded.stream().map(VerdictService::sentence).collect(Collectors.joining(" ")));
            return new SnapshotStore.Change<>(
                    snapshot, new Proposed(number, lapses, Undo.of(Revocable.Kind.PROPOSAL, List.of(number))));
        });
    }

    private Proposal waiting(long number, Principal who) {
        Proposal proposal = mapper.find(number)
                .map(row -> row.proposal(json))
                .orElseThrow(() -> ProblemException.notFound("there is no proposal " + number));
        Proposal.State state = proposal.state(clock.instant());
        if (state != Proposal.State.WAITING) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "number",
                    "proposal " + number
                            + switch (state) {
                                case APPROVED -> " was approved before";
                                case SENT_BACK -> " was sent back before";
                                case WITHDRAWN -> " was withdrawn by who proposed it";
                                default -> " has lapsed";
                            });
        }
        if (proposal.author().equals(who.getName())) {
            throw new ProblemException(HttpStatus.FORBIDDEN, "number", "nobody approves what is their own");
        }
        return proposal;
    }

    private void decide(long number, Proposal.Outcome outcome, Principal who, String words) {
        if (mapper.decide(number, outcome, who.getName(), clock.instant(), words) == 0) {
            throw new ProblemException(HttpStatus.CONFLICT, "number", "proposal " + number + " was decided before");
        }
    }

    /**
     * Hands down what is proposed, as it would be now.
     *
     * @param ifMatch version of the case on which it was looked at
     */
    VerdictService.Committed approve(long number, String ifMatch, Optional<RequestKey> request, Principal who) {
        Optional<VerdictService.Committed> before =
                request.flatMap(key -> store.answered(key, VerdictService.Committed.class));
        if (before.isPresent()) {
            return before.get();
        }
        Proposal proposal = waiting(number, who);
        return verdicts.handDown(
                proposal.draft(),
                new Verdict.Origin(proposal.author(), clock.instant(), Optional.of(who.getName())),
                ifMatch,
                request,
                who,
                worded -> decide(number, Proposal.Outcome.APPROVED, who, null));
    }

    void sendBack(long number, String words, Principal who) {
        ProblemException.requireProse("words", words, LONGEST_WORDS, "say why, so that it can be worded anew");
        Proposal proposal = waiting(number, who);
        store.write(snapshot -> {
            decide(number, Proposal.Outcome.SENT_BACK, who, words);
            store.record(
                    AuditEntry.Kind.VERDICT,
                    proposal.draft().update().value(),
                    who,
                    "Sent back what " + proposal.author() + " proposed: " + words + ".");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }
}
