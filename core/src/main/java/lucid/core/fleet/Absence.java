package lucid.core.fleet;

import java.time.Duration;
import java.time.Instant;

/** A time in which a host did not report, longer than two of its rhythms. */
public record Absence(Instant from, Instant to) {
    public Duration length() {
        return Duration.between(from, to);
    }
}
