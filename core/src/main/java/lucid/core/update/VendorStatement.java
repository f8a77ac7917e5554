package lucid.core.update;

import java.util.Optional;

/**
 * What a vendor says of a vulnerability in one product beside affected or fixed (the VEX part of an advisory).
 *
 * @param vulnerability identifier of the vulnerability
 * @param product as the vendor names it
 * @param build the product as hosts have it, where the vendor names it by package URL
 * @param version the version it is said of; none: all
 * @param words the vendor's justification or other words, empty where it gives none
 */
public record VendorStatement(
        Type type,
        String vulnerability,
        String product,
        Optional<ProductBuild> build,
        Optional<String> version,
        String words) {

    public enum Type {
        NOT_AFFECTED,
        UNDER_INVESTIGATION,
        RECOMMENDED
    }
}
