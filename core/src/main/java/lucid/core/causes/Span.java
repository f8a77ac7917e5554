package lucid.core.causes;

import java.time.Instant;
import java.util.Optional;

/**
 * A stretch of time in which hosts tried an update. What failed only then is most likely an outage, not the update.
 *
 * @param after none: from the beginning
 * @param until none: it goes on
 */
public record Span(Optional<Instant> after, Optional<Instant> until) {

    public static final Span ALWAYS = new Span(Optional.empty(), Optional.empty());

    public boolean isAlways() {
        return equals(ALWAYS);
    }

    public boolean contains(Instant instant) {
        return after.filter(from -> !instant.isAfter(from)).isEmpty()
                && until.filter(instant::isAfter).isEmpty();
    }

    /** True for whoever tries it at {@code now} or later. */
    boolean goesOn() {
        return until.isEmpty();
    }

    Span and(Span other) {
        return new Span(after.or(other::after), until.or(other::until));
    }

    @Override
    public String toString() {
        return after.map(from -> "tried after " + from).orElse("")
                + (after.isPresent() && until.isPresent() ? " and " : "")
                + until.map(to -> "tried until " + to).orElse("");
    }
}
