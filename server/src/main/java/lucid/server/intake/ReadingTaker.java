package lucid.server.intake;

import java.util.List;
import lucid.formats.document.Content;
import lucid.server.snapshot.SnapshotPart;

/**
 * A slice that stores what was read of its documents: a document is read once, and what was read of it counts until
 * somebody lets it count as a newer reader reads it.
 */
public interface ReadingTaker extends ContentTaker, SnapshotPart {

    /** Stores what was read in the place of what was stored of this document; within a transaction. */
    void store(long document, Content content);

    /** In which points a document is read otherwise now than it is stored. */
    List<ReadingDifference> differences(long document, Content content);
}
