package lucid.core.version;

import org.apache.maven.artifact.versioning.ComparableVersion;

/** Versions of Maven artifacts, such as {@code 5.0.0.Final}; every text is one. */
final class MavenVersions {

    private MavenVersions() {}

    static int compare(String a, String b) {
        return new ComparableVersion(a).compareTo(new ComparableVersion(b));
    }
}
