package lucid.formats.document;

import tools.jackson.databind.JsonNode;

/** Reads one format that is a single JSON object. */
public interface JsonReader extends DocumentReader {

    boolean recognises(JsonNode root);

    /** @throws RefusedDocumentException with place and reason, if nothing of it can be taken */
    ReadDocument read(JsonNode root, ReadingHints hints);

    @Override
    default boolean recognises(OpenedDocument document) {
        return !document.isXml() && recognises(document.json());
    }

    @Override
    default ReadDocument read(OpenedDocument document, ReadingHints hints) {
        return read(document.json(), hints);
    }
}
