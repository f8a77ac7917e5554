package lucid.server.access;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * Slows down who guesses passwords: after five failures for a name, or twenty from an address, each further try must wait, from a few seconds up to
 * fifteen minutes. A success forgets the failures of the name. Only what is counted lately is kept, so that made-up names do not fill the memory.
 */
@Component
class SignInThrottle {

    private static final int FREE_FOR_A_NAME = 5;
    private static final int FREE_FOR_AN_ADDRESS = 20;
    private static final Duration FIRST_WAIT = Duration.ofSeconds(4);
    private static final Duration LONGEST_WAIT = Duration.ofMinutes(15);
    private static final int MOST_REMEMBERED = 10_000;

    private record Failures(int count, Instant last) {}

    private final Clock clock;
    private final Map<String, Failures> failures = new LinkedHashMap<>();

    SignInThrottle(Clock clock) {
        this.clock = clock;
    }

    /** How long this name, or anybody at this address, must wait before the next try; empty if it may be now. */
    synchronized Optional<Duration> wait(String name, String address) {
        Duration wait = longer(wait("name " + name, FREE_FOR_A_NAME), wait("address " + address, FREE_FOR_AN_ADDRESS));
        return wait.isZero() ? Optional.empty() : Optional.of(wait);
    }

    synchronized void failed(String name, String address) {
        count("name " + name);
        count("address " + address);
    }

    synchronized void succeeded(String name) {
        failures.remove("name " + name);
    }

    private Duration wait(String key, int free) {
        Failures of = failures.get(key);
        if (of == null || of.count() < free) {
            return Duration.ZERO;
        }
        // Doubles with each failure; the exponent is cut before it can overflow.
        Duration whole = FIRST_WAIT.multipliedBy(1L << Math.min(of.count() - free, 20));
        Duration left = Duration.between(clock.instant(), of.last().plus(whole.compareTo(LONGEST_WAIT) > 0 ? LONGEST_WAIT : whole));
        return left.isNegative() ? Duration.ZERO : left;
    }

    private void count(String key) {
        Failures before = failures.remove(key);
        boolean recent = before != null && before.last().plus(LONGEST_WAIT.multipliedBy(2)).isAfter(clock.instant());
        failures.put(key, new Failures(recent ? before.count() + 1 : 1, clock.instant()));
        Iterator<String> oldest = failures.keySet().iterator();
        while (failures.size() > MOST_REMEMBERED) {
            oldest.next();
            oldest.remove();
        }
    }

    private static Duration longer(Duration a, Duration b) {
        return a.compareTo(b) >= 0 ? a : b;
    }
}
