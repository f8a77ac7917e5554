package lucid.formats.vex;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.evidence.VexStatement;
import lucid.core.update.PackageReference;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import tools.jackson.databind.JsonNode;

/**
 * Reads an OpenVEX document (OpenVEX Specification 0.2.0). Products that are not named by package URL are left out and
 * named.
 */
public final class OpenVexReader implements JsonReader {

    private static final Map<String, VexStatement.Status> STATUSES = Map.of(
            "not_affected",
            VexStatement.Status.NOT_AFFECTED,
            "affected",
            VexStatement.Status.AFFECTED,
            "fixed",
            VexStatement.Status.FIXED,
            "under_investigation",
            VexStatement.Status.UNDER_INVESTIGATION);

    @Override
    public String reads() {
        return "OpenVEX statements";
    }

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("@context").asString("").contains("openvex")
                && root.path("statements").isArray();
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        JsonPlace root = JsonPlace.root(node);
        String author = root.get("author").optionalText().orElse("");
        Instant written = latest(root, hints.received());
        List<VexStatement> statements = new ArrayList<>();
        List<Problem> problems = new ArrayList<>();
        for (JsonPlace item : root.get("statements").items()) {
            try {
                statements(item, author, written, hints.received(), statements, problems);
            } catch (RefusedDocumentException e) {
                problems.addAll(e.problems());
            }
        }
        if (statements.isEmpty()) {
            throw new RefusedDocumentException(
                    problems.isEmpty() ? List.of(new Problem("/statements", "it states nothing")) : problems);
        }
        return new ReadDocument(Format.OPENVEX, new Content.OfStatements(statements), problems);
    }

    private static void statements(
            JsonPlace item,
            String author,
            Instant written,
            Instant received,
            List<VexStatement> statements,
            List<Problem> problems) {
        List<String> vulnerabilities = vulnerabilities(item.get("vulnerability"));
        VexStatement.Status status = item.get("status").as(word -> Optional.ofNullable(STATUSES.get(word))
                .orElseThrow(() -> new IllegalArgumentException("'" + word + "' is no status")));
        String justification = item.get("justification")
                .optionalText()
                .or(() -> item.get("impact_statement").optionalText())
                .orElse("")
                .replace('_', ' ');
        Instant at =
                item.get("timestamp").exists() || item.get("last_updated").exists() ? latest(item, received) : written;
        if (status == VexStatement.Status.NOT_AFFECTED && justification.isEmpty()) {
            problems.add(
                    new Problem(
                            item.pointer(),
                            vulnerabilities.get(0)
                                    + " is said not to matter without saying why (section 'status'); it is shown and does not count by itself"));
        }
        if (item.get("products").items().isEmpty()) {
            problems.add(new Problem(item.pointer(), "it names no product, so it says nothing of any host"));
        }
        for (JsonPlace product : item.get("products").items()) {
            JsonPlace name = !product.node().isObject()
                    ? product
                    : product.get("identifiers").get("purl").exists()
                            ? product.get("identifiers").get("purl")
                            : product.get("@id");
            try {
                PackageReference reference = name.as(OpenVexReader::reference);
                vulnerabilities.forEach(vulnerability -> statements.add(new VexStatement(
                        vulnerability, reference.build(), reference.version(), status, justification, author, at)));
            } catch (RefusedDocumentException e) {
                problems.addAll(e.problems());
            }
        }
    }

    /** Its name, and its aliases: a statement counts for the identifier by which others know it. */
    private static List<String> vulnerabilities(JsonPlace named) {
        if (!named.node().isObject()) {
            return List.of(named.line());
        }
        return Stream.concat(
                        Stream.of(named.get("name").line()),
                        named.get("aliases").items().stream().map(JsonPlace::line))
                .distinct()
                .toList();
    }

    /** When it was last changed, else when it was made. */
    private static Instant latest(JsonPlace of, Instant received) {
        return of.get("last_updated").exists()
                ? of.get("last_updated").told(received)
                : of.get("timestamp").told(received);
    }

    private static PackageReference reference(String purl) {
        PackageReference reference = PackageReference.parse(purl);
        reference.version().ifPresent(reference.build().product().ordering()::require);
        return reference;
    }
}
