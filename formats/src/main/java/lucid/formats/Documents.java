package lucid.formats;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import lucid.formats.csaf.CsafReader;
import lucid.formats.inventory.InventoryReader;
import lucid.formats.notice.NoticeReader;
import lucid.formats.populations.PopulationsReader;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.exc.StreamConstraintsException;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Tells the format of a document and reads it. */
public final class Documents {

    /** Longest document that is read, in bytes. */
    public static final int LONGEST = 64 * 1024 * 1024;

    private static final int DEEPEST = 100;
    private static final int LONGEST_TEXT = 2_000_000;

    private static final JsonMapper JSON = JsonMapper.builder(JsonFactory.builder()
                    .streamReadConstraints(StreamReadConstraints.builder()
                            .maxNestingDepth(DEEPEST).maxStringLength(LONGEST_TEXT).maxDocumentLength(LONGEST).build())
                    .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
                    .build())
            .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
            .build();

    private static final List<DocumentReader> READERS = List.of(new CsafReader(), new NoticeReader(), new PopulationsReader());

    private Documents() {}

    /**
     * Reads a document of any known format.
     *
     * @throws RefusedDocumentException with place and reason, if nothing of it can be taken
     */
    public static ReadDocument read(byte[] document) {
        if (document.length > LONGEST) {
            throw new RefusedDocumentException("", "the document is longer than " + LONGEST / 1024 / 1024 + " MB");
        }
        String text = text(document);
        if (InventoryReader.recognises(text)) {
            return InventoryReader.read(text);
        }
        JsonNode root = json(text);
        return READERS.stream()
                .filter(reader -> reader.recognises(root))
                .findFirst()
                .orElseThrow(() -> new RefusedDocumentException("", "this is JSON, but none of the formats that are read: "
                        + "a CSAF 2.0 advisory, an update notice, a host inventory, or populations"))
                .read(root);
    }

    private static String text(byte[] document) {
        try {
            String text = StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(document)).toString();
            return text.startsWith("\uFEFF") ? text.substring(1) : text;
        } catch (CharacterCodingException e) {
            throw new RefusedDocumentException("", "the document is not UTF-8 text");
        }
    }

    private static JsonNode json(String text) {
        try {
            JsonNode root = JSON.readTree(text);
            if (root == null || root.isMissingNode()) {
                throw new RefusedDocumentException("", "the document is empty");
            }
            return root;
        } catch (StreamConstraintsException e) {
            throw new RefusedDocumentException("", "a limit is passed: at most " + DEEPEST + " levels deep, a text at most " + LONGEST_TEXT + " characters");
        } catch (JacksonException e) {
            String place = e.getLocation() == null ? "" : "line " + e.getLocation().getLineNr() + ", column " + e.getLocation().getColumnNr();
            throw new RefusedDocumentException(place, "this is not valid JSON: " + e.getOriginalMessage());
        }
    }
}
