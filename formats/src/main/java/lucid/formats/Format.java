package lucid.formats;

/** The formats that are read. */
public enum Format {
    /** Common Security Advisory Framework 2.0 (OASIS Standard, 18 November 2022). */
    CSAF("CSAF 2.0 advisory"),
    UPDATE_NOTICE("Update notice"),
    /** The {@code updateinfo} part of the metadata of an rpm repository. */
    UPDATEINFO("rpm repository updateinfo"),
    /** {@code repomd.xml}, which names the parts of the metadata of an rpm repository. */
    REPOSITORY("rpm repository index"),
    /** Open Source Vulnerability format, schema 1.x. */
    OSV("OSV advisory"),
    INVENTORY("Host inventory"),
    /** CycloneDX 1.x (ECMA-424), JSON, of one host. */
    CYCLONEDX("CycloneDX inventory"),
    /** Comma-separated values (RFC 4180), one host a row. */
    HOST_TABLE("Table of hosts"),
    POPULATIONS("Populations"),
    /** Daily scores of the Exploit Prediction Scoring System, comma-separated values. */
    EXPLOIT_SCORES("Exploit probabilities"),
    /** The public JSON layout of catalogues of exploited vulnerabilities. */
    KNOWN_EXPLOITED("Catalogue of exploited vulnerabilities"),
    /** OpenVEX 0.2.0. */
    OPENVEX("OpenVEX statements"),
    KNOWN_ISSUES("Known issues"),
    FAILURE_REPORTS("Failure reports");

    private final String title;

    Format(String title) {
        this.title = title;
    }

    public String title() {
        return title;
    }
}
