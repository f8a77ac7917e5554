package lucid.core.fleet;

import lucid.core.update.ProductBuild;

/**
 * A version of a product that a host reported as installed. Written out, since the equality that a record makes for
 * itself was a third of taking a report.
 */
public record InstalledProduct(ProductBuild build, String version) {

    @Override
    public boolean equals(Object other) {
        return this == other
                || other instanceof InstalledProduct that && version.equals(that.version) && build.equals(that.build);
    }

    @Override
    public int hashCode() {
        return 31 * build.hashCode() + version.hashCode();
    }
}
