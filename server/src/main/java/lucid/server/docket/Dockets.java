package lucid.server.docket;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.function.Function;
import lucid.core.docket.Docket;
import lucid.core.docket.Spreading;
import lucid.server.state.Picture;
import lucid.server.state.State;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/** The docket of the present moment. It is kept from one question to the next, so that only what was touched meanwhile is weighed anew. */
@Component
public class Dockets {

    /** On all cores: a large fleet's docket is made from nothing at a start, and once a day. */
    private static final Spreading ALL_CORES = new Spreading() {
        @Override
        public <A, B> List<B> each(List<A> parts, Function<A, B> work) {
            return parts.parallelStream().map(work).toList();
        }
    };

    private final State state;
    private final Clock clock;
    private Current last;

    Dockets(State state, Clock clock) {
        this.state = state;
        this.clock = clock;
    }

    /** The first docket of a large fleet takes some seconds; nobody should have to wait for it. */
    @EventListener(ApplicationReadyEvent.class)
    void makeTheFirst() {
        CompletableFuture.runAsync(this::current);
    }

    /** A picture with the docket of it. */
    public record Current(Picture picture, Docket docket) {}

    /** The docket of other facts at this moment, which nobody keeps: what it would be. */
    public Docket otherwise(Docket.Facts facts, Instant at) {
        return Docket.of(facts, at, ALL_CORES);
    }

    /** Those who ask at the same time wait for each other, not for the writer. */
    public synchronized Current current() {
        Picture picture = state.picture();
        Docket docket = last == null ? Docket.of(picture.facts(), clock.instant(), ALL_CORES) : last.docket().next(picture.facts(), clock.instant());
        last = new Current(picture, docket);
        return last;
    }
}
