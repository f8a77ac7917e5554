package lucid.formats.document;

/** Reads documents of one format. */
public interface DocumentReader {

    /** What it reads, as a sentence that lists all formats names it: "an OSV advisory". */
    String reads();

    /**
     * True if the document says that it is of this format.
     *
     * @throws RefusedDocumentException with place and reason, if it cannot be looked at as this format is written
     */
    boolean recognises(OpenedDocument document);

    /** @throws RefusedDocumentException with place and reason, if nothing of it can be taken */
    ReadDocument read(OpenedDocument document, ReadingHints hints);
}
