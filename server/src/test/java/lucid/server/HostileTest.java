package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URLEncoder;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Whatever is sent, the answer is in words, and nobody's page breaks. */
class HostileTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final JsonMapper JSON = new JsonMapper();

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    // ---- identifiers of any legal spelling have an address

    @ParameterizedTest
    @ValueSource(strings = {"HST/1", "HST;2", "HST%3", "HST\\\\4", "HST?5", "HST#6", "HST 7", "HST+8", "HST%2F9", "HST&10", "HST..11", "../HST/12", "HST:\u03a9\u6e2f-13", "\ud83d\udea2 HST 14", "HST//15", "<b>HST</b>16"})
    void anUpdateOfAnyNameIsOpenedAndJudged(String id) {
        String spelled = id.replace("\\\\", "\\");
        assertThat(SERVER.machine().documents(Map.of("n.json", Examples.notice(id, "1", "2.0"))).text()).contains("TAKEN");
        LucidServer.Client analyst = SERVER.analyst();
        assertThat(analyst.get("/api/cases/" + encoded(spelled)).json().path("update").path("id").asString()).isEqualTo(spelled);
        assertThat(analyst.get("/api/carriers/" + encoded(spelled)).status()).isEqualTo(200);
        assertThat(analyst.get("/api/carriers/" + encoded(spelled) + "/hosts.csv").status()).isEqualTo(200);
        assertThat(analyst.get("/api/record?subject=" + encoded(spelled)).json().path("entries")).isNotEmpty();
        assertThat(analyst.get("/api/docket").status()).isEqualTo(200);
        assertThat(analyst.get("/cases/" + encoded(spelled)).text()).as("the page of its place").contains("<div id=\"root\">");
    }

    @ParameterizedTest
    @ValueSource(strings = {"host/1", "host;2", "host%3", "host\\\\4", "host 5", "ho\u00f8st-6"})
    void aHostOfAnyNameIsOpened(String name) {
        String spelled = name.replace("\\\\", "\\");
        assertThat(SERVER.machine().report(Examples.host(name, "kiosk", "1.0", Instant.now()).getBytes(StandardCharsets.UTF_8)).status()).isEqualTo(200);
        assertThat(SERVER.reader().get("/api/hosts/" + encoded(spelled)).json().path("name").asString()).isEqualTo(spelled);
    }

    // ---- documents and forms

    @Test
    void aFileNameIsShownAsFarAsItCanBe() {
        String odd = "a\u202eb\u0007.json";
        LucidServer.Answer answer = SERVER.machine().documents(Map.of(odd, Examples.notice("HST-NAME", "1", "2.0")));
        assertThat(answer.status()).isEqualTo(200);
        assertThat(answer.json().get(0).path("name").asString()).isEqualTo("a\ufffdb\ufffd.json");
        assertThat(SERVER.analyst().send("POST", "/api/documents", "multipart/form-data; boundary=part", BodyPublishers.ofString("--part\r\nContent-Disposition: form-data; name=\"files\"; filename=\"a\0b.json\"\r\n\r\n{}\r\n--part--\r\n"))
                .status()).isLessThan(500);
        assertThat(SERVER.analyst().send("POST", "/api/documents", "multipart/form-data", BodyPublishers.ofString("no parts")).status()).isEqualTo(400);
        assertThat(SERVER.analyst().send("POST", "/api/documents", "multipart/form-data; boundary=part", BodyPublishers.ofString("--part\r\nContent-Disp")).status()).isLessThan(500);
    }

    @Test
    void datesBeyondReasonAreRefusedEverywhere() {
        SERVER.machine().documents(Map.of("n.json", Examples.notice("HST-DATE", "1", "2.0")));
        for (String day : List.of("9999-12-31", "-0500-01-01", "1970-01-01", "+123456789-01-01", "tomorrow")) {
            LucidServer.Answer answer = SERVER.analyst().post("/api/verdicts/consequences", Map.of("update", "HST-DATE", "revision", "1", "type", "BLOCK", "populations", List.of("kiosks"), "until", day));
            assertThat(answer.status()).as(day + answer.text()).isEqualTo(422);
            assertThat(answer.text()).contains("until");
        }
        String notice = Examples.notice("HST-DATE-2", "1", "2.0");
        for (String instant : List.of("9999-01-01T00:00:00Z", "0001-01-01T00:00:00Z")) {
            assertThat(SERVER.machine().documents(Map.of("n.json", notice.replaceFirst("\"published\": \"[^\"]+\"", "\"published\": \"" + instant + "\""))).text()).contains("REFUSED").contains("1990 to 2100");
        }
        assertThat(SERVER.machine().report(Examples.host("hst-date", "kiosk", "1.0", Instant.parse("0500-01-01T00:00:00Z")).getBytes(StandardCharsets.UTF_8)).text()).contains("1990 to 2100");
    }

    @Test
    void muchOfAnythingIsRefusedInWords() {
        SERVER.machine().documents(Map.of("n.json", Examples.notice("HST-MUCH", "1", "2.0")));
        LucidServer.Client analyst = SERVER.analyst();
        List<Long> many = new ArrayList<>();
        for (long i = 0; i < 5_000; i++) {
            many.add(i);
        }
        Map<String, Object> verdict = new LinkedHashMap<>(Map.of("update", "HST-MUCH", "revision", "1", "type", "BLOCK", "populations", List.of("kiosks"), "until", "2026-12-14", "reasons", List.of("UNTESTED")));
        verdict.put("overrides", many);
        assertThat(analyst.post("/api/verdicts", verdict).json().path("field").asString()).isEqualTo("overrides");
        verdict.put("overrides", List.of());
        verdict.put("words", "w".repeat(9_000));
        assertThat(analyst.post("/api/verdicts", verdict).json().path("field").asString()).isEqualTo("words");
        assertThat(analyst.post("/api/does-not-matter-notes", Map.of("update", "HST-MUCH", "where", "name = '" + "x".repeat(9_000) + "'", "reason", "r")).status()).isBetween(400, 499);
        assertThat(SERVER.administrator().post("/api/feeds", Map.of("name", "ports", "kind", "DOCUMENT", "address", "http://vendor.example:99999/a", "everyMinutes", 60)).status()).isLessThan(500);
        assertThat(SERVER.analyst().post("/api/documents/fetches", Map.of("address", "http://vendor.example:99999/a")).json().path("field").asString()).isEqualTo("address");
    }

    // ---- every route, every field

    private static final List<String> PLACES = List.of("..", "%2e%2e", "A%2FB", "A%3BB", "A%25B", "A%5CB", "A%00B", "%F0%9F%98%80", "%ED%A0%80", "%C3", "a".repeat(3000), "%252F", "-1", "9e99", "none", "%20",
            "9223372036854775808", "A%0aB", "%e2%80%ae");
    private static final List<String> BODIES = List.of("", "null", "[]", "\"x\"", "{", "{\"a\":1}", "1e999999", "[".repeat(200) + "]".repeat(200), "{\"name\":\"\\ud800\"}", "{\"name\":\"\\u0000\"}");
    private static final List<String> VALUES = List.of("null", "true", "-1", "0", "3.0", "1e308", "9e99999999999", "\"\"", "\"" + "x".repeat(20_000) + "\"", "\"\\ud800\"", "\"\\u0000\"", "\"\\u202e\"", "\"9999-12-31\"", "\"-0500-01-01\"",
            "[]", "{}", "[null]", "[\"" + String.join("\",\"", List.of("x", "y")) + "\"]", "{\"a\":{\"b\":1}}", "5");
    /** What would end the test itself. */
    private static final Set<String> LEFT_OUT = Set.of("/api/events", "/api/backup", "/api/clock/advances", "/api/sessions", "/api/sessions/current", "/api/sessions/current/password", "/api/sessions/current/second-factor",
            "/api/sessions/{id}", "/api/accounts/{name}", "/api/tokens/{name}", "/api/allowed-hosts/{name}", "/api/second-factor-roles", "/api/weights");

    @Test
    void noRouteFailsOnAnythingThatIsSent() throws Exception {
        JsonNode description = JSON.readTree(Files.readString(Path.of("..", "docs", "openapi.json")));
        LucidServer.Client analyst = SERVER.analyst();
        LucidServer.Client administrator = SERVER.administrator();
        Set<String> failed = new TreeSet<>();
        for (Map.Entry<String, JsonNode> path : description.path("paths").properties()) {
            if (LEFT_OUT.contains(path.getKey()) || path.getKey().endsWith("/fetches")) {
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
        assertThat(failed).isEmpty();
        assertThat(analyst.get("/api/docket").status()).isEqualTo(200);
        assertThat(analyst.get("/api/carriers").status()).isEqualTo(200);
        assertThat(analyst.get("/api/hosts").status()).isEqualTo(200);
        assertThat(analyst.get("/api/documents").status()).isEqualTo(200);
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
        JsonNode schema = operation.path("requestBody").path("content").path("application/json").path("schema");
        if (schema.isMissingNode()) {
            return List.of();
        }
        List<String> bodies = new ArrayList<>(BODIES);
        String reference = schema.path("$ref").asString("");
        JsonNode properties = description.path("components").path("schemas").path(reference.substring(reference.lastIndexOf('/') + 1)).path("properties");
        for (Map.Entry<String, JsonNode> property : properties.properties()) {
            for (String value : VALUES) {
                StringBuilder body = new StringBuilder("{\"" + property.getKey() + "\":" + value);
                properties.properties().stream().filter(other -> !other.getKey().equals(property.getKey())).forEach(other -> body.append(",\"").append(other.getKey()).append("\":").append(usual(other)));
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
            failed.add(answer.status() + " " + method + " " + path.substring(0, Math.min(120, path.length())) + " " + body.substring(0, Math.min(200, body.length())));
        }
    }
}
