package lucid.core.version;

import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * How the versions of one kind of product are ordered. The ordering is always that of the package system which installs
 * the product, because only its own comparison says whether an update is on a host. Versions of a package system whose
 * ordering is not known here are {@link #UNKNOWN}: nothing is said of them.
 *
 * <p>All orderings compare digits as numbers of any length. A version for which {@link #fault} is empty can be
 * compared; comparing another one throws {@link IllegalArgumentException}.
 */
public enum VersionOrdering implements Comparator<String> {

    /** Epoch, upstream version, revision, as Debian Policy section 5.6.12 orders them. */
    DEB(DebianVersions::fault, DebianVersions::compare),

    /** Epoch, version, release, with {@code ~} before and {@code ^} after the end of a segment. */
    RPM(RpmVersions::fault, RpmVersions::compare),

    /** As Maven itself compares them. */
    MAVEN(version -> null, MavenVersions::compare),

    /** Semantic Versioning 2.0.0, with or without {@code v} before it. */
    SEMANTIC(SemanticVersions::fault, SemanticVersions::compare),

    /** Numbers between dots, missing ones as 0, with pre-releases as in Semantic Versioning 2.0.0 section 11. */
    DOTTED(DottedVersions::fault, DottedVersions::compare),

    /** Nobody here can tell which of two versions is the newer; they stand in the order of their letters. */
    UNKNOWN(version -> null, Comparator.naturalOrder());

    /** Package URL types whose package systems have orderings of their own, which are none of these. */
    private static final Set<String> NOT_ORDERED = Set.of(
            "alpm",
            "apk",
            "bitbucket",
            "bitnami",
            "cocoapods",
            "composer",
            "conan",
            "conda",
            "cpan",
            "cran",
            "docker",
            "gem",
            "github",
            "gitlab",
            "hackage",
            "huggingface",
            "luarocks",
            "mlflow",
            "nuget",
            "oci",
            "pypi",
            "qpkg",
            "swid");

    private final Syntax syntax;
    private final Comparator<String> order;

    VersionOrdering(Syntax syntax, Comparator<String> order) {
        this.syntax = syntax;
        this.order = order;
    }

    /** The ordering of a package URL type: that of its package system; dotted builds for a type that has none. */
    public static VersionOrdering ofPackageType(String type) {
        return switch (type) {
            case "deb" -> DEB;
            case "rpm" -> RPM;
            case "maven" -> MAVEN;
            case "cargo", "golang", "hex", "npm", "pub", "swift" -> SEMANTIC;
            default -> NOT_ORDERED.contains(type) ? UNKNOWN : DOTTED;
        };
    }

    /** False if nobody here can tell which of two versions is the newer. */
    public boolean isKnown() {
        return this != UNKNOWN;
    }

    /** What is wrong with {@code version} in this ordering, as a sentence without a full stop; empty if nothing is. */
    public Optional<String> fault(String version) {
        return Optional.ofNullable(syntax.fault(version));
    }

    /**
     * @return {@code version} itself
     * @throws IllegalArgumentException with the fault and the version, if it is not one of this ordering
     */
    public String require(String version) {
        fault(version).ifPresent(fault -> {
            throw new IllegalArgumentException(
                    "'" + version + "' is no " + name().toLowerCase(Locale.ROOT) + " version: " + fault);
        });
        return version;
    }

    @Override
    public int compare(String a, String b) {
        return order.compare(a, b);
    }

    private interface Syntax {
        /** The fault in words, or null. */
        String fault(String version);
    }
}
