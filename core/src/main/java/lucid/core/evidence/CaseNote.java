package lucid.core.evidence;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Optional;
import lucid.core.update.UpdateId;

/**
 * What somebody wrote on a case for whoever looks at it next; it changes nothing that is weighed.
 *
 * @param author name of who wrote it
 */
public record CaseNote(
        long number,
        UpdateId updateId,
        String words,
        FollowUp followUp,
        String author,
        Instant createdAt,
        Optional<Instant> revokedAt) {

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

    public boolean stands() {
        return revokedAt.isEmpty();
    }

    public CaseNote revoked(Instant instant) {
        return new CaseNote(number, updateId, words, followUp, author, createdAt, Optional.of(instant));
    }
}
