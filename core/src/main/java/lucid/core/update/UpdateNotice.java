package lucid.core.update;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What no open advisory format carries about an update, in our own documented format.
 *
 * @param sizeBytes download size in bytes
 * @param restart what must be restarted; none: as the advisory says
 * @param removable until when it can be removed again
 * @param supersedes identifiers of the updates that this one replaces
 * @param brings identifiers of updates whose changes it contains without replacing them, as a platform release does
 * @param platforms platforms it is for; empty: told by its products alone
 * @param requires what a host must have to take it
 * @param fixes products and affected ranges beside those of the advisory
 */
public record UpdateNotice(
        UpdateId id,
        String title,
        String vendor,
        String summary,
        String revision,
        Instant published,
        Kind kind,
        Optional<Long> sizeBytes,
        Optional<RestartNeed> restart,
        Removable removable,
        List<UpdateId> supersedes,
        List<UpdateId> brings,
        List<String> platforms,
        List<Requirement> requires,
        List<Fix> fixes)
        implements UpdateDocument {

    @Override
    public boolean takesThePlaceOf(UpdateDocument earlier) {
        return earlier instanceof UpdateNotice other && id.equals(other.id);
    }
}
