package lucid.core.evidence;

import java.time.Instant;
import java.util.Optional;
import lucid.core.update.UpdateId;

/** What somebody wrote on a case for whoever looks at it next; it changes nothing that is weighed. */
public record CaseNote(
        long number, UpdateId updateId, String words, String author, Instant createdAt, Optional<Instant> revokedAt) {
    public boolean stands() {
        return revokedAt.isEmpty();
    }

    public CaseNote revoked(Instant instant) {
        return new CaseNote(number, updateId, words, author, createdAt, Optional.of(instant));
    }
}
