package lucid.core.update;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;

/**
 * What no open advisory format carries about an update, in our own documented format.
 *
 * @param sizeBytes download size in bytes
 * @param restart what must be restarted; none: as the advisory says
 * @param removableUntil last day on which the update can be removed again, {@link #NEVER_REMOVABLE} where it cannot be
 *     at all; none: nobody tells
 * @param supersedes identifiers of the updates that this one replaces
 * @param brings identifiers of updates whose changes it contains without replacing them, as a platform release does
 * @param platforms platforms it is for; empty: told by its products alone
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
        Optional<LocalDate> removableUntil,
        List<UpdateId> supersedes,
        List<UpdateId> brings,
        List<String> platforms,
        List<Fix> fixes)
        implements UpdateDocument {

    /** A day before any release: there is no last day on which it could be removed. */
    public static final LocalDate NEVER_REMOVABLE = LocalDate.EPOCH;

    @Override
    public boolean takesThePlaceOf(UpdateDocument earlier) {
        return earlier instanceof UpdateNotice other && id.equals(other.id);
    }
}
