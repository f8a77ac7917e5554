package lucid.server.proposals;

import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import lucid.core.approval.Ground;
import lucid.core.update.UpdateId;

/**
 * Something worded that waits for an approver. It holds nothing.
 *
 * @param about what it would decide
 * @param update on whose case it was worded, or of the first exception that is renewed; of none the empty one
 * @param draft as it was worded, as JSON
 * @param grounds why it needs one
 * @param hosts for which it would have been what is in force when it was proposed
 * @param lapsesAt from when on nobody can approve it any more
 * @param decided what became of it; none: it waits, or has just lapsed
 */
public record Proposal(
        long number,
        About about,
        UpdateId update,
        String draft,
        Set<Ground> grounds,
        int hosts,
        String author,
        Instant createdAt,
        Instant lapsesAt,
        Optional<Decided> decided) {

    public enum About {
        VERDICT,
        EXCEPTION,
        /** That exceptions go on after their day. */
        RENEWAL
    }

    enum Outcome {
        APPROVED,
        SENT_BACK,
        WITHDRAWN,
        /** Its day passed; until that is written down it is told by the day alone. */
        LAPSED
    }

    public enum State {
        WAITING,
        APPROVED,
        SENT_BACK,
        WITHDRAWN,
        LAPSED
    }

    /** @param words why it was sent back; else empty */
    public record Decided(Outcome outcome, String by, Instant at, String words) {}

    public State state(Instant now) {
        return decided.map(made -> State.valueOf(made.outcome().name()))
                .orElse(now.isBefore(lapsesAt) ? State.WAITING : State.LAPSED);
    }
}
