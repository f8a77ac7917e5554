package lucid.server.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;

class SignInThrottleTest {

    private static final class Hand extends Clock {
        Instant now = Instant.parse("2026-11-24T09:00:00Z");

        @Override
        public Instant instant() {
            return now;
        }

        @Override
        public ZoneId getZone() {
            return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(ZoneId zone) {
            return this;
        }
    }

    private final Hand clock = new Hand();
    private final SignInThrottle throttle = new SignInThrottle(clock);

    private void fail(int times, String name, String address) {
        for (int i = 0; i < times; i++) {
            throttle.begin(name, address);
        }
    }

    /** Whether a try may begin, without leaving it counted. */
    private Duration wait(String name, String address) {
        return throttle.begin(name, address).orElse(Duration.ZERO);
    }

    @Test
    void fiveTriesAreFreeThenEachWaitIsTwiceAsLongUpToFifteenMinutes() {
        fail(5, "a", "one");
        assertThat(wait("a", "one")).isEqualTo(Duration.ofSeconds(4));
        clock.now = clock.now.plusSeconds(4);
        fail(1, "a", "one");
        assertThat(wait("a", "one")).isEqualTo(Duration.ofSeconds(8));
        for (int i = 0; i < 12; i++) {
            clock.now = clock.now.plus(Duration.ofMinutes(15));
            fail(1, "a", "one");
        }
        assertThat(wait("a", "one")).isEqualTo(Duration.ofMinutes(15));
    }

    @Test
    void whoWaitsIsNotCountedAgain() {
        fail(500, "a", "one");
        assertThat(wait("a", "one")).isEqualTo(Duration.ofSeconds(4));
    }

    @Test
    void anAddressThatTriesManyNamesMustWaitToo() {
        for (int i = 0; i < 20; i++) {
            fail(1, "name-" + i, "one");
        }
        assertThat(wait("fresh", "one")).isPositive();
        assertThat(wait("fresh", "another")).isZero();
    }

    @Test
    void guessingFromEverywhereSlowsNewcomersALittleAndNobodyWhoHasBeenHere() {
        throttle.begin("a", "home");
        throttle.succeeded("a", "home");
        for (int i = 0; i < 400; i++) {
            fail(1, "a", "elsewhere-" + i);
            clock.now = clock.now.plusSeconds(1);
        }
        assertThat(wait("a", "home")).as("from where the person signs in").isZero();
        assertThat(wait("a", "a new place")).isBetween(Duration.ofSeconds(1), Duration.ofSeconds(30));
        clock.now = clock.now.plusSeconds(30);
        assertThat(wait("a", "a new place")).isZero();
    }

    @Test
    void triesAtTheSameMomentAreCountedOneByOne() throws InterruptedException {
        AtomicInteger let = new AtomicInteger();
        ExecutorService crowd = Executors.newFixedThreadPool(16);
        for (int i = 0; i < 150; i++) {
            crowd.execute(() -> throttle.begin("a", "one").ifPresentOrElse(wait -> {}, let::incrementAndGet));
        }
        crowd.shutdown();
        assertThat(crowd.awaitTermination(2, TimeUnit.MINUTES)).isTrue();
        assertThat(let).hasValue(5);
    }

    @Test
    void aTryThatAskedForNothingYetForgetsNoneOfThoseThatFailed() {
        for (int i = 0; i < 10; i++) {
            throttle.begin("a", "one");
            if (throttle.begin("a", "one").isEmpty()) {
                throttle.takeBack("a", "one");
            }
        }
        assertThat(wait("a", "one")).as("five guesses between, and no more").isPositive();
    }

    @Test
    void aSuccessForgetsTheTriesAndHalfAnHourForgetsEverything() {
        fail(4, "a", "one");
        throttle.begin("a", "one");
        throttle.succeeded("a", "one");
        fail(4, "a", "one");
        assertThat(wait("a", "one")).isZero();
        clock.now = clock.now.plus(Duration.ofMinutes(31));
        fail(4, "a", "one");
        assertThat(wait("a", "one")).isZero();
    }
}
