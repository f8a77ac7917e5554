package lucid.formats;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import lucid.core.update.SharingLevel;
import lucid.formats.csaf.CsafReader;
import lucid.formats.cyclonedx.CycloneDxReader;
import lucid.formats.cyclonedx.CycloneDxXml;
import lucid.formats.document.Compression;
import lucid.formats.document.JsonReader;
import lucid.formats.document.Limits;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.XmlDocument;
import lucid.formats.document.XmlElement;
import lucid.formats.evidence.FailureReportsReader;
import lucid.formats.evidence.KnownIssuesReader;
import lucid.formats.exploitation.ExploitScoresReader;
import lucid.formats.exploitation.KnownExploitedReader;
import lucid.formats.inventory.InventoryReader;
import lucid.formats.notice.NoticeReader;
import lucid.formats.osv.OsvReader;
import lucid.formats.populations.PopulationsReader;
import lucid.formats.table.HostTable;
import lucid.formats.table.HostTableReader;
import lucid.formats.updateinfo.RepositoryIndexReader;
import lucid.formats.updateinfo.UpdateinfoReader;
import lucid.formats.vex.OpenVexReader;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.core.exc.StreamConstraintsException;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Tells the format of a document and reads it. */
public final class Documents {

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

    private static final List<JsonReader> READERS = List.of(
            new CsafReader(),
            new NoticeReader(),
            new PopulationsReader(),
            new OsvReader(),
            new CycloneDxReader(),
            new KnownExploitedReader(),
            new OpenVexReader(),
            new KnownIssuesReader(),
            new FailureReportsReader());

    private static final String FORMATS =
            "a CSAF 2.0 advisory, an OSV advisory, an rpm repository's updateinfo or index, an update notice, a host inventory, "
                    + "a CycloneDX inventory, a table of hosts, populations, exploit probabilities, a catalogue of exploited vulnerabilities, OpenVEX statements, known issues, or failure reports";

    private Documents() {}

    /**
     * Reads a document of any known format, plain or compressed.
     *
     * @throws RefusedDocumentException with place and reason, if nothing of it can be taken
     */
    public static ReadDocument read(byte[] document, ReadingHints hints) {
        byte[] plain = Compression.expanded(requireLength(document));
        if (isXml(plain)) {
            return xml(plain, hints);
        }
        String text = text(plain);
        if (InventoryReader.recognises(text)) {
            return InventoryReader.read(text);
        }
        if (ExploitScoresReader.recognises(text)) {
            return ExploitScoresReader.read(text, hints);
        }
        String start = text.stripLeading();
        if (!start.startsWith("{") && !start.startsWith("[") && HostTable.recognises(start)) {
            return HostTableReader.read(start, hints);
        }
        JsonNode root = json(text);
        return READERS.stream()
                .filter(reader -> reader.recognises(root))
                .findFirst()
                .orElseThrow(() -> new RefusedDocumentException(
                        "", "this is JSON, but none of the formats that are read: " + FORMATS))
                .read(root, hints);
    }

    /** What a table of hosts would be read as. */
    public static HostTableReader.Preview preview(byte[] table, ReadingHints hints) {
        return HostTableReader.preview(text(Compression.expanded(requireLength(table))), hints);
    }

    private static byte[] requireLength(byte[] document) {
        if (document.length > Limits.LONGEST_DOCUMENT) {
            throw new RefusedDocumentException(
                    "", "the document is longer than " + Limits.LONGEST_DOCUMENT / 1024 / 1024 + " MB");
        }
        return document;
    }

    /**
     * True if the first sign is {@code <}, in UTF-8 or, after its byte order mark, in UTF-16; what it is declared as
     * the parser finds out.
     */
    private static boolean isXml(byte[] document) {
        for (byte sign : document) {
            boolean passedOver = sign == ' ' || sign == '\n' || sign == '\r' || sign == '\t' || sign == 0 || sign < 0;
            if (!passedOver) {
                return sign == '<';
            }
        }
        return false;
    }

    private static ReadDocument xml(byte[] document, ReadingHints hints) {
        XmlElement root = XmlDocument.root(document);
        return switch (root.name()) {
            case "updates" -> UpdateinfoReader.read(document, hints);
            case "bom" -> CycloneDxXml.read(document, hints);
            case "repomd" -> RepositoryIndexReader.read(document);
            default ->
                throw new RefusedDocumentException(
                        root.place(), "this is XML, but none of the formats that are read: " + FORMATS);
        };
    }

    private static String text(byte[] document) {
        try {
            String text = StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(document))
                    .toString();
            return text.startsWith("\uFEFF") ? text.substring(1) : text;
        } catch (CharacterCodingException e) {
            throw new RefusedDocumentException("", "the document is not UTF-8 text");
        }
    }

    /** @throws RefusedDocumentException with place and reason, if this is no JSON within the limits */
    public static JsonNode json(byte[] document) {
        return json(text(Compression.expanded(requireLength(document))));
    }

    /**
     * With whom an advisory may be shared, also where it is refused for another reason; empty where it does not say so,
     * and where this is no advisory.
     */
    public static Optional<SharingLevel> sharing(byte[] document) {
        try {
            return CsafReader.sharingOf(json(document));
        } catch (RefusedDocumentException e) {
            return Optional.empty();
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
