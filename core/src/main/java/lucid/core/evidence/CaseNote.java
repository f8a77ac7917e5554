package lucid.core.evidence;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Optional;
import lucid.core.update.UpdateId;

/**
 * What somebody wrote on a case for whoever looks at it next; it changes nothing that is weighed.
 *
 * @param objection what it objects to, where it does
 * @param goesOnFrom number of the note that it goes on from: the same words, given to somebody else
 * @param author name of who wrote it
 */
public record CaseNote(
        long number,
        UpdateId updateId,
        String words,
        FollowUp followUp,
        Optional<Objection> objection,
        Optional<Long> goesOnFrom,
        String author,
        Instant createdAt,
        Optional<Instant> revokedAt) {

    /** A note that objects to nothing and was written as it is. */
    public CaseNote(
            long number,
            UpdateId updateId,
            String words,
            FollowUp followUp,
            String author,
            Instant createdAt,
            Optional<Instant> revokedAt) {
        this(number, updateId, words, followUp, Optional.empty(), Optional.empty(), author, createdAt, revokedAt);
    }

    /**
     * What becomes of the case next.
     *
     * @param assignee name of who sees to it
     * @param day on which it is looked at again, from its beginning (UTC) on
     */
    public record FollowUp(Optional<String> assignee, Optional<LocalDate> day) {
        public static final FollowUp NONE = new FollowUp(Optional.empty(), Optional.empty());

        public Optional<Instant> from() {
            return day.map(date -> date.atStartOfDay(ZoneOffset.UTC).toInstant());
        }
    }

    /**
     * Whoever answers for an exception objects to a force that goes over it. It holds nothing: somebody must answer it.
     *
     * @param force number of the force
     * @param exception number of the exception
     */
    public record Objection(long force, long exception) {}

    public boolean stands() {
        return revokedAt.isEmpty();
    }

    public CaseNote revoked(Instant instant) {
        return new CaseNote(
                number, updateId, words, followUp, objection, goesOnFrom, author, createdAt, Optional.of(instant));
    }

    /** One that goes on from this, seen to by somebody else. */
    public CaseNote handedTo(long next, String assignee) {
        return new CaseNote(
                next,
                updateId,
                words,
                new FollowUp(Optional.of(assignee), followUp.day()),
                objection,
                Optional.of(number),
                author,
                createdAt,
                Optional.empty());
    }
}
