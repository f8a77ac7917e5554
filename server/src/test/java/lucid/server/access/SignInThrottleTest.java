package lucid.server.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
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
            throttle.failed(name, address);
        }
    }

    @Test
    void fourFailuresAreFreeThenEachWaitIsTwiceAsLongUpToFifteenMinutes() {
        fail(4, "a", "one");
        assertThat(throttle.wait("a", "one")).isEmpty();
        fail(1, "a", "one");
        assertThat(throttle.wait("a", "one")).contains(Duration.ofSeconds(4));
        assertThat(throttle.wait("a", "another")).as("wherever it comes from").contains(Duration.ofSeconds(4));
        fail(1, "a", "one");
        assertThat(throttle.wait("a", "one")).contains(Duration.ofSeconds(8));
        clock.now = clock.now.plusSeconds(8);
        assertThat(throttle.wait("a", "one")).isEmpty();
        fail(60, "a", "two");
        assertThat(throttle.wait("a", "one")).contains(Duration.ofMinutes(15));
    }

    @Test
    void anAddressThatTriesManyNamesMustWaitToo() {
        for (int i = 0; i < 20; i++) {
            fail(1, "name-" + i, "one");
        }
        assertThat(throttle.wait("fresh", "one")).isPresent();
        assertThat(throttle.wait("fresh", "another")).isEmpty();
    }

    @Test
    void aSuccessForgetsTheNameAndHalfAnHourForgetsEverything() {
        fail(6, "a", "one");
        throttle.succeeded("a");
        assertThat(throttle.wait("a", "one")).isEmpty();
        fail(6, "b", "one");
        clock.now = clock.now.plus(Duration.ofMinutes(31));
        fail(1, "b", "one");
        assertThat(throttle.wait("b", "one")).isEmpty();
    }
}
