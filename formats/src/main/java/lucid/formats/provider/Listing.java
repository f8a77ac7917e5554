package lucid.formats.provider;

import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import lucid.formats.Documents;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.Texts;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * The documents of a provider, the earliest change first.
 *
 * @param documents each with what lies beside it
 */
public record Listing(List<Entry> documents) {

    /**
     * @param changed when it last changed
     * @param hash address of a file with its SHA-256 or SHA-512 digest, where told
     * @param signature address of its detached signature
     */
    public record Entry(URI document, Instant changed, Optional<URI> hash, URI signature) {}

    private static Listing sorted(List<Entry> entries) {
        return new Listing(entries.stream()
                .sorted(Comparator.comparing(Entry::changed).thenComparing(Entry::document))
                .toList());
    }

    /**
     * A ROLIE feed (RFC 8322) in JSON (CSAF 2.0, section 7.1.15).
     *
     * @throws RefusedDocumentException with place and reason
     */
    public static Listing ofFeed(byte[] feed) {
        List<Entry> entries = new ArrayList<>();
        for (JsonPlace entry :
                JsonPlace.root(Documents.json(feed)).get("feed").get("entry").items()) {
            URI document = entry.get("content").get("src").as(text -> URI.create(JsonPlace.requireWebAddress(text)));
            Optional<URI> hash = link(entry, "hash");
            entries.add(new Entry(
                    document,
                    entry.get("updated").instant(),
                    hash,
                    link(entry, "signature").orElse(URI.create(document + ".asc"))));
        }
        return sorted(entries);
    }

    private static Optional<URI> link(JsonPlace entry, String relation) {
        return entry.get("link").items().stream()
                .filter(link -> link.get("rel").line().equals(relation))
                .findFirst()
                .map(link -> link.get("href").as(text -> URI.create(JsonPlace.requireWebAddress(text))));
    }

    /**
     * A directory's {@code changes.csv}: relative path and instant of the last change, without headings (CSAF 2.0,
     * section 7.1.13). Hashes and signatures lie beside the documents (sections 7.1.18 and 7.1.19).
     *
     * @throws RefusedDocumentException with place and reason
     */
    public static Listing ofChanges(byte[] changes, URI directory) {
        URI base = URI.create(directory.toString().endsWith("/") ? directory.toString() : directory + "/");
        List<Entry> entries = new ArrayList<>();
        try (CSVParser parser = CSVParser.parse(
                new StringReader(new String(changes, StandardCharsets.UTF_8)),
                CSVFormat.RFC4180
                        .builder()
                        .setIgnoreEmptyLines(true)
                        .setTrim(true)
                        .get())) {
            for (CSVRecord row : parser) {
                String place = "line " + parser.getCurrentLineNumber();
                if (row.size() < 2) {
                    throw new RefusedDocumentException(place, "expected a path and an instant");
                }
                URI document = inside(base, row.get(0), place);
                entries.add(new Entry(
                        document,
                        instant(row.get(1), place),
                        Optional.of(URI.create(document + ".sha256")),
                        URI.create(document + ".asc")));
            }
        } catch (IOException | UncheckedIOException | IllegalStateException e) {
            throw new RefusedDocumentException("", "this is no sound changes.csv: " + e.getMessage());
        }
        return sorted(entries);
    }

    private static URI inside(URI base, String path, String place) {
        try {
            URI document = base.resolve(new URI(null, null, path, null));
            if (document.toString().startsWith(base.toString())) {
                return document;
            }
        } catch (URISyntaxException e) {
            // Told below.
        }
        throw new RefusedDocumentException(place, "'" + path + "' is no path within the directory");
    }

    private static Instant instant(String text, String place) {
        try {
            return Texts.plausible(OffsetDateTime.parse(text).toInstant());
        } catch (DateTimeException | IllegalArgumentException e) {
            throw new RefusedDocumentException(place, "'" + text + "' is no instant of the years 1990 to 2100");
        }
    }
}
