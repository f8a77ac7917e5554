package lucid.formats.document;

import com.networknt.schema.Error;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import tools.jackson.databind.JsonNode;

/** What a schema says against a document, in words that name what is wanted instead of how the schema says it. */
final class SchemaWords {

    private static final int LONGEST_VALUE = 60;

    private static final Map<String, String> TYPES = Map.of(
            "string",
            "a text",
            "integer",
            "a whole number",
            "number",
            "a number",
            "boolean",
            "true or false",
            "array",
            "a list",
            "object",
            "an object",
            "null",
            "nothing");

    private static final String INSTANT = "an instant such as 2026-11-24T08:00:00Z";
    private static final String DAY = "a day such as 2026-11-24";

    private static final Map<String, String> FORMATS = Map.of("date-time", INSTANT, "date", DAY);

    /** What the patterns of the schemas are meant for. */
    static final Map<String, String> PATTERNS = Map.ofEntries(
            Map.entry("^[0-9]{4}-[0-9]{2}-[0-9]{2}T.*(Z|[+-][0-9:]+)$", INSTANT),
            Map.entry("^[0-9]{4}-[0-9]{2}-[0-9]{2}$", DAY),
            Map.entry("^[0-9]+(\\.[0-9]+)*$", "a revision such as 3 or 2.1"),
            Map.entry("^[a-z0-9]+(-[a-z0-9]+)*$", "an identifier of small letters, digits and dashes"),
            Map.entry("^([01][0-9]|2[0-3]):[0-5][0-9]$", "a time of the day such as 12:00"),
            Map.entry("^([0-9]{4}-[0-9]{2}-[0-9]{2}|never)$", DAY + ", or never"),
            Map.entry(
                    "^(cpe:2\\.3:[aho*-]:.+|[cC][pP][eE]:/[AHOaho]?(:[A-Za-z0-9._~%-]*){0,6})$",
                    "a name of CPE 2.2 or 2.3"),
            Map.entry(
                    "^(0|[1-9]\\d*)(\\.(0|[1-9]\\d*)\\.(0|[1-9]\\d*)(-[0-9A-Za-z.-]+)?(\\+[0-9A-Za-z.-]+)?)?$",
                    "an integer or a semantic version"),
            Map.entry("^CVE-[0-9]{4}-[0-9]{4,}$", "a CVE identifier"),
            Map.entry("^CWE-[1-9]\\d{0,5}$", "a CWE identifier"),
            Map.entry("^[0-9a-fA-F]{32,}$", "a hash of 32 or more hexadecimal digits"),
            Map.entry("^[A-Za-z]{1,8}(-[A-Za-z0-9]{1,8})*$", "a language such as en or de-CH"),
            Map.entry("^[\\S](.*[\\S])?$", "an identifier without a space at its ends"),
            Map.entry("^[^\\s\\-_.](.*[^\\s\\-_.])?$", "a category without a dash, a dot or a space at its ends"));

    private SchemaWords() {}

    static String of(Error error) {
        JsonNode wanted = error.getSchemaNode();
        JsonNode found = error.getInstanceNode();
        return switch (error.getKeyword()) {
            case "required" -> "'" + error.getProperty() + "' is missing";
            case "additionalProperties" -> "'" + error.getProperty() + "' is not known here";
            case "type" -> "expected " + types(wanted) + ", found " + shown(found);
            case "enum" ->
                shown(found) + " is none of "
                        + StreamSupport.stream(wanted.spliterator(), false)
                                .map(JsonNode::asString)
                                .collect(Collectors.joining(", "));
            case "const" -> "expected '" + wanted.asString() + "', found " + shown(found);
            case "format" ->
                shown(found) + " is not " + FORMATS.getOrDefault(wanted.asString(), "of the expected form");
            case "minLength" ->
                wanted.intValue() == 1 ? "must not be empty" : "has at least " + wanted.intValue() + " characters";
            case "maxLength" -> "has at most " + wanted.intValue() + " characters";
            case "minItems", "minProperties" -> "has at least " + entries(wanted.intValue());
            case "maxItems" -> "has at most " + entries(wanted.intValue());
            case "minimum" -> "is at least " + wanted.asString() + ", found " + shown(found);
            case "maximum" -> "is at most " + wanted.asString() + ", found " + shown(found);
            case "uniqueItems" -> "names something twice";
            case "pattern" ->
                shown(found) + " is not " + PATTERNS.getOrDefault(wanted.asString(), "of the expected form");
            case "oneOf", "anyOf" ->
                "expected "
                        + StreamSupport.stream(wanted.spliterator(), false)
                                .map(SchemaWords::alternative)
                                .collect(Collectors.joining(", or "))
                        + (found.isValueNode() ? ", found " + shown(found) : "");
            default -> error.getMessage();
        };
    }

    /** One of several things that may stand in a place. */
    private static String alternative(JsonNode schema) {
        if (schema.has("const")) {
            return "'" + schema.get("const").asString() + "'";
        }
        if (schema.has("required")) {
            return "'" + schema.get("required").path(0).asString() + "'";
        }
        String type = types(schema.path("type"));
        return schema.has("minimum") && schema.has("maximum")
                ? type + " from " + schema.get("minimum").asString() + " to "
                        + schema.get("maximum").asString()
                : type;
    }

    private static String entries(int count) {
        return count == 1 ? "one entry" : count + " entries";
    }

    private static String types(JsonNode wanted) {
        return wanted.isArray()
                ? StreamSupport.stream(wanted.spliterator(), false)
                        .map(one -> word(one.asString()))
                        .collect(Collectors.joining(" or "))
                : word(wanted.asString());
    }

    private static String word(String type) {
        return TYPES.getOrDefault(type, type);
    }

    private static String shown(JsonNode found) {
        if (found == null || found.isNull() || found.isMissingNode()) {
            return "nothing";
        }
        if (found.isContainer()) {
            return found.isArray() ? "a list" : "an object";
        }
        String text = found.asString();
        return "'" + (text.length() > LONGEST_VALUE ? text.substring(0, LONGEST_VALUE) + "…" : text) + "'";
    }
}
