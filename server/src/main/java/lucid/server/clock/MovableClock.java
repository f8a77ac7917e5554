package lucid.server.clock;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.concurrent.atomic.AtomicReference;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;

/**
 * The clock of the whole server: the system's, moved by what a demo or a test has set it off. A demo begins 90 days in
 * the past and is advanced to today while its history is played through the public routes, so that every instant in it
 * is one at which it happened. Times are UTC, in whole milliseconds, so that what is stored and read again is the same
 * instant.
 */
@Component
public class MovableClock extends Clock {

    private final AtomicReference<Duration> ahead;

    MovableClock(@Value("${lucid.clock.days-back:0}") int daysBack) {
        ahead = new AtomicReference<>(Duration.ofDays(-daysBack));
    }

    /** The system's clock, for commands that run without a server. */
    public static Clock system() {
        return new MovableClock(0);
    }

    /** Moves the clock forward. */
    public void advance(Duration by) {
        ahead.accumulateAndGet(by, Duration::plus);
    }

    @Override
    public Instant instant() {
        return Instant.now().plus(ahead.get()).truncatedTo(ChronoUnit.MILLIS);
    }

    @Override
    public ZoneId getZone() {
        return ZoneOffset.UTC;
    }

    @Override
    public Clock withZone(ZoneId zone) {
        return Clock.fixed(instant(), zone);
    }
}
