package lucid.server.hosts;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.HostName;
import org.springframework.stereotype.Component;

/**
 * How often a host may report by itself: thirty times in a row, and again one for every five minutes that pass. A
 * report that changes much counts as several. Hosts report once a day or once an hour, and little has changed; one that
 * never stops would keep the one writer busy.
 */
@Component
class HostPace {

    private static final int IN_A_ROW = 30;
    /** So many changed products take about as long to write as one more report. */
    private static final int CHANGES_OF_ONE = 1_000;

    private static final Duration ONE_MORE = Duration.ofMinutes(5);

    /** @param from since when it counts that {@code left} are left */
    private record Left(double left, Instant from) {}

    private final Clock clock;
    private final Map<HostName, Left> hosts = new HashMap<>();

    HostPace(Clock clock) {
        this.clock = clock;
    }

    /** How long the host must wait; empty if it may report now, which is counted. */
    synchronized Optional<Duration> begin(HostName host) {
        Instant now = clock.instant();
        double left = left(host, now);
        if (left < 1) {
            return Optional.of(Duration.ofMillis((long) ((1 - left) * ONE_MORE.toMillis())));
        }
        hosts.put(host, new Left(left - 1, now));
        return Optional.empty();
    }

    /**
     * Counts what the report that began is found to change, before it is written. It is still taken; what it takes
     * beyond its share, the host waits for next time.
     *
     * @param products with another version than before, added or gone
     */
    synchronized void changes(HostName host, int products) {
        Instant now = clock.instant();
        hosts.put(host, new Left(left(host, now) - products / CHANGES_OF_ONE, now));
    }

    private double left(HostName host, Instant now) {
        Left before = hosts.getOrDefault(host, new Left(IN_A_ROW, now));
        return Math.min(
                IN_A_ROW,
                before.left() + (double) Duration.between(before.from(), now).toMillis() / ONE_MORE.toMillis());
    }
}
