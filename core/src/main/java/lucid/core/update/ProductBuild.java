package lucid.core.update;

import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A product as built for one distribution and processor architecture.
 *
 * @param distro the {@code distro} qualifier of the package URL, empty where not given
 * @param arch the {@code arch} qualifier, empty where not given; {@link #SOURCE} for a source package
 */
public record ProductBuild(Product product, String distro, String arch) implements Comparable<ProductBuild> {

    /** The architecture of a source package. */
    public static final String SOURCE = "source";

    private static final Pattern WRITTEN =
            Pattern.compile("(?<product>\\S+)(?: on (?<distro>.+?))?(?: for (?<arch>\\S+))?");

    /** True for a source package, which no host has: what is said of it is said of all that is built from it. */
    public boolean isSource() {
        return arch.equals(SOURCE);
    }

    public ProductBuild ofAnyArch() {
        return arch.isEmpty() ? this : new ProductBuild(product, distro, "");
    }

    /**
     * True if what is said of this build is said of {@code installed}: distribution and architecture count only where
     * given here. Where {@code installed} tells no distribution, it is that of its host, which is to be asked.
     */
    public boolean covers(ProductBuild installed) {
        return product.equals(installed.product)
                && (installed.distro.isEmpty() || DistributionRelease.covers(distro, installed.distro))
                && (arch.isEmpty() || arch.equals(installed.arch));
    }

    /**
     * Written out, as in {@link Product}: what a record makes for itself is slow, and facts are looked up by this all
     * the time.
     */
    @Override
    public boolean equals(Object other) {
        return this == other
                || other instanceof ProductBuild that
                        && product.equals(that.product)
                        && arch.equals(that.arch)
                        && distro.equals(that.distro);
    }

    @Override
    public int hashCode() {
        return 31 * (31 * product.hashCode() + distro.hashCode()) + arch.hashCode();
    }

    @Override
    public int compareTo(ProductBuild other) {
        int byProduct = product.compareTo(other.product);
        if (byProduct != 0) {
            return byProduct;
        }
        int byDistro = distro.compareTo(other.distro);
        return byDistro != 0 ? byDistro : arch.compareTo(other.arch);
    }

    /** The build that {@code text} is written for by {@link #toString}. */
    public static ProductBuild parse(String text) {
        Matcher parts = WRITTEN.matcher(text);
        if (!parts.matches()) {
            throw new IllegalArgumentException("'" + text + "' is no product");
        }
        return new ProductBuild(
                new Product(parts.group("product")),
                Objects.requireNonNullElse(parts.group("distro"), ""),
                Objects.requireNonNullElse(parts.group("arch"), ""));
    }

    @Override
    public String toString() {
        String qualifiers = (distro.isEmpty() ? "" : " on " + distro) + (arch.isEmpty() ? "" : " for " + arch);
        return product + qualifiers;
    }
}
