package lucid.server.snapshot;

import java.util.function.UnaryOperator;

/** The part of the snapshot that one slice of the server owns; only that slice knows the tables behind it. */
public interface SnapshotPart {

    /**
     * Reads what is stored. All parts are read at the same time, and what they return is applied in any order.
     *
     * @return puts this part onto a snapshot, in the place of what it says of it
     */
    UnaryOperator<Snapshot> load();

    /** What must be done with what is stored before any part is loaded, such as what an older version left undone. */
    interface Preparation {
        void prepare();
    }
}
