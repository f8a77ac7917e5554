package lucid.server.docket;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.timeout;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.verifyNoInteractions;
import static org.mockito.Mockito.when;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.KnownExploited;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.snapshot.Topic;
import org.junit.jupiter.api.Test;
import org.springframework.context.ApplicationEventPublisher;

/** Nobody waits for a docket of thousands of reports, and nobody is shown one from before a decision. */
class DocketsTest {

    private static final Instant NOW = Instant.parse("2026-11-24T05:00:00Z");

    private final SnapshotStore store = mock();
    private final CountDownLatch goOn = new CountDownLatch(1);
    private final Thread asking = Thread.currentThread();
    private volatile boolean slow;
    private volatile Duration later = Duration.ZERO;
    /** Whoever makes a docket ahead of others asks for the time, and takes long over it. */
    private final Clock clock = new Clock() {
        @Override
        public Instant instant() {
            if (slow && Thread.currentThread() != asking) {
                try {
                    assertThat(goOn.await(5, TimeUnit.MINUTES)).isTrue();
                } catch (InterruptedException e) {
                    throw new IllegalStateException(e);
                }
            }
            return NOW.plus(later);
        }

        @Override
        public ZoneOffset getZone() {
            return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(ZoneId zone) {
            return this;
        }
    };

    private final ApplicationEventPublisher events = mock();
    private final Dockets dockets = new Dockets(store, clock, events);

    private static Snapshot hosts(int count) {
        List<Host> hosts = IntStream.range(0, count)
                .mapToObj(i -> Host.first(
                        i,
                        new HostReport(
                                new HostName("h" + i),
                                "Tarn Linux 4",
                                NOW,
                                Map.of(),
                                List.of(),
                                Optional.empty(),
                                Optional.empty(),
                                List.of())))
                .toList();
        return Snapshot.EMPTY.withHosts(hosts);
    }

    private void known(Snapshot snapshot) {
        when(store.snapshot()).thenReturn(snapshot);
    }

    @Test
    void whoAsksWhileOneIsMadeAheadGetsTheOneBefore() {
        known(Snapshot.EMPTY);
        Dockets.Current before = dockets.current();
        Snapshot crowded = hosts(1_500);
        known(crowded);
        slow = true;
        assertThat(dockets.current()).as("nobody made it ahead before").isSameAs(before);
        assertThat(dockets.current()).isSameAs(before);
        verifyNoInteractions(events);

        Snapshot learned = crowded.with(Evidence.NONE.withExploited(List.of(
                new KnownExploited("CVE-2026-9000001", LocalDate.EPOCH, "", "", Optional.empty(), false, NOW))));
        known(learned);
        CompletableFuture<Dockets.Current> asked = CompletableFuture.supplyAsync(dockets::current);
        assertThat(asked).isNotDone();
        goOn.countDown();
        assertThat(asked.join().snapshot()).as("what was learned is in it").isSameAs(learned);
        verify(events, timeout(300_000)).publishEvent(new SnapshotStore.Changed(Set.of(Topic.HOSTS)));
    }

    @Test
    void oneThatIsTooOldIsWaitedFor() {
        known(Snapshot.EMPTY);
        dockets.current();
        Snapshot crowded = hosts(1_500);
        known(crowded);
        slow = true;
        dockets.makeAhead();
        later = Duration.ofMinutes(16);
        CompletableFuture<Dockets.Current> asked = CompletableFuture.supplyAsync(dockets::current);
        goOn.countDown();
        assertThat(asked.join().snapshot()).isSameAs(crowded);
    }

    @Test
    void fewReportsAreNoReasonToMakeOneAhead() {
        known(Snapshot.EMPTY);
        dockets.current();
        Snapshot few = hosts(10);
        known(few);
        slow = true;
        dockets.makeAhead();
        assertThat(dockets.current().snapshot()).as("made as it is asked for").isSameAs(few);
    }
}
