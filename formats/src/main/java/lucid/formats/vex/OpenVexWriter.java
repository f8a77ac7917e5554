package lucid.formats.vex;

import java.time.Instant;
import java.util.List;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Writes notes as OpenVEX statements (OpenVEX Specification 0.2.0). The product of a statement is a host, and what is
 * installed there a part of it: nothing is said of the same package elsewhere.
 */
public final class OpenVexWriter {

    private static final JsonMapper JSON =
            JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();

    private OpenVexWriter() {}

    /**
     * @param about identifier of the update
     * @param publisher who says it
     * @param notes one or more
     */
    public static String write(String about, String publisher, List<OwnNote> notes, Instant now) {
        ObjectNode root = JSON.createObjectNode()
                .put("@context", "https://openvex.dev/ns/v0.2.0")
                .put("@id", "urn:lucid-verdict:vex:" + about + ":" + now.getEpochSecond())
                .put("author", publisher)
                .put("timestamp", now.toString())
                .put("version", 1);
        ArrayNode statements = root.putArray("statements");
        for (OwnNote note : notes) {
            for (String vulnerability : note.vulnerabilities()) {
                ObjectNode statement = statements.addObject();
                statement.putObject("vulnerability").put("name", vulnerability);
                statement.put("timestamp", note.written().toString());
                ArrayNode products = statement.putArray("products");
                for (OwnNote.OnHost on : note.hosts()) {
                    ObjectNode product = products.addObject().put("@id", OwnNote.id(on.host()));
                    ArrayNode parts = product.putArray("subcomponents");
                    on.installed().forEach(one -> {
                        ObjectNode part = parts.addObject().put("@id", one.purl());
                        part.putObject("identifiers").put("purl", one.purl());
                    });
                }
                statement.put("status", "not_affected");
                statement.put("impact_statement", note.impact());
            }
        }
        return JSON.writeValueAsString(root);
    }
}
