package lucid.server.verdicts;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.approval.Ground;
import lucid.core.ruling.Verdict;
import lucid.server.proposals.Proposal;
import lucid.server.proposals.Proposals;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.verdicts.Wording.Worded;
import lucid.server.views.CaseVersions;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Service;

/** Sentences that need a second person. */
@Service
class ProposalService {

    private final SnapshotStore store;
    private final VerdictService verdicts;
    private final Proposals proposals;
    private final Clock clock;

    ProposalService(SnapshotStore store, VerdictService verdicts, Proposals proposals, Clock clock) {
        this.store = store;
        this.verdicts = verdicts;
        this.proposals = proposals;
        this.clock = clock;
    }

    List<Proposal> open() {
        return proposals.open(Proposal.About.VERDICT);
    }

    VerdictDraft draft(Proposal proposal) {
        return proposals.draft(proposal, VerdictDraft.class);
    }

    /** @throws ProblemException 422 if it needs no approver */
    Proposals.Proposed propose(VerdictDraft draft, String ifMatch, Optional<RequestKey> request, Principal who) {
        VerdictService.requireReason(draft);
        List<Worded> worded = verdicts.consequences(store.snapshot(), draft, who.getName());
        Set<Ground> grounds = VerdictService.grounds(worded);
        Proposals.requireGrounds(grounds);
        return store.writeOnce(request, 0, Proposals.Proposed.class, snapshot -> {
            CaseVersions.require(ifMatch, snapshot, snapshot.update(draft.update()));
            Instant lapses = worded.stream()
                    .map(Worded::verdict)
                    .filter(verdict -> !verdict.isLetGo())
                    .flatMap(Verdict::ends)
                    .min(Comparator.naturalOrder())
                    .orElse(clock.instant().plus(Proposals.WEEK));
            return new SnapshotStore.Change<>(
                    snapshot,
                    proposals.propose(
                            Proposal.About.VERDICT,
                            draft.update(),
                            draft,
                            grounds,
                            worded.stream()
                                    .mapToInt(one -> one.consequence().decided().getCardinality())
                                    .sum(),
                            lapses,
                            worded.stream().map(VerdictService::sentence).collect(Collectors.joining(" ")),
                            who));
        });
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
        Proposal proposal = proposals.waiting(number, Proposal.About.VERDICT, who);
        return verdicts.handDown(
                List.of(draft(proposal)),
                new Verdict.Origin(proposal.author(), clock.instant(), Optional.of(who.getName())),
                ifMatch,
                request,
                who,
                worded -> proposals.approved(number, who));
    }
}
