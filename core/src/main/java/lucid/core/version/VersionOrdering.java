package lucid.core.version;

import java.util.Comparator;
import java.util.Optional;

/**
 * How the versions of one kind of product are ordered. The ordering is always that of the package system which installs
 * the product, because only its own comparison says whether an update is on a host.
 *
 * <p>All orderings compare digits as numbers of any length. A version for which {@link #fault} is empty can be
 * compared; comparing another one throws {@link IllegalArgumentException}.
 */
public enum VersionOrdering implements Comparator<String> {

    /** Epoch, upstream version, revision, as Debian Policy section 5.6.12 orders them. */
    DEB(DebianVersions::fault, DebianVersions::compare),

    /** Epoch, version, release, with {@code ~} before and {@code ^} after the end of a segment. */
    RPM(RpmVersions::fault, RpmVersions::compare),

    /** Numbers between dots, missing ones as 0, with pre-releases as in Semantic Versioning 2.0.0 section 11. */
    DOTTED(DottedVersions::fault, DottedVersions::compare);

    private final Syntax syntax;
    private final Comparator<String> order;

    VersionOrdering(Syntax syntax, Comparator<String> order) {
        this.syntax = syntax;
        this.order = order;
    }

    /** The ordering of a package URL type: {@code deb}, {@code rpm}, and dotted builds for every other. */
    public static VersionOrdering ofPackageType(String type) {
        return switch (type) {
            case "deb" -> DEB;
            case "rpm" -> RPM;
            default -> DOTTED;
        };
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
                    "'" + version + "' is no " + name().toLowerCase() + " version: " + fault);
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
