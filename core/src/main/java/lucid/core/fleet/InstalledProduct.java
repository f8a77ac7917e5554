package lucid.core.fleet;

import java.util.Optional;
import lucid.core.update.ProductBuild;

/**
 * A version of a product that a host reported as installed. Written out, since the equality that a record makes for
 * itself was a third of taking a report.
 *
 * @param source the source package that it was built from, where the host tells it and it is another one
 */
public record InstalledProduct(ProductBuild build, String version, Optional<SourcePackage> source) {

    /** A package from which others are built, of the same package system and distribution. */
    public record SourcePackage(String name, String version) {}

    public InstalledProduct {
        source = source.filter(told ->
                !told.name().equals(build.product().name()) || !told.version().equals(version));
    }

    /** Built from the source package of its own name and version, or it is not told from which. */
    public InstalledProduct(ProductBuild build, String version) {
        this(build, version, Optional.empty());
    }

    /** The version by which what is said of a build judges this product; none if that does not speak of it. */
    Optional<String> judgedAs(ProductBuild named) {
        return named.isSource()
                ? Optional.of(sourceVersion()).filter(version -> named.covers(sourceBuild()))
                : Optional.of(version).filter(own -> named.covers(build));
    }

    /** The source package that it was built from, taken for the one of its own name where it tells none. */
    public ProductBuild sourceBuild() {
        return new ProductBuild(
                source.map(told -> build.product().named(told.name())).orElse(build.product()),
                build.distro(),
                ProductBuild.SOURCE);
    }

    public String sourceVersion() {
        return source.map(SourcePackage::version).orElse(version);
    }

    @Override
    public boolean equals(Object other) {
        return this == other
                || other instanceof InstalledProduct that
                        && version.equals(that.version)
                        && build.equals(that.build)
                        && source.equals(that.source);
    }

    @Override
    public int hashCode() {
        return 31 * build.hashCode() + version.hashCode();
    }
}
