package lucid.server.verdicts;

import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import lucid.core.approval.Ground;

/**
 * A sentence that waits for an approver. It holds nothing.
 *
 * @param grounds why it needs one
 * @param hosts for which it would have been what holds when it was proposed
 * @param lapsesAt from when on nobody can approve it any more
 * @param decided what became of it; none: it waits, or has just lapsed
 */
record Proposal(
        long number,
        VerdictDraft draft,
        Set<Ground> grounds,
        int hosts,
        String author,
        Instant createdAt,
        Instant lapsesAt,
        Optional<Decided> decided) {

    enum Outcome {
        APPROVED,
        SENT_BACK,
        WITHDRAWN,
        /** Its day passed; until that is written down it is told by the day alone. */
        LAPSED
    }

    enum State {
        WAITING,
        APPROVED,
        SENT_BACK,
        WITHDRAWN,
        LAPSED
    }

    /** @param words why it was sent back; else empty */
    record Decided(Outcome outcome, String by, Instant at, String words) {}

    State state(Instant now) {
        return decided.map(made -> State.valueOf(made.outcome().name()))
                .orElse(now.isBefore(lapsesAt) ? State.WAITING : State.LAPSED);
    }
}
