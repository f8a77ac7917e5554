package lucid.formats.document;

/** How much of a document is read; what is more is refused, whatever the format. */
public final class Limits {

    /** Bytes of a document, as it comes and expanded. */
    public static final int LONGEST_DOCUMENT = 64 * 1024 * 1024;

    /** Characters of one text; it is kept in one field of one row. */
    public static final int LONGEST_TEXT = 1_000_000;

    private Limits() {}
}
