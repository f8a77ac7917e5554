package lucid.core.evidence;

import java.time.Instant;
import java.util.Optional;

/** An analyst's word that a host's failure is not by this update. */
public record Strike(long number, String updateId, String host, String reason, String author, Instant struck, Optional<Instant> takenBack) {
    public boolean stands() {
        return takenBack.isEmpty();
    }

    public Strike takenBackAt(Instant instant) {
        return new Strike(number, updateId, host, reason, author, struck, Optional.of(instant));
    }
}
