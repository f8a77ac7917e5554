package lucid.server.responsibilities;

import java.security.Principal;
import java.time.Instant;
import java.util.List;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;

/** One kind of what people answer for. Exceptions and cases each have one. */
public interface Responsibility {

    /**
     * One thing that goes by somebody's name.
     *
     * @param words as a sentence begins
     * @param path where it is looked at
     */
    record Held(String words, String path) {}

    /**
     * What handing over makes.
     *
     * @param next the snapshot with it
     * @param numbers of what goes on by the other name, by which {@code kind} takes it back
     */
    record HandedOver(Snapshot next, Revocable.Kind kind, List<Long> numbers) {}

    /** What goes by this name and is not over. */
    List<Held> of(Snapshot snapshot, String person, Instant now);

    /** Hands all of it over and records it; within {@link lucid.server.snapshot.SnapshotStore#write}. */
    HandedOver handOver(Snapshot snapshot, String from, String to, Principal who, Instant now);
}
