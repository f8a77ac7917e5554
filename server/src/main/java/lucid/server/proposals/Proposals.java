package lucid.server.proposals;

import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.approval.Ground;
import lucid.core.update.UpdateId;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;
import tools.jackson.databind.json.JsonMapper;

/**
 * What needs a second person: proposed by one, approved or sent back by another. What approving one makes is the matter
 * of whoever knows what it is about.
 */
@Service
public class Proposals {

    private static final int LONGEST_WORDS = 2_000;

    /** What has no day of its own lapses after so long; what was decided is told for so long. */
    public static final Duration WEEK = Duration.ofDays(7);

    private final SnapshotStore store;
    private final ProposalMapper mapper;
    private final JsonMapper json;
    private final Clock clock;

    Proposals(SnapshotStore store, ProposalMapper mapper, JsonMapper json, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.json = json;
        this.clock = clock;
    }

    static AuditEntry.Kind kindOf(Proposal.About about) {
        return switch (about) {
            case VERDICT -> AuditEntry.Kind.VERDICT;
            case EXCEPTION, RENEWAL -> AuditEntry.Kind.EXCEPTION;
        };
    }

    /** Those that wait; what lapses first in front. */
    public List<Proposal> waiting() {
        Instant now = clock.instant();
        return mapper.since(now).stream()
                .map(ProposalMapper.Row::proposal)
                .filter(proposal -> proposal.state(now) == Proposal.State.WAITING)
                .toList();
    }

    /** Those that wait, and those of which something became within a week; what lapses first comes first. */
    public List<Proposal> open(Proposal.About about) {
        return mapper.since(clock.instant().minus(WEEK)).stream()
                .map(ProposalMapper.Row::proposal)
                .filter(proposal -> proposal.about() == about)
                .toList();
    }

    public <T> T draft(Proposal proposal, Class<T> type) {
        return json.readValue(proposal.draft(), type);
    }

    /** @param undo address to which a DELETE withdraws it */
    public record Proposed(long number, Instant lapsesAt, String undo) {}

    /**
     * Proposes something; within {@link SnapshotStore#write}.
     *
     * @param sentence what it would do, for the record
     * @throws ProblemException 422 without grounds
     */
    public Proposed propose(
            Proposal.About about,
            UpdateId update,
            Object draft,
            Set<Ground> grounds,
            int hosts,
            Instant lapsesAt,
            String sentence,
            Principal who) {
        requireGrounds(grounds);
        long number = mapper.next();
        mapper.add(new ProposalMapper.Row(
                number,
                about,
                update.value(),
                json.writeValueAsString(draft),
                grounds.stream().sorted().map(Ground::toString).collect(Collectors.joining(",")),
                hosts,
                who.getName(),
                clock.instant(),
                lapsesAt,
                null,
                null,
                null,
                null));
        store.record(
                kindOf(about),
                update.value(),
                who,
                "Proposed, because it " + ProposalWords.of(grounds) + ": " + sentence,
                Revocable.Kind.PROPOSAL.about(number));
        return new Proposed(number, lapsesAt, Undo.of(Revocable.Kind.PROPOSAL, List.of(number)));
    }

    /** @throws ProblemException 422 without grounds */
    public static void requireGrounds(Set<Ground> grounds) {
        if (grounds.isEmpty()) {
            throw ProblemException.badField("approval", "this needs no approver; hand it down");
        }
    }

    /**
     * One that waits, for somebody who decides about it.
     *
     * @throws ProblemException 404 if there is none, 409 if it waits no more, 403 if it is their own
     */
    public Proposal waiting(long number, Proposal.About about, Principal who) {
        return waiting(
                mapper.find(number)
                        .map(ProposalMapper.Row::proposal)
                        .filter(proposal -> proposal.about() == about)
                        .orElseThrow(() -> ProblemException.notFound("there is no proposal " + number)),
                who);
    }

    private Proposal waiting(Proposal proposal, Principal who) {
        Proposal.State state = proposal.state(clock.instant());
        if (state != Proposal.State.WAITING) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "number",
                    "proposal " + proposal.number()
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

    /** Keeps that somebody approved it; within {@link SnapshotStore#write}, beside what that makes. */
    public void approved(long number, Principal who) {
        decide(number, Proposal.Outcome.APPROVED, who, null);
    }

    private void decide(long number, Proposal.Outcome outcome, Principal who, String words) {
        if (mapper.decide(number, outcome, who.getName(), clock.instant(), words) == 0) {
            throw new ProblemException(HttpStatus.CONFLICT, "number", "proposal " + number + " was decided before");
        }
    }

    void sendBack(long number, String words, Principal who) {
        ProblemException.requireProse("words", words, LONGEST_WORDS, "say why, so that it can be worded anew");
        Proposal proposal = waiting(
                mapper.find(number)
                        .map(ProposalMapper.Row::proposal)
                        .orElseThrow(() -> ProblemException.notFound("there is no proposal " + number)),
                who);
        store.write(snapshot -> {
            decide(number, Proposal.Outcome.SENT_BACK, who, words);
            store.record(
                    kindOf(proposal.about()),
                    proposal.update().value(),
                    who,
                    "Sent back what " + proposal.author() + " proposed: " + words + ".");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }
}
