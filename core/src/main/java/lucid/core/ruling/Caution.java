package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;

/**
 * The fleet's declared caution: for a time standing rules offer less, or nothing. Where none stands, the fleet is open.
 * Of several the one that was declared last counts.
 *
 * @param reason why it was declared
 * @param owner who answers for it
 */
public record Caution(
        DecisionNumber.OfCaution number,
        Level level,
        Instant until,
        String reason,
        String owner,
        String author,
        Instant createdAt,
        Optional<Instant> revokedAt)
        implements Decision {

    public enum Level {
        /** The delays of standing rules are doubled. */
        WATCHFUL,
        /** Standing rules offer nothing. */
        JUDGED_ONLY
    }

    /** @throws IllegalArgumentException if it ends before it begins */
    public Caution {
        if (!until.isAfter(createdAt)) {
            throw new IllegalArgumentException("caution ends after it is declared");
        }
    }

    @Override
    public boolean covers(Host host, Population entry) {
        return true;
    }

    public boolean standsAt(Instant instant) {
        return isMadeBy(instant) && instant.isBefore(until);
    }

    public Caution revoked(Instant instant) {
        return new Caution(number, level, until, reason, owner, author, createdAt, Optional.of(instant));
    }
}
