package lucid.core.evidence;

import java.time.Instant;
import java.util.Optional;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;

/**
 * An analyst's word that one failure of a host is not by this update. A later failure of the host is another one.
 *
 * @param failure which one; none in words of an older version of this product, which are about all failures that had
 *     happened when they were given
 */
public record DismissedFailure(
        long number,
        UpdateId updateId,
        HostName host,
        Optional<Failure> failure,
        String reason,
        String author,
        Instant createdAt,
        Optional<Instant> revokedAt) {

    /** @param code or symptom; @param at when it happened */
    public record Failure(String code, Instant at) {}

    public boolean stands() {
        return revokedAt.isEmpty();
    }

    /** True if it is about a failure of its host. */
    boolean covers(String code, Instant at) {
        return failure.map(one -> one.code().equals(code) && one.at().equals(at))
                .orElseGet(() -> !at.isAfter(createdAt));
    }

    public DismissedFailure revoked(Instant instant) {
        return new DismissedFailure(number, updateId, host, failure, reason, author, createdAt, Optional.of(instant));
    }
}
