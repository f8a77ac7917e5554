package lucid.formats;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import lucid.core.update.SharingLevel;
import lucid.formats.csaf.CsafReader;
import lucid.formats.cyclonedx.CycloneDxReader;
import lucid.formats.cyclonedx.CycloneDxXml;
import lucid.formats.document.DocumentReader;
import lucid.formats.document.OpenedDocument;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.evidence.FailureReportsReader;
import lucid.formats.evidence.KnownIssuesReader;
import lucid.formats.exploitation.ExploitScoresReader;
import lucid.formats.exploitation.KnownExploitedReader;
import lucid.formats.holidays.HolidaysReader;
import lucid.formats.inventory.InventoryFormat;
import lucid.formats.notice.NoticeReader;
import lucid.formats.osv.OsvReader;
import lucid.formats.populations.PopulationsReader;
import lucid.formats.table.HostTableFormat;
import lucid.formats.table.HostTableReader;
import lucid.formats.updateinfo.RepositoryIndexReader;
import lucid.formats.updateinfo.UpdateinfoFormat;
import lucid.formats.vex.OpenVexReader;
import tools.jackson.databind.JsonNode;

/** Tells the format of a document and reads it. */
public final class Documents {

    /**
     * Every format that is read, a line each; lines of text are looked at first, since other text is taken for JSON.
     */
    private static final List<DocumentReader> READERS = List.of(
            new InventoryFormat(),
            new ExploitScoresReader(),
            new HostTableFormat(),
            new UpdateinfoFormat(),
            new RepositoryIndexReader(),
            new CycloneDxXml(),
            new CsafReader(),
            new NoticeReader(),
            new PopulationsReader(),
            new OsvReader(),
            new CycloneDxReader(),
            new KnownExploitedReader(),
            new OpenVexReader(),
            new KnownIssuesReader(),
            new FailureReportsReader());

    private Documents() {}

    /**
     * Reads a document of any known format, plain or compressed.
     *
     * @throws RefusedDocumentException with place and reason, if nothing of it can be taken
     */
    public static ReadDocument read(byte[] document, ReadingHints hints) {
        OpenedDocument opened = OpenedDocument.of(document);
        if (HolidaysReader.recognises(opened.bytes())) {
            throw new RefusedDocumentException(
                    "",
                    "this is an iCalendar file: holidays are brought in on Populations, where they say whose they are");
        }
        return READERS.stream()
                .filter(reader -> reader.recognises(opened))
                .findFirst()
                .orElseThrow(() -> unknown(opened))
                .read(opened, hints);
    }

    private static RefusedDocumentException unknown(OpenedDocument document) {
        return new RefusedDocumentException(
                document.isXml() ? document.xml().place() : "",
                "this is " + (document.isXml() ? "XML" : "JSON") + ", but none of the formats that are read: "
                        + READERS.stream().map(DocumentReader::reads).distinct().collect(Collectors.joining(", ")));
    }

    /** What a table of hosts would be read as. */
    public static HostTableReader.Preview preview(byte[] table, ReadingHints hints) {
        return HostTableReader.preview(OpenedDocument.of(table).text(), hints);
    }

    /** @throws RefusedDocumentException with place and reason, if this is no JSON within the limits */
    public static JsonNode json(byte[] document) {
        return OpenedDocument.of(document).json();
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
}
