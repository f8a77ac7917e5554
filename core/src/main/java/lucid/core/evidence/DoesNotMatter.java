package lucid.core.evidence;

import java.time.Instant;
import java.util.Optional;
import lucid.core.fleet.Predicate;
import org.roaringbitmap.RoaringBitmap;

/**
 * A note on a case: hosts for which its weakness does not matter. The predicate is read anew on every report.
 *
 * @param then numbers of the hosts it was true of when it was written
 */
public record DoesNotMatter(long number, String updateId, Predicate hosts, String reason, String author, Instant written, RoaringBitmap then, Optional<Instant> takenBack) {
    public boolean stands() {
        return takenBack.isEmpty();
    }

    public DoesNotMatter takenBackAt(Instant instant) {
        return new DoesNotMatter(number, updateId, hosts, reason, author, written, then, Optional.of(instant));
    }
}
