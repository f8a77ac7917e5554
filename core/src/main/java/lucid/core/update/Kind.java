package lucid.core.update;

/** What sort of change an update brings. */
public enum Kind {
    SECURITY,
    BUGFIX,
    ENHANCEMENT,
    CUMULATIVE,
    /** A new release of a platform. */
    UPGRADE,
    DRIVER,
    FIRMWARE,
    /** Definition data that changes daily; noise by default. */
    CONTENT;

    /** The word of the documents and the screen. */
    public String word() {
        return name().toLowerCase();
    }
}
