package lucid.formats.document;

/** The formats that are read. */
public enum Format {
    /** Common Security Advisory Framework 2.0 (OASIS Standard, 18 November 2022) and 2.1. */
    CSAF("CSAF advisory", 4),
    UPDATE_NOTICE("Update notice", 1),
    /** The {@code updateinfo} part of the metadata of an rpm repository. */
    UPDATEINFO("rpm repository updateinfo", 3),
    /** {@code repomd.xml}, which names the parts of the metadata of an rpm repository. */
    REPOSITORY("rpm repository index"),
    /** Open Source Vulnerability format, schema 1.x. */
    OSV("OSV advisory", 3),
    INVENTORY("Host inventory"),
    /** CycloneDX 1.x (ECMA-424), JSON or XML, of one host. */
    CYCLONEDX("CycloneDX inventory"),
    /** Comma-separated values (RFC 4180), one host a row. */
    HOST_TABLE("Table of hosts"),
    POPULATIONS("Populations"),
    /** Daily scores of the Exploit Prediction Scoring System, comma-separated values. */
    EXPLOIT_SCORES("Exploit probabilities"),
    /** The public JSON layout of catalogues of exploited vulnerabilities. */
    KNOWN_EXPLOITED("Catalogue of exploited vulnerabilities", 3),
    /** OpenVEX 0.2.0. */
    OPENVEX("OpenVEX statements", 2),
    KNOWN_ISSUES("Known issues", 1),
    FAILURE_REPORTS("Failure reports", 1);

    private final String title;
    private final int reader;

    /** A format whose documents are stored as they are, or not at all: nothing reads them again. */
    Format(String title) {
        this(title, 0);
    }

    Format(String title, int reader) {
        this.title = title;
        this.reader = reader;
    }

    /**
     * Version of what reads it, 1 and up: raised whenever it reads something of a document otherwise than before, so
     * that documents which were read before are compared. 0 where nothing that was read is kept.
     */
    public int reader() {
        return reader;
    }

    public String title() {
        return title;
    }
}
