package lucid.server.docket;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.function.Function;
import lucid.core.docket.Docket;
import lucid.core.docket.Parallelism;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * The docket of the present moment. It is kept from one question to the next, so that only what was touched meanwhile
 * is weighed anew. While very many hosts report, it is made ahead of whoever asks, and who asks meanwhile gets the one
 * before, unless somebody decided or learned something since.
 */
@Component
public class Dockets {

    /** So many hosts that report otherwise are worth a docket that nobody has asked for yet. */
    private static final int MANY_HOSTS = 1_000;
    /** While one is made ahead, nobody is given one that is older; the page says of when it is. */
    private static final Duration OLDEST = Duration.ofMinutes(15);

    /** On all cores: a large fleet's docket is made from nothing at a start, and once a day. */
    private static final Parallelism ALL_CORES = new Parallelism() {
        @Override
        public <A, B> List<B> each(List<A> parts, Function<A, B> work) {
            return parts.parallelStream().map(work).toList();
        }
    };

    private final SnapshotStore store;
    private final Clock clock;
    private volatile Current last;
    private volatile boolean madeAhead;

    Dockets(SnapshotStore store, Clock clock) {
        this.store = store;
        this.clock = clock;
    }

    /** The first docket of a large fleet takes some seconds; nobody should have to wait for it. */
    @EventListener(ApplicationReadyEvent.class)
    void makeTheFirst() {
        CompletableFuture.runAsync(this::current);
    }

    /** It rests longer than it works, so that reports go on. */
    @Scheduled(fixedDelay = 10_000)
    void makeAhead() {
        Current known = last;
        if (madeAhead
                || known == null
                || store.snapshot()
                                .fleet()
                                .changedSince(known.snapshot().fleet())
                                .size()
                        < MANY_HOSTS) {
            return;
        }
        madeAhead = true;
        CompletableFuture.runAsync(this::made).whenComplete((made, fault) -> madeAhead = false);
    }

    /** A snapshot with the docket of it. */
    public record Current(Snapshot snapshot, Docket docket) {
        /** True if hosts reported since, and nothing else happened. */
        private boolean onlyHostsReportedUntil(Snapshot later) {
            return snapshot.decisions() == later.decisions()
                    && snapshot.evidence() == later.evidence()
                    && snapshot.weights() == later.weights()
                    && snapshot.carriages().catalogue() == later.carriages().catalogue()
                    && snapshot.fleet().ladder() == later.fleet().ladder();
        }
    }

    /** The docket of other facts at this moment, which nobody keeps: what it would be. */
    public Docket otherwise(Docket.Facts facts, Instant at) {
        return Docket.of(facts, at, ALL_CORES);
    }

    /** Those who ask at the same time wait for each other, not for the writer. */
    public Current current() {
        Current known = last;
        return madeAhead
                        && known != null
                        && known.onlyHostsReportedUntil(store.snapshot())
                        && known.docket().at().plus(OLDEST).isAfter(clock.instant())
                ? known
                : made();
    }

    private synchronized Current made() {
        Snapshot snapshot = store.snapshot();
        Docket docket = last == null
                ? Docket.of(snapshot.facts(), clock.instant(), ALL_CORES)
                : last.docket().next(snapshot.facts(), clock.instant());
        last = new Current(snapshot, docket);
        return last;
    }
}
