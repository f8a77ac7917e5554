package lucid.server.docket;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Function;
import lucid.core.docket.Docket;
import lucid.core.docket.Parallelism;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.snapshot.Topic;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * The docket of the present moment. It is kept from one question to the next, so that only what was touched meanwhile
 * is weighed anew. Where very many hosts reported since, it is made ahead of whoever asks: who asks meanwhile gets the
 * one before, unless somebody decided or learned something since, and is told when the next is there.
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
    private final ApplicationEventPublisher events;
    private final AtomicBoolean madeAhead = new AtomicBoolean();
    /** By {@link System#nanoTime}: it rests as long as it worked, so that reports go on. */
    private volatile long restsUntil = System.nanoTime();

    private volatile Current last;

    Dockets(SnapshotStore store, Clock clock, ApplicationEventPublisher events) {
        this.store = store;
        this.clock = clock;
        this.events = events;
    }

    /** The first docket of a large fleet takes some seconds; nobody should have to wait for it. */
    @EventListener(ApplicationReadyEvent.class)
    void makeTheFirst() {
        CompletableFuture.runAsync(this::current);
    }

    @Scheduled(fixedDelay = 10_000)
    void makeAhead() {
        Current known = last;
        if (known != null
                && isWorthMakingAhead(known)
                && System.nanoTime() - restsUntil >= 0
                && madeAhead.compareAndSet(false, true)) {
            CompletableFuture.runAsync(this::makeAheadOfThem);
        }
    }

    private void makeAheadOfThem() {
        long begun = System.nanoTime();
        try {
            made();
        } finally {
            long ended = System.nanoTime();
            restsUntil = ended + (ended - begun);
            madeAhead.set(false);
        }
        // Whoever was given the one before reads again.
        events.publishEvent(new SnapshotStore.Changed(Set.of(Topic.HOSTS)));
    }

    private boolean isWorthMakingAhead(Current known) {
        return store.snapshot().fleet().changedSince(known.snapshot().fleet()).size() >= MANY_HOSTS;
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
        if (known != null
                && known.onlyHostsReportedUntil(store.snapshot())
                && known.docket().at().plus(OLDEST).isAfter(clock.instant())) {
            if (madeAhead.get()) {
                return known;
            }
            if (isWorthMakingAhead(known)) {
                makeAhead();
                return known;
            }
        }
        return made();
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
