package lucid.core.update;

import com.github.packageurl.MalformedPackageURLException;
import com.github.packageurl.PackageURL;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** A parsed package URL (ECMA-427): a build of a product and, where given, one version of it. */
public record PackageReference(ProductBuild build, Optional<String> version) {

    /**
     * Architectures of source packages, which are on no host: what is said of them is said of what is built from them.
     */
    private static final Set<String> SOURCES = Set.of("source", "src", "nosrc");

    /** The architecture of a build, those of source packages all alike. */
    static String arch(String told) {
        return SOURCES.contains(told) ? ProductBuild.SOURCE : told;
    }

    /** The build that an rpm repository of this namespace means. */
    public static ProductBuild rpm(String namespace, String name, String arch, String distro) {
        try {
            return new ProductBuild(Product.of(new PackageURL("rpm", namespace, name, null, null, null)), distro, arch);
        } catch (MalformedPackageURLException e) {
            throw new IllegalArgumentException(
                    "'" + namespace + "/" + name + "' makes no package URL: " + e.getMessage(), e);
        }
    }

    /**
     * Reads a package URL. Qualifiers other than {@code distro} and {@code arch} are ignored. For deb and rpm the
     * {@code epoch} qualifier, where present, is put before the version.
     *
     * @throws IllegalArgumentException naming the text and what is wrong with it, also for a version that its ordering
     *     cannot compare
     */
    public static PackageReference parse(String text) {
        if (!text.chars().allMatch(c -> c > ' ' && c < 127)) {
            throw new IllegalArgumentException("'" + text + "' is no package URL: only printable ASCII is allowed");
        }
        try {
            PackageURL url = new PackageURL(text);
            Product product = Product.of(url);
            Map<String, String> qualifiers = url.getQualifiers() == null ? Map.of() : url.getQualifiers();
            Optional<String> version = Optional.ofNullable(url.getVersion())
                    .map(v -> qualifiers.containsKey("epoch") && !v.contains(":")
                            ? qualifiers.get("epoch") + ":" + v
                            : v);
            version.ifPresent(product.ordering()::require);
            return new PackageReference(
                    new ProductBuild(
                            product, qualifiers.getOrDefault("distro", ""), arch(qualifiers.getOrDefault("arch", ""))),
                    version);
        } catch (MalformedPackageURLException e) {
            throw new IllegalArgumentException("'" + text + "' is no package URL: " + e.getMessage(), e);
        }
    }

    /** As a package URL, with its distribution and architecture; the epoch of an rpm stands where its type has it. */
    public String purl() {
        try {
            PackageURL bare = new PackageURL(build.product().purl());
            TreeMap<String, String> qualifiers = new TreeMap<>();
            if (!build.arch().isEmpty()) {
                qualifiers.put("arch", build.isSource() && bare.getType().equals("rpm") ? "src" : build.arch());
            }
            if (!build.distro().isEmpty()) {
                qualifiers.put("distro", build.distro());
            }
            String shown = version.orElse(null);
            int colon = shown == null ? -1 : shown.indexOf(':');
            if (bare.getType().equals("rpm") && colon > 0) {
                qualifiers.put("epoch", shown.substring(0, colon));
                shown = shown.substring(colon + 1);
            }
            return new PackageURL(bare.getType(), bare.getNamespace(), bare.getName(), shown, qualifiers, null)
                    .canonicalize();
        } catch (MalformedPackageURLException e) {
            throw new IllegalArgumentException(e);
        }
    }
}
