package lucid.formats.vex;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
    public boolean recognises(JsonNode root) {
        return root.path("@context").asString("").contains("openvex")
                && root.path("statements").isArray();
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        JsonPlace root = JsonPlace.root(node);
        String author = root.get("author").optionalText().orElse("");
        Instant written = root.get("timestamp").told(hints.received());
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
        JsonPlace named = item.get("vulnerability");
        String vulnerability = named.node().isObject() ? named.get("name").line() : named.line();
        VexStatement.Status status = item.get("status").as(word -> Optional.ofNullable(STATUSES.get(word))
                .orElseThrow(() -> new IllegalArgumentException("'" + word + "' is no status")));
        String justification = item.get("justification")
                .optionalText()
                .or(() -> item.get("impact_statement").optionalText())
                .orElse("")
                .replace('_', ' ');
        Instant at = item.get("timestamp").exists() ? item.get("timestamp").told(received) : written;
        for (JsonPlace product : item.get("products").items()) {
            JsonPlace name = !product.node().isObject()
                    ? product
                    : product.get("identifiers").get("purl").exists()
                            ? product.get("identifiers").get("purl")
                            : product.get("@id");
            try {
                PackageReference reference = name.as(OpenVexReader::reference);
                statements.add(new VexStatement(
                        vulnerability, reference.build(), reference.version(), status, justification, author, at));
            } catch (RefusedDocumentException e) {
                problems.addAll(e.problems());
            }
        }
    }

    private static PackageReference reference(String purl) {
        PackageReference reference = PackageReference.parse(purl);
        reference.version().ifPresent(reference.build().product().ordering()::require);
        return reference;
    }
}
