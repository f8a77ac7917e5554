package lucid.server.intake;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * How often a host may report by itself: thirty times in a row, and again one for every five minutes that pass. Hosts report once a day or once an hour; one that
 * never stops would keep the one writer busy.
 */
@Component
class HostPace {

    private static final int IN_A_ROW = 30;
    private static final Duration ONE_MORE = Duration.ofMinutes(5);

    /** @param from since when it counts that {@code left} are left */
    private record Left(double left, Instant from) {}

    private final Clock clock;
    private final Map<String, Left> hosts = new HashMap<>();

    HostPace(Clock clock) {
        this.clock = clock;
    }

    /** How long the host must wait; empty if it may report now, which is counted. */
    synchronized Optional<Duration> begin(String host) {
        Instant now = clock.instant();
        Left before = hosts.getOrDefault(host, new Left(IN_A_ROW, now));
        double left = Math.min(IN_A_ROW, before.left() + (double) Duration.between(before.from(), now).toMillis() / ONE_MORE.toMillis());
        if (left < 1) {
            return Optional.of(Duration.ofMillis((long) ((1 - left) * ONE_MORE.toMillis())));
        }
        hosts.put(host, new Left(left - 1, now));
        return Optional.empty();
    }
}
