package lucid.formats.document;

import tools.jackson.databind.JsonNode;

/** Reads one format that is a single JSON object. */
public interface JsonReader {

    /** True if the document says that it is of this format. */
    boolean recognises(JsonNode root);

    /** @throws RefusedDocumentException with place and reason, if nothing of it can be taken */
    ReadDocument read(JsonNode root, ReadingHints hints);
}
