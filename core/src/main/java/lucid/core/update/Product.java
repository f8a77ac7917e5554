package lucid.core.update;

import com.github.packageurl.MalformedPackageURLException;
import com.github.packageurl.PackageURL;
import lucid.core.version.VersionOrdering;

/**
 * What an update updates: a package URL without version and qualifiers. Its type also fixes how versions are ordered.
 *
 * @param purl canonical text, for example {@code pkg:deb/fathom/libtls}
 */
public record Product(String purl) implements Comparable<Product> {

    public VersionOrdering ordering() {
        return VersionOrdering.ofPackageType(type());
    }

    /** Type of the package URL, for example {@code deb}. */
    public String type() {
        return purl.substring("pkg:".length(), purl.indexOf('/'));
    }

    /** Namespace of the package URL: whose product it is; empty where it has none. */
    public String namespace() {
        int from = purl.indexOf('/') + 1;
        int to = purl.lastIndexOf('/');
        return to < from ? "" : purl.substring(from, to);
    }

    /** The last part of the package URL: what people call the product. */
    public String name() {
        return purl.substring(purl.lastIndexOf('/') + 1);
    }

    /** The product of another name beside it: of the same type and namespace. */
    public Product named(String name) {
        return new Product(purl.substring(0, purl.lastIndexOf('/') + 1) + name.replace("+", "%2B"));
    }

    /** The package URL of one version of it. */
    public String at(String version) {
        try {
            return new PackageURL(type(), namespace().isEmpty() ? null : namespace(), name(), version, null, null)
                    .canonicalize();
        } catch (MalformedPackageURLException e) {
            throw new IllegalArgumentException(e);
        }
    }

    @Override
    public boolean equals(Object other) {
        return this == other || other instanceof Product that && purl.equals(that.purl);
    }

    @Override
    public int hashCode() {
        return purl.hashCode();
    }

    @Override
    public int compareTo(Product other) {
        return purl.compareTo(other.purl);
    }

    @Override
    public String toString() {
        return purl;
    }

    static Product of(PackageURL url) throws MalformedPackageURLException {
        return new Product(
                new PackageURL(url.getType(), url.getNamespace(), url.getName(), null, null, null).canonicalize());
    }
}
