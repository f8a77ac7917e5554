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
        return VersionOrdering.ofPackageType(purl.substring("pkg:".length(), purl.indexOf('/')));
    }

    /** The last part of the package URL: what people call the product. */
    public String name() {
        return purl.substring(purl.lastIndexOf('/') + 1);
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
        return new Product(new PackageURL(url.getType(), url.getNamespace(), url.getName(), null, null, null).canonicalize());
    }
}
