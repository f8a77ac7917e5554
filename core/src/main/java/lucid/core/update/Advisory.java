package lucid.core.update;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What a vendor publishes about an update in an open advisory format.
 *
 * @param id identifier, which joins it to an {@link UpdateNotice}
 * @param revision version of the document, compared as dotted numbers
 * @param revisionWords what the vendor says of this revision, empty where it says nothing
 * @param kind where the format tells it
 * @param vendorRating the vendor's own word for the severity, where given
 * @param fixes may be empty: then the notice says what is fixed
 * @param restarts where the vendor tells what must be restarted
 * @param unread products of which nobody can tell which hosts have them
 * @param notes what it says beside its summary
 * @param readFrom where in the document stands what was read of each product; empty where its format has no such places
 * @param sharing with whom it may be shared, where it says so
 */
public record Advisory(
        AdvisorySource source,
        UpdateId id,
        String title,
        String vendor,
        String summary,
        String revision,
        String revisionWords,
        Instant published,
        Instant revised,
        Optional<Kind> kind,
        Optional<String> vendorRating,
        List<Vulnerability> vulnerabilities,
        List<Fix> fixes,
        Restarts restarts,
        Optional<Retraction> retraction,
        List<VendorStatement> statements,
        List<Remedy> remedies,
        List<ReferenceLink> references,
        List<UnreadProduct> unread,
        List<AdvisoryNote> notes,
        List<ReadFrom> readFrom,
        Optional<SharingLevel> sharing)
        implements UpdateDocument {

    /** How many products could not be read; several versions of one are one. */
    public long unreadNames() {
        return unread.stream().map(UnreadProduct::family).distinct().count();
    }

    @Override
    public boolean takesThePlaceOf(UpdateDocument earlier) {
        return earlier instanceof Advisory other && id.equals(other.id) && source == other.source;
    }
}
