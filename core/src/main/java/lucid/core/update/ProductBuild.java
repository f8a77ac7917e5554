package lucid.core.update;

import java.util.Objects;

/** A product as built for one distribution and processor architecture. A fleet's facts are looked up by it all the time: it knows its hash. */
public final class ProductBuild implements Comparable<ProductBuild> {

    private final Product product;
    private final String distro;
    private final String arch;
    private final int hash;

    /**
     * @param distro the {@code distro} qualifier of the package URL, empty where not given
     * @param arch the {@code arch} qualifier, empty where not given
     */
    public ProductBuild(Product product, String distro, String arch) {
        this.product = product;
        this.distro = distro;
        this.arch = arch;
        this.hash = Objects.hash(product, distro, arch);
    }

    public Product product() {
        return product;
    }

    public String distro() {
        return distro;
    }

    public String arch() {
        return arch;
    }

    /** True if what is said of this build is said of {@code installed}: distribution and architecture count only where given here. */
    public boolean covers(ProductBuild installed) {
        return product.equals(installed.product)
                && (distro.isEmpty() || distro.equals(installed.distro))
                && (arch.isEmpty() || arch.equals(installed.arch));
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

    @Override
    public boolean equals(Object other) {
        return this == other
                || other instanceof ProductBuild that && hash == that.hash && product.equals(that.product) && distro.equals(that.distro) && arch.equals(that.arch);
    }

    @Override
    public int hashCode() {
        return hash;
    }

    @Override
    public String toString() {
        String qualifiers = (distro.isEmpty() ? "" : " on " + distro) + (arch.isEmpty() ? "" : " for " + arch);
        return product + qualifiers;
    }
}
