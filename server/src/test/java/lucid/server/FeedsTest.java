package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import lucid.server.web.Digests;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/**
 * Feeds against a small real HTTP server: conditional requests, failures, and a provider whose documents are signed,
 * altered or not signed at all.
 */
class FeedsTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final Map<String, byte[]> FILES = new ConcurrentHashMap<>();
    private static final List<Integer> ANSWERS = new CopyOnWriteArrayList<>();
    private static HttpServer http;
    private static LucidServer.Client administrator;

    @BeforeAll
    static void publish() throws IOException {
        http = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        http.createContext("/", exchange -> {
            try (exchange) {
                byte[] content = FILES.get(exchange.getRequestURI().getPath());
                String etag = content == null ? "" : '"' + Digests.sha256(content) + '"';
                int status = content == null
                        ? 404
                        : etag.equals(exchange.getRequestHeaders().getFirst("If-None-Match")) ? 304 : 200;
                ANSWERS.add(status);
                if (exchange.getRequestURI().getPath().equals("/busy.json")) {
                    exchange.getResponseHeaders().set("Retry-After", "7200");
                    exchange.sendResponseHeaders(503, -1);
                    return;
                }
                exchange.getResponseHeaders().set("ETag", etag);
                exchange.sendResponseHeaders(status, status == 200 ? content.length : -1);
                if (status == 200) {
                    exchange.getResponseBody().write(content);
                }
            }
        });
        http.start();
        administrator = SERVER.administrator();
        administrator.post("/api/allowed-hosts", Map.of("name", "127.0.0.1"));
    }

    @AfterAll
    static void stop() {
        http.stop(0);
    }

    @BeforeEach
    void forget() {
        FILES.clear();
        ANSWERS.clear();
    }

    private static String address(String path) {
        return "http://127.0.0.1:" + http.getAddress().getPort() + path;
    }

    private static void put(String path, String content) {
        FILES.put(path, content.getBytes(StandardCharsets.UTF_8));
    }

    private static byte[] resource(String name) throws IOException {
        try (InputStream in = Objects.requireNonNull(FeedsTest.class.getResourceAsStream("/provider/" + name))) {
            return in.readAllBytes();
        }
    }

    /** Far away, so that only the test fetches it. */
    private static void add(String name, String kind, String path) {
        assertThat(administrator
                        .post(
                                "/api/feeds",
                                Map.of("name", name, "kind", kind, "address", address(path), "everyMinutes", 60))
                        .status())
                .isEqualTo(201);
    }

    private static JsonNode fetched(String name) {
        return administrator.post("/api/feeds/" + name + "/imports", Map.of()).json();
    }

    private static String documents() {
        return administrator.get("/api/documents").text();
    }

    @Test
    void aDocumentIsFetchedOnceUntilItChanges() {
        put(
                "/scores.csv",
                "#model_version:v1,score_date:2026-11-20T00:00:00+0000\ncve,epss,percentile\nCVE-2026-9000071,0.1,0.9\n");
        add("scores", "DOCUMENT", "/scores.csv");
        assertThat(fetched("scores").path("outcome").asString())
                .isIn("accepted: 1 vulnerability of 2026-11-20", "unchanged");
        assertThat(fetched("scores").path("outcome").asString()).isEqualTo("unchanged");
        assertThat(ANSWERS).contains(200, 304);
        put(
                "/scores.csv",
                "#model_version:v1,score_date:2026-11-21T00:00:00+0000\ncve,epss,percentile\nCVE-2026-9000071,0.3,0.9\n");
        assertThat(fetched("scores").path("outcome").asString())
                .isIn("accepted: 1 vulnerability of 2026-11-21", "unchanged");
        assertThat(documents()).contains("\"sender\":\"Feed scores\"");
    }

    @Test
    void aFailureIsToldAndWaitsLongerEachTime() {
        add("missing", "DOCUMENT", "/nothing.json");
        JsonNode first = fetched("missing");
        JsonNode second = fetched("missing");
        assertThat(second.path("outcome").asString()).contains("answered 404");
        assertThat(second.path("failures").intValue())
                .isGreaterThan(first.path("failures").intValue());
        assertThat(second.has("succeeded")).isFalse();
        assertThat(second.path("due").asString())
                .isGreaterThan(first.path("due").asString());
        put(
                "/nothing.json",
                "{\"catalogVersion\":\"1\",\"vulnerabilities\":[{\"cveID\":\"CVE-2026-9000055\",\"dateAdded\":\"2026-11-20\"}]}");
        JsonNode third = fetched("missing");
        assertThat(third.path("failures").intValue()).isZero();
        assertThat(third.has("succeeded")).isTrue();
    }

    @Test
    void aServerThatAsksToBeLeftAloneIs() {
        add("busy", "DOCUMENT", "/busy.json");
        JsonNode busy = fetched("busy");
        assertThat(busy.path("outcome").asString()).contains("answered 503 and asks to be left alone for 7200 seconds");
        assertThat(Instant.parse(busy.path("due").asString()))
                .isAfterOrEqualTo(Instant.parse(busy.path("tried").asString()).plusSeconds(7200));
    }

    @Test
    void onlyWhatATrustedKeySignedIsTakenAndTheRestIsHeldWithItsReason() throws IOException {
        byte[] document = resource("fth-1.json");
        byte[] altered = new String(document, StandardCharsets.UTF_8)
                .replace("FTH-1", "FTH-2")
                .getBytes(StandardCharsets.UTF_8);
        byte[] unsigned = new String(document, StandardCharsets.UTF_8)
                .replace("FTH-1", "FTH-3")
                .getBytes(StandardCharsets.UTF_8);
        byte[] broken = new String(document, StandardCharsets.UTF_8)
                .replace("FTH-1", "FTH-4")
                .getBytes(StandardCharsets.UTF_8);
        FILES.put("/white/1.json", document);
        FILES.put("/white/2.json", altered);
        FILES.put("/white/3.json", unsigned);
        FILES.put("/white/4.json", broken);
        for (String name : List.of("1", "2", "3")) {
            put(
                    "/white/" + name + ".json.sha256",
                    Digests.sha256(FILES.get("/white/" + name + ".json")) + "  " + name + ".json");
        }
        put("/white/4.json.sha256", Digests.sha256(document) + "  4.json");
        FILES.put("/white/1.json.asc", resource("fth-1.json.asc"));
        FILES.put("/white/2.json.asc", resource("fth-1.json.asc"));
        put(
                "/white/changes.csv",
                "\"1.json\",\"2026-11-20T08:00:00Z\"\n\"2.json\",\"2026-11-20T09:00:00Z\"\n\"3.json\",\"2026-11-20T10:00:00Z\"\n\"4.json\",\"2026-11-20T11:00:00Z\"\n");
        put(
                "/metadata.json",
                "{\"publisher\":{\"name\":\"Fathom\"},\"distributions\":[{\"directory_url\":\"" + address("/white/")
                        + "\"}]}");
        add("fathom", "CSAF_PROVIDER", "/metadata.json");

        assertThat(fetched("fathom").path("outcome").asString())
                .isIn("0 taken, 4 held because they are not trusted", "nothing new");
        assertThat(documents()).contains("which is not trusted here");
        assertThat(administrator
                        .post("/api/trusted-keys", Map.of("armored", "a text"))
                        .status())
                .isEqualTo(422);
        String fingerprint = administrator
                .post(
                        "/api/trusted-keys",
                        Map.of("armored", new String(resource("key.asc"), StandardCharsets.US_ASCII)))
                .json()
                .path(0)
                .path("fingerprint")
                .asString();
        assertThat(fetched("fathom").path("outcome").asString())
                .isIn("1 taken, 3 held because they are not trusted", "nothing new");
        assertThat(SERVER.analyst()
                        .get("/api/cases/FTH-1")
                        .json()
                        .path("update")
                        .path("signedBy")
                        .asString())
                .isEqualTo(fingerprint);
        assertThat(SERVER.analyst().get("/api/cases/FTH-2").status()).isEqualTo(404);
        assertThat(documents()).contains("it is not signed").contains("does not fit its hash");
        assertThat(fetched("fathom").path("outcome").asString()).isEqualTo("nothing new");

        // What is held cannot be let in by trying again.
        JsonNode held = administrator
                .get("/api/documents?outcome=REJECTED")
                .json()
                .path("documents")
                .path(0);
        assertThat(administrator
                        .post("/api/documents/" + held.path("number").longValue() + "/retries", Map.of())
                        .status())
                .isEqualTo(409);
        assertThat(administrator.delete("/api/trusted-keys/" + fingerprint).status())
                .isEqualTo(204);
        assertThat(administrator.delete("/api/trusted-keys/" + fingerprint).status())
                .isEqualTo(404);
    }

    @Test
    void aFeedThatCannotBeIsRefusedByField() {
        assertThat(administrator
                        .post(
                                "/api/feeds",
                                Map.of(
                                        "name",
                                        "x",
                                        "kind",
                                        "DOCUMENT",
                                        "address",
                                        "file:///etc/passwd",
                                        "everyMinutes",
                                        60))
                        .text())
                .contains("\"address\"");
        assertThat(administrator
                        .post(
                                "/api/feeds",
                                Map.of("name", "x", "kind", "DOCUMENT", "address", address("/x"), "everyMinutes", 1))
                        .text())
                .contains("\"everyMinutes\"");
        assertThat(administrator
                        .post(
                                "/api/feeds",
                                Map.of("name", " ", "kind", "DOCUMENT", "address", address("/x"), "everyMinutes", 60))
                        .text())
                .contains("\"name\"");
        assertThat(administrator.post("/api/feeds/absent/imports", Map.of()).status())
                .isEqualTo(404);
        assertThat(administrator.delete("/api/feeds/absent").status()).isEqualTo(404);
    }
}
