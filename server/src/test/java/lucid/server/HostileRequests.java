package lucid.server;

import java.io.IOException;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Every route that the description of the API names, asked with places, parameters, bodies and fields that nobody
 * expects.
 */
final class HostileRequests {

    private static final JsonMapper JSON = new JsonMapper();

    private HostileRequests() {}

    private static final List<String> PLACES = List.of(
            "..",
            "%2e%2e",
            "A%2FB",
            "A%3BB",
            "A%25B",
            "A%5CB",
            "A%00B",
            "%F0%9F%98%80",
            "%ED%A0%80",
            "%C3",
            "a".repeat(3000),
            "%252F",
            "-1",
            "9e99",
            "none",
            "%20",
            "9223372036854775808",
            "A%0aB",
            "%e2%80%ae");
    private static final List<String> BODIES = List.of(
            "",
            "null",
            "[]",
            "\"x\"",
            "{",
            "{\"a\":1}",
            "1e999999",
            "[".repeat(200) + "]".repeat(200),
            "{\"name\":\"\\ud800\"}",
            "{\"name\":\"\\u0000\"}");
    private static final List<String> VALUES = List.of(
            "null",
            "true",
            "-1",
            "0",
            "3.0",
            "1e308",
            "9e99999999999",
            "\"\"",
            "\"" + "x".repeat(20_000) + "\"",
            "\"\\ud800\"",
            "\"\\u0000\"",
            "\"\\u202e\"",
            "\"9999-12-31\"",
            "\"-0500-01-01\"",
            "[]",
            "{}",
            "[null]",
            "[\"" + String.join("\",\"", List.of("x", "y")) + "\"]",
            "{\"a\":{\"b\":1}}",
            "5");
    /** What would end the test itself. */
    private static final Set<String> LEFT_OUT = Set.of(
            "/api/events",
            "/api/backup",
            "/api/clock/advances",
            "/api/sessions",
            "/api/sessions/current",
            "/api/sessions/current/password",
            "/api/sessions/current/second-factor",
            "/api/sessions/{id}",
            "/api/accounts/{name}",
            "/api/tokens/{name}",
            "/api/allowed-hosts/{name}",
            "/api/second-factor-roles",
            "/api/weights");

    /** The requests that failed with a status of 500 and up, apart from 503; there must be none. */
    static Set<String> failures(LucidServer.Client analyst, LucidServer.Client administrator) throws IOException {
        JsonNode description = JSON.readTree(Files.readString(Path.of("..", "docs", "openapi.json")));
        Set<String> failed = new TreeSet<>();
        for (Map.Entry<String, JsonNode> path : description.path("paths").properties()) {
            if (LEFT_OUT.contains(path.getKey()) || path.getKey().endsWith("/imports")) {
                continue;
            }
            boolean ofAdministrator = path.getKey().matches(".*(accounts|tokens|feeds|allowed|trusted|backup).*");
            LucidServer.Client client = ofAdministrator ? administrator : analyst;
            for (Map.Entry<String, JsonNode> operation : path.getValue().properties()) {
                String method = operation.getKey().toUpperCase(Locale.ROOT);
                for (String probe : probes(path.getKey(), operation.getValue())) {
                    ask(client, method, probe, method.startsWith("P") ? "{}" : "", failed);
                }
                String plain = path.getKey().replaceAll("\\{\\w+}", "1");
                for (String body : bodies(description, operation.getValue())) {
                    ask(client, method, plain, body, failed);
                }
            }
        }
        return failed;
    }

    private static List<String> probes(String path, JsonNode operation) {
        List<String> probes = new ArrayList<>();
        String plain = path.replaceAll("\\{\\w+}", "1");
        for (String place : PLACES) {
            if (path.contains("{")) {
                probes.add(path.replaceAll("\\{\\w+}", Matcher.quoteReplacement(place)));
            }
            operation.path("parameters").forEach(parameter -> {
                if (parameter.path("in").asString().equals("query")) {
                    probes.add(plain + "?" + parameter.path("name").asString() + "=" + place);
                }
            });
        }
        return probes;
    }

    private static List<String> bodies(JsonNode description, JsonNode operation) {
        JsonNode schema = operation
                .path("requestBody")
                .path("content")
                .path("application/json")
                .path("schema");
        if (schema.isMissingNode()) {
            return List.of();
        }
        List<String> bodies = new ArrayList<>(BODIES);
        String reference = schema.path("$ref").asString("");
        JsonNode properties = description
                .path("components")
                .path("schemas")
                .path(reference.substring(reference.lastIndexOf('/') + 1))
                .path("properties");
        for (Map.Entry<String, JsonNode> property : properties.properties()) {
            for (String value : VALUES) {
                StringBuilder body = new StringBuilder("{\"" + property.getKey() + "\":" + value);
                properties.properties().stream()
                        .filter(other -> !other.getKey().equals(property.getKey()))
                        .forEach(other -> body.append(",\"")
                                .append(other.getKey())
                                .append("\":")
                                .append(usual(other)));
                bodies.add(body.append('}').toString());
            }
        }
        return bodies;
    }

    private static String usual(Map.Entry<String, JsonNode> property) {
        if (property.getValue().has("enum")) {
            return property.getValue().path("enum").get(0).toString();
        }
        return switch (property.getValue().path("type").asString("")) {
            case "string" -> "\"x\"";
            case "integer", "number" -> "1";
            case "boolean" -> "false";
            case "array" -> "[]";
            default -> "{}";
        };
    }

    private static void ask(LucidServer.Client client, String method, String path, String body, Set<String> failed) {
        LucidServer.Answer answer;
        try {
            answer = client.send(method, path, "application/json", BodyPublishers.ofString(body));
        } catch (IllegalArgumentException e) {
            // No address that could be sent.
            return;
        }
        if (answer.status() >= 500 && answer.status() != 503) {
            failed.add(answer.status() + " " + method + " " + path.substring(0, Math.min(120, path.length())) + " "
                    + body.substring(0, Math.min(200, body.length())));
        }
    }
}
