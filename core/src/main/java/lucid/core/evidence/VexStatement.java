package lucid.core.evidence;

import java.time.Instant;
import java.util.Optional;
import lucid.core.update.ProductBuild;

/**
 * What somebody says of a vulnerability in one product (Vulnerability Exploitability eXchange).
 *
 * @param version the version it is said of; none: all
 * @param justification why it is not affected, empty where nothing is said
 */
public record VexStatement(
        String vulnerability,
        ProductBuild product,
        Optional<String> version,
        Status status,
        String justification,
        String source,
        Instant at) {
    public enum Status {
        NOT_AFFECTED,
        AFFECTED,
        FIXED,
        UNDER_INVESTIGATION
    }

    /** True if both speak of the same vulnerability in the same product and version. */
    boolean isOfTheSame(VexStatement other) {
        return vulnerability.equals(other.vulnerability)
                && product.equals(other.product)
                && version.equals(other.version);
    }
}
