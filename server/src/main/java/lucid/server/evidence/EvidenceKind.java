package lucid.server.evidence;

import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import lucid.core.evidence.Evidence;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.server.snapshot.Snapshot;

/**
 * One kind of evidence that documents bring: what it adds to what is known, how it is stored and read again, and by
 * what two readings of it are compared. A new kind is one class beside the others.
 */
abstract class EvidenceKind<C extends Content.OfEvidence> {

    private final Class<C> content;

    EvidenceKind(Class<C> content) {
        this.content = content;
    }

    final boolean is(Content other) {
        return content.isInstance(other);
    }

    final C of(Content other) {
        return content.cast(other);
    }

    /** The snapshot with what a document says. */
    abstract Snapshot with(Snapshot snapshot, C said);

    /** What each document says as it is stored, in the order in which they were read. */
    abstract Map<Long, C> stored();

    /** The snapshot with all that is stored of this kind. */
    Snapshot load(Snapshot snapshot) {
        Snapshot next = snapshot;
        for (C said : stored().values()) {
            next = with(next, said);
        }
        return next;
    }

    /** Stores what a document says, in the place of what was stored of it; within a transaction. */
    abstract void store(long document, C said);

    /** The parts of what a document says by what each is about: what two readings are compared by. */
    abstract Map<String, Record> bySubject(C said);

    /** As {@link #bySubject}, of what is stored of a document. */
    Map<String, Record> storedBySubject(long document) {
        C said = stored().get(document);
        return said == null ? Map.of() : bySubject(said);
    }

    /** A part as it would be stored today, where something of it is kept from before. */
    Record asStored(Record now, Record before) {
        return now;
    }

    /** True if something newer of its kind is known. */
    boolean isOlder(Evidence known, C said) {
        return false;
    }

    /** How much a document lists, if it takes the place of all earlier ones. */
    OptionalInt listsInPlaceOfAll(C said) {
        return OptionalInt.empty();
    }

    /** How much is listed now, of a kind of which each document takes the place of all earlier ones. */
    int listed(Evidence known) {
        return 0;
    }

    /** Rows by the document that they are of, in the order of documents. */
    static <R> Map<Long, List<R>> byDocument(List<R> rows, Function<R, Long> document) {
        return rows.stream().collect(Collectors.groupingBy(document, TreeMap::new, Collectors.toList()));
    }

    /** Updates that must be known for it to count. */
    Set<UpdateId> speaksOf(C said) {
        return Set.of();
    }

    /** Hosts that must be known for it to count. */
    Set<HostName> speaksOfHosts(C said) {
        return Set.of();
    }
}
