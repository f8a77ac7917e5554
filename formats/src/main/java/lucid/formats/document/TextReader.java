package lucid.formats.document;

/** Reads one format that is lines of text. */
public interface TextReader extends DocumentReader {

    boolean recognises(String text);

    /** @throws RefusedDocumentException with place and reason, if nothing of it can be taken */
    ReadDocument read(String text, ReadingHints hints);

    @Override
    default boolean recognises(OpenedDocument document) {
        return !document.isXml() && recognises(document.text());
    }

    @Override
    default ReadDocument read(OpenedDocument document, ReadingHints hints) {
        return read(document.text(), hints);
    }
}
