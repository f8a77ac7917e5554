package lucid.core.operators;

import java.time.Instant;
import java.util.Optional;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * What an operator said of installing one revision of an update: when it is agreed to be installed, or that it was.
 *
 * @param number larger than that of whatever was said before
 * @param hosts numbers of the hosts of which it was said
 * @param slot when it is to be installed; none: it is done, as was said
 * @param author name of who said so
 */
public record OperatorEntry(
        long number,
        UpdateId updateId,
        String revision,
        RoaringBitmap hosts,
        Optional<Slot> slot,
        String words,
        String author,
        Instant at) {

    /** Agreed hours, from one instant to before another. */
    public record Slot(Instant from, Instant until) {

        /** @throws IllegalArgumentException if it does not end after it begins */
        public Slot {
            if (!until.isAfter(from)) {
                throw new IllegalArgumentException("a slot ends after it begins");
            }
        }
    }

    public boolean isDone() {
        return slot.isEmpty();
    }
}
