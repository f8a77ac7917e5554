package lucid.server.decisions;

import java.time.Instant;
import java.util.List;
import lucid.core.update.Update;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.Snapshot;

/**
 * One kind of what people decide: how one of them is taken back. Verdicts, verdicts that were replaced,
 * acknowledgements, exceptions, renewals, freezes, caution, proposals, notes, dismissed failures, notes on a case and
 * cases that were handed over each have one.
 */
public interface Revocable {

    /** The kinds, by the names that they have in an undo address. */
    enum Kind {
        VERDICT,
        /** Of a verdict that was taken back as another took its place: it stands again. */
        REPLACED_VERDICT,
        ACKNOWLEDGEMENT,
        EXCEPTION,
        /** Of an exception that went on, renewed or handed over: it goes on as it was before. */
        RENEWAL,
        FREEZE,
        CAUTION,
        PROPOSAL,
        NOTE,
        DISMISSED_FAILURE,
        CASE_NOTE,
        /** A case that was given to somebody else: whoever saw to it before sees to it again. */
        CASE_HAND_OVER;

        /** One of them, as the record is told which decision an entry is about. */
        public AuditEntry.About about(long number) {
            return new AuditEntry.About(name(), number);
        }
    }

    /**
     * What taking one back makes.
     *
     * @param next the snapshot without it
     * @param touched updates whose rulings may change
     * @param subject identifier of the update of whose record it is, or empty
     * @param sentence for the record
     */
    record Revoked(Snapshot next, List<Update> touched, String subject, String sentence) {}

    Kind kind();

    /**
     * What taking it back would make; nothing is kept.
     *
     * @throws lucid.server.web.ProblemException 404 if there is none with this number
     */
    Revoked revoke(Snapshot snapshot, long number, Instant now);

    /**
     * Keeps that it was taken back; within {@link lucid.server.snapshot.SnapshotStore#write}.
     *
     * @return false if it was taken back before
     */
    boolean keep(long number, Instant now);

    /**
     * As {@link #keep(long, Instant)}, where taking one back makes another: what {@link #revoke} made is in
     * {@code next}.
     */
    default boolean keep(Snapshot next, long number, Instant now) {
        return keep(number, now);
    }
}
