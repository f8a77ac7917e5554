package lucid.core.evidence;

import java.time.Instant;
import java.util.Optional;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;

/** An analyst's word that a host's failure is not by this update. */
public record DismissedFailure(
        long number,
        UpdateId updateId,
        HostName host,
        String reason,
        String author,
        Instant createdAt,
        Optional<Instant> revokedAt) {
    public boolean stands() {
        return revokedAt.isEmpty();
    }

    public DismissedFailure revoked(Instant instant) {
        return new DismissedFailure(number, updateId, host, reason, author, createdAt, Optional.of(instant));
    }
}
