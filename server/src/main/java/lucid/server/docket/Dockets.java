package lucid.server.docket;

import java.time.Clock;
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
import org.springframework.stereotype.Component;

/**
 * The docket of the present moment. It is kept from one question to the next, so that only what was touched meanwhile
 * is weighed anew.
 */
@Component
public class Dockets {

    /** On all cores: a large fleet's docket is made from nothing at a start, and once a day. */
    private static final Parallelism ALL_CORES = new Parallelism() {
        @Override
        public <A, B> List<B> each(List<A> parts, Function<A, B> work) {
            return parts.parallelStream().map(work).toList();
        }
    };

    private final SnapshotStore store;
    private final Clock clock;
    private Current last;

    Dockets(SnapshotStore store, Clock clock) {
        this.store = store;
        this.clock = clock;
    }

    /** The first docket of a large fleet takes some seconds; nobody should have to wait for it. */
    @EventListener(ApplicationReadyEvent.class)
    void makeTheFirst() {
        CompletableFuture.runAsync(this::current);
    }

    /** A snapshot with the docket of it. */
    public record Current(Snapshot snapshot, Docket docket) {}

    /** The docket of other facts at this moment, which nobody keeps: what it would be. */
    public Docket otherwise(Docket.Facts facts, Instant at) {
        return Docket.of(facts, at, ALL_CORES);
    }

    /** Those who ask at the same time wait for each other, not for the writer. */
    public synchronized Current current() {
        Snapshot snapshot = store.snapshot();
        Docket docket = last == null
                ? Docket.of(snapshot.facts(), clock.instant(), ALL_CORES)
                : last.docket().next(snapshot.facts(), clock.instant());
        last = new Current(snapshot, docket);
        return last;
    }
}
