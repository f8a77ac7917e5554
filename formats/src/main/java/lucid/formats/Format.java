package lucid.formats;

/** The formats that are read. */
public enum Format {
    /** Common Security Advisory Framework 2.0 (OASIS Standard, 18 November 2022). */
    CSAF("CSAF 2.0 advisory"),
    UPDATE_NOTICE("Update notice"),
    INVENTORY("Host inventory"),
    POPULATIONS("Populations");

    private final String title;

    Format(String title) {
        this.title = title;
    }

    public String title() {
        return title;
    }
}
