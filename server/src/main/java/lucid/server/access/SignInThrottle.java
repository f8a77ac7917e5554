package lucid.server.access;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/**
 * Slows down who guesses passwords. A try is counted as failed when it begins, in one step with the question whether it
 * may begin, so that many at once are no more than many after another; a success takes the count back.
 *
 * <p>Counted are the tries for a name from one address (free: 5), those from one address for any name (free: 20), after
 * which each must wait from a few seconds up to fifteen minutes; and those for a name from everywhere (free: 30), after
 * which addresses from which that person has not signed in before wait, but never longer than half a minute. So nobody
 * is shut out by others: who has been here before is not slowed by what happens elsewhere. Only what was counted lately
 * is kept, up to a bound, so that made-up names do not fill the memory.
 */
@Component
class SignInThrottle {

    private static final int FREE_FOR_A_NAME_AT_AN_ADDRESS = 5;
    private static final int FREE_FOR_AN_ADDRESS = 20;
    private static final int FREE_FOR_A_NAME = 30;
    private static final Duration FIRST_WAIT = Duration.ofSeconds(4);
    private static final Duration LONGEST_WAIT = Duration.ofMinutes(15);
    private static final Duration LONGEST_WAIT_FOR_A_NAME = Duration.ofSeconds(30);
    private static final int MOST_REMEMBERED = 10_000;

    private record Failures(int count, Instant last) {}

    /**
     * What is counted: tries for a name, from an address, or for a name from an address; the part that does not matter
     * is empty.
     */
    private record Counted(String name, String address) {}

    private final Clock clock;
    private final Map<Counted, Failures> failures = new LinkedHashMap<>();
    /** Names with addresses from which they have signed in. */
    private final Set<Counted> wereHere = new LinkedHashSet<>();

    SignInThrottle(Clock clock) {
        this.clock = clock;
    }

    /**
     * Begins a try.
     *
     * @param name no longer than a name can be
     * @return how long to wait before the next; empty if this one may go on, which is then counted as failed until
     *     {@link #succeeded}
     */
    synchronized Optional<Duration> begin(String name, String address) {
        Duration wait = longer(
                wait(new Counted(name, address), FREE_FOR_A_NAME_AT_AN_ADDRESS, LONGEST_WAIT),
                wait(new Counted("", address), FREE_FOR_AN_ADDRESS, LONGEST_WAIT));
        if (!wereHere.contains(new Counted(name, address))) {
            wait = longer(wait, wait(new Counted(name, ""), FREE_FOR_A_NAME, LONGEST_WAIT_FOR_A_NAME));
        }
        if (!wait.isZero()) {
            return Optional.of(wait);
        }
        count(new Counted(name, address), 1);
        count(new Counted("", address), 1);
        count(new Counted(name, ""), 1);
        return Optional.empty();
    }

    /** Takes one try back that was begun and turned out to ask for nothing yet; what failed before stays counted. */
    synchronized void takeBack(String name, String address) {
        count(new Counted(name, address), -1);
        count(new Counted("", address), -1);
        count(new Counted(name, ""), -1);
    }

    synchronized void succeeded(String name, String address) {
        takeBack(name, address);
        failures.remove(new Counted(name, address));
        wereHere.remove(new Counted(name, address));
        wereHere.add(new Counted(name, address));
        bound(wereHere.iterator(), wereHere.size());
    }

    private Duration wait(Counted key, int free, Duration longest) {
        Failures of = failures.get(key);
        if (of == null || of.count() < free) {
            return Duration.ZERO;
        }
        // Doubles with each failure; the exponent is cut before it can overflow.
        Duration whole = FIRST_WAIT.multipliedBy(1L << Math.min(of.count() - free, 20));
        Duration left =
                Duration.between(clock.instant(), of.last().plus(whole.compareTo(longest) > 0 ? longest : whole));
        return left.isNegative() ? Duration.ZERO : left;
    }

    private void count(Counted key, int by) {
        Failures before = failures.remove(key);
        boolean recent = before != null
                && before.last().plus(LONGEST_WAIT.multipliedBy(2)).isAfter(clock.instant());
        int count = (recent ? before.count() : 0) + by;
        if (count > 0) {
            failures.put(key, new Failures(count, by < 0 ? before.last() : clock.instant()));
        }
        bound(failures.keySet().iterator(), failures.size());
    }

    private static void bound(Iterator<?> oldest, int size) {
        for (int more = size - MOST_REMEMBERED; more > 0; more--) {
            oldest.next();
            oldest.remove();
        }
    }

    private static Duration longer(Duration a, Duration b) {
        return a.compareTo(b) >= 0 ? a : b;
    }
}
