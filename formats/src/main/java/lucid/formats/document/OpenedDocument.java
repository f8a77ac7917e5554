package lucid.formats.document;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.core.exc.StreamConstraintsException;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * A document whose format is still to be found out: expanded, and looked at as text, JSON or XML once it is asked for.
 */
public final class OpenedDocument {

    private static final int DEEPEST = 100;
    /** A tree costs up to a hundred bytes a token; a real advisory of 20 MB has less than a million. */
    private static final int MOST_TOKENS = 3_000_000;

    private static final JsonMapper JSON = JsonMapper.builder(JsonFactory.builder()
                    .streamReadConstraints(StreamReadConstraints.builder()
                            .maxNestingDepth(DEEPEST)
                            .maxStringLength(Limits.LONGEST_TEXT)
                            .maxDocumentLength(Limits.LONGEST_DOCUMENT)
                            .maxTokenCount(MOST_TOKENS)
                            .build())
                    .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
                    .build())
            .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
            .build();

    private final byte[] bytes;
    private String text;
    private JsonNode json;
    private XmlElement xml;

    private OpenedDocument(byte[] bytes) {
        this.bytes = bytes;
    }

    /**
     * Opens a document, plain or compressed.
     *
     * @throws RefusedDocumentException if it is too long, also once it is expanded
     */
    public static OpenedDocument of(byte[] document) {
        if (document.length > Limits.LONGEST_DOCUMENT) {
            throw new RefusedDocumentException(
                    "", "the document is longer than " + Limits.LONGEST_DOCUMENT / 1024 / 1024 + " MB");
        }
        return new OpenedDocument(Compression.expanded(document));
    }

    /** As it is once it is expanded. */
    public byte[] bytes() {
        return bytes;
    }

    /**
     * True if the first sign is {@code <}, in UTF-8 or, after its byte order mark, in UTF-16; what it is declared as
     * the parser finds out.
     */
    public boolean isXml() {
        for (byte sign : bytes) {
            boolean passedOver = sign == ' ' || sign == '\n' || sign == '\r' || sign == '\t' || sign == 0 || sign < 0;
            if (!passedOver) {
                return sign == '<';
            }
        }
        return false;
    }

    /** @throws RefusedDocumentException if it is no UTF-8 text */
    public String text() {
        if (text == null) {
            try {
                String decoded = StandardCharsets.UTF_8
                        .newDecoder()
                        .decode(ByteBuffer.wrap(bytes))
                        .toString();
                text = decoded.startsWith("\uFEFF") ? decoded.substring(1) : decoded;
            } catch (CharacterCodingException e) {
                throw new RefusedDocumentException("", "the document is not UTF-8 text");
            }
        }
        return text;
    }

    /** @throws RefusedDocumentException with place and reason, if this is no XML within the limits */
    public XmlElement xml() {
        if (xml == null) {
            xml = XmlDocument.root(bytes);
        }
        return xml;
    }

    /** @throws RefusedDocumentException with place and reason, if this is no JSON within the limits */
    public JsonNode json() {
        if (json == null) {
            json = parsed(text());
        }
        return json;
    }

    private static JsonNode parsed(String text) {
        try {
            JsonNode root = JSON.readTree(text);
            if (root == null || root.isMissingNode()) {
                throw new RefusedDocumentException("", "the document is empty");
            }
            return root;
        } catch (StreamConstraintsException e) {
            throw new RefusedDocumentException(
                    "",
                    "a limit is passed: at most " + DEEPEST + " levels deep, a text at most " + Limits.LONGEST_TEXT
                            + " characters, at most " + MOST_TOKENS + " values");
        } catch (JacksonException e) {
            String place = e.getLocation() == null
                    ? ""
                    : "line " + e.getLocation().getLineNr() + ", column "
                            + e.getLocation().getColumnNr();
            throw new RefusedDocumentException(place, "this is not valid JSON: " + e.getOriginalMessage());
        }
    }
}
