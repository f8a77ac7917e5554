package lucid.core.update;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What a vendor publishes about an update in an open advisory format.
 *
 * @param id identifier, which joins it to an {@link UpdateNotice}
 * @param revision version of the document, compared as dotted numbers
 * @param vendorRating the vendor's own word for the severity, where given
 * @param fixes may be empty: then the notice says what is fixed
 */
public record Advisory(
        String id,
        String title,
        String vendor,
        String summary,
        String revision,
        Instant published,
        Instant revised,
        Optional<String> vendorRating,
        List<Vulnerability> vulnerabilities,
        List<Fix> fixes,
        List<String> references) {}
