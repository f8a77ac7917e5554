package lucid.core.update;

import java.time.Instant;
import java.util.List;

/**
 * One revision of an update, as this product came to know it.
 *
 * @param read when it was read here
 * @param newFixes false if only words changed: other versions are fixed only where this is true
 * @param words what the vendor says of this revision, empty where it says nothing
 * @param fixes what this revision said is fixed: what is withheld of an update is so in the versions of all of them
 */
public record RevisionNote(
        String revision, Instant revised, Instant read, boolean newFixes, String words, List<Fix> fixes) {
    public RevisionNote {
        fixes = List.copyOf(fixes);
    }
}
