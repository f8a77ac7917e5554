package lucid.formats.osv;

import com.github.packageurl.MalformedPackageURLException;
import com.github.packageurl.PackageURL;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import lucid.core.update.ProductMappings;
import lucid.core.update.UnreadProduct;
import lucid.formats.document.JsonPlace;

/**
 * The package of an affected entry (Open Source Vulnerability format, schema 1.x, affected[].package): by its package
 * URL, else by what its ecosystem and name mean, else by a mapping. Packages of distributions are their source
 * packages, and keep the release that follows the colon of the ecosystem, {@code Debian:12}.
 *
 * @param mapped true if somebody told what it is, also that no host here has it
 */
record OsvPackage(String name, String ecosystem, Optional<ProductBuild> build, boolean mapped, String reason) {

    /** Ecosystems of the schema whose packages have a type of package URL of their own. */
    private static final Map<String, String> TYPES = Map.of(
            "npm", "npm",
            "PyPI", "pypi",
            "RubyGems", "gem",
            "NuGet", "nuget",
            "crates.io", "cargo",
            "Go", "golang",
            "Hex", "hex",
            "Pub", "pub",
            "Maven", "maven");

    /** Distributions, with type and namespace of their package URLs. */
    private static final Map<String, String> DISTRIBUTIONS = Map.of("Debian", "deb/debian", "Ubuntu", "deb/ubuntu");

    static OsvPackage of(JsonPlace product, ProductMappings mappings) {
        String name = product.get("name").textIfAny().orElse("");
        String ecosystem = product.get("ecosystem").textIfAny().orElse("");
        String release = release(ecosystem);
        try {
            if (product.get("purl").exists()) {
                PackageReference reference =
                        PackageReference.parse(product.get("purl").line());
                return new OsvPackage(name, ecosystem, Optional.of(onRelease(reference.build(), release)), false, "");
            }
            Optional<ProductMappings.Mapped> mapped = mappings.of(family(ecosystem), List.of(name), Optional.empty());
            if (mapped.isPresent()) {
                return new OsvPackage(
                        name,
                        ecosystem,
                        mapped.get().reference().map(reference -> onRelease(reference.build(), release)),
                        true,
                        "");
            }
            Optional<ProductBuild> meant = meant(family(ecosystem), name, release);
            return new OsvPackage(
                    name,
                    ecosystem,
                    meant,
                    false,
                    meant.isPresent() ? "" : "it has no package URL, and its name is not mapped to one");
        } catch (IllegalArgumentException | MalformedPackageURLException e) {
            return new OsvPackage(name, ecosystem, Optional.empty(), false, e.getMessage());
        }
    }

    private static String family(String ecosystem) {
        return ecosystem.split(":", 2)[0];
    }

    private static String release(String ecosystem) {
        String[] parts = ecosystem.split(":", 2);
        return parts.length == 2 ? parts[1] : "";
    }

    private static ProductBuild onRelease(ProductBuild build, String release) {
        boolean isPackage =
                List.of("deb", "rpm", "apk").contains(build.product().type());
        return isPackage && build.distro().isEmpty() && !release.isEmpty()
                ? new ProductBuild(build.product(), release, build.arch())
                : build;
    }

    private static Optional<ProductBuild> meant(String family, String name, String release)
            throws MalformedPackageURLException {
        if (name.isEmpty()) {
            return Optional.empty();
        }
        String distribution = DISTRIBUTIONS.get(family);
        if (distribution != null) {
            return Optional.of(onRelease(
                    PackageReference.parse("pkg:" + distribution + "/" + name.replace("+", "%2B") + "?arch=source")
                            .build(),
                    release));
        }
        String type = TYPES.get(family);
        if (type == null) {
            return Optional.empty();
        }
        int cut = type.equals("maven") ? name.indexOf(':') : name.lastIndexOf('/');
        String url = new PackageURL(
                        type, cut < 0 ? null : name.substring(0, cut), name.substring(cut + 1), null, null, null)
                .canonicalize();
        return Optional.of(PackageReference.parse(url).build());
    }

    UnreadProduct unread(JsonPlace place, String why) {
        List<String> names = new ArrayList<>(name.isEmpty() ? List.of("a product without a name") : List.of(name));
        return new UnreadProduct(
                family(ecosystem),
                names.get(0) + (ecosystem.isEmpty() ? "" : " (" + ecosystem + ")"),
                names,
                Optional.empty(),
                place.pointer(),
                why);
    }
}
