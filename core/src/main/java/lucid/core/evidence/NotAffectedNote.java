package lucid.core.evidence;

import java.time.Instant;
import java.util.Optional;
import lucid.core.fleet.HostCondition;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * A note on a case: hosts that are not affected by what it closes. The condition is read anew on every report.
 *
 * @param then numbers of the hosts it was true of when it was written
 */
public record NotAffectedNote(
        long number,
        UpdateId updateId,
        HostCondition hosts,
        String reason,
        String author,
        Instant createdAt,
        RoaringBitmap then,
        Optional<Instant> revokedAt) {
    public boolean stands() {
        return revokedAt.isEmpty();
    }

    public NotAffectedNote revoked(Instant instant) {
        return new NotAffectedNote(number, updateId, hosts, reason, author, createdAt, then, Optional.of(instant));
    }
}
