package lucid.formats.document;

/** Reads one format that is an XML document, and known by its root element. */
public interface XmlReader extends DocumentReader {

    /** Name of the root element. */
    String root();

    /** @throws RefusedDocumentException with place and reason, if nothing of it can be taken */
    ReadDocument read(byte[] document, ReadingHints hints);

    @Override
    default boolean recognises(OpenedDocument document) {
        return document.isXml() && document.xml().name().equals(root());
    }

    @Override
    default ReadDocument read(OpenedDocument document, ReadingHints hints) {
        return read(document.bytes(), hints);
    }
}
