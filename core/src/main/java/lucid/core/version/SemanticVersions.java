package lucid.core.version;

import org.semver4j.Semver;

/** Versions of Semantic Versioning 2.0.0; what follows a {@code +} does not count (section 10). */
final class SemanticVersions {

    private SemanticVersions() {}

    static String fault(String version) {
        return Semver.isValid(bare(version)) ? null : "it has not the form major.minor.patch";
    }

    static int compare(String a, String b) {
        Semver left = new Semver(bare(a));
        Semver right = new Semver(bare(b));
        return left.withClearedBuild().compareTo(right.withClearedBuild());
    }

    private static String bare(String version) {
        return version.startsWith("v") ? version.substring(1) : version;
    }
}
