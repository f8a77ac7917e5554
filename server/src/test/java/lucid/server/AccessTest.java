package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.http.HttpRequest.BodyPublishers;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class AccessTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    /** Each route with who may use it; a request that is let in is then refused as empty, but never with 401 or 403. */
    @ParameterizedTest
    @CsvSource({
        "GET, /api/docket, no, yes, yes, yes, no, no",
        "GET, /api/cases/X, no, yes, yes, yes, no, no",
        "GET, /api/cases/X/rulings/h, no, yes, yes, yes, no, no",
        "GET, /api/carriers, no, yes, yes, yes, no, no",
        "GET, /api/carriers/X, no, yes, yes, yes, no, no",
        "GET, /api/carriers/X/hosts, no, yes, yes, yes, no, no",
        "GET, /api/carriers/X/hosts.csv, no, yes, yes, yes, no, no",
        "GET, /api/populations, no, yes, yes, yes, no, no",
        "GET, /api/record, no, yes, yes, yes, no, no",
        "GET, /api/record/entries.csv, no, yes, yes, yes, no, no",
        "GET, /api/documents, no, yes, yes, yes, no, no",
        "GET, /api/documents/1/content, no, yes, yes, yes, no, no",
        "GET, /api/clock, no, yes, yes, yes, yes, yes",
        "GET, /api/schemas/populations-1, yes, yes, yes, yes, yes, yes",
        "GET, /api/sessions/current, yes, yes, yes, yes, yes, yes",
        "GET, /api/openapi, yes, yes, yes, yes, yes, yes",
        "POST, /api/documents, no, no, yes, yes, yes, no",
        "POST, /api/reports, no, no, no, no, yes, yes",
        "POST, /api/verdicts, no, no, yes, no, no, no",
        "POST, /api/verdicts/consequences, no, no, yes, no, no, no",
        "DELETE, /api/verdicts/9, no, no, yes, no, no, no",
        "POST, /api/rule-answers, no, no, yes, no, no, no",
        "DELETE, /api/rule-answers/9, no, no, yes, no, no, no",
        "POST, /api/exceptions, no, no, yes, no, no, no",
        "POST, /api/exceptions/consequences, no, no, yes, no, no, no",
        "DELETE, /api/exceptions/9, no, no, yes, no, no, no",
        "POST, /api/clock/advances, no, no, yes, no, yes, no",
        "GET, /api/accounts, no, no, no, yes, no, no",
        "POST, /api/accounts, no, no, no, yes, no, no",
        "GET, /api/tokens, no, no, no, yes, no, no",
        "POST, /api/tokens, no, no, no, yes, no, no",
        "DELETE, /api/tokens/absent, no, no, no, yes, no, no",
        "GET, /api/whatever, no, yes, yes, yes, no, no",
    })
    void everyRouteForEveryRole(String method, String path, String nobody, String reader, String analyst, String administrator, String importer, String reporter) {
        assertThat(allowed(SERVER.nobody(), method, path)).as("nobody").isEqualTo(nobody);
        assertThat(allowed(SERVER.reader(), method, path)).as("reader").isEqualTo(reader);
        assertThat(allowed(SERVER.analyst(), method, path)).as("analyst").isEqualTo(analyst);
        assertThat(allowed(SERVER.administrator(), method, path)).as("administrator").isEqualTo(administrator);
        assertThat(allowed(SERVER.machine(), method, path)).as("machine that imports").isEqualTo(importer);
        assertThat(allowed(SERVER.withToken(reportToken()), method, path)).as("machine that reports").isEqualTo(reporter);
    }

    private static String reportToken;

    private static String reportToken() {
        if (reportToken == null) {
            reportToken = SERVER.administrator().post("/api/tokens", Map.of("name", "reporter", "scope", "REPORT")).json().path("token").asString();
        }
        return reportToken;
    }

    private static String allowed(LucidServer.Client client, String method, String path) {
        int status = client.send(method, path, "application/json", BodyPublishers.ofString(method.equals("POST") ? "{}" : "")).status();
        assertThat(status).as(method + " " + path).isNotEqualTo(500);
        return status == 401 || status == 403 ? "no" : "yes";
    }

    @Test
    void aWrongPasswordIsRefusedAndTellsNothing() {
        LucidServer.Client client = SERVER.nobody();
        client.get("/api/sessions/current");
        LucidServer.Answer wrong = client.post("/api/sessions", Map.of("name", "m.aldane", "password", "guess"));
        LucidServer.Answer unknown = client.post("/api/sessions", Map.of("name", "x", "password", "guess"));
        assertThat(wrong.status()).isEqualTo(401);
        assertThat(unknown.text()).isEqualTo(wrong.text());
        assertThat(client.get("/api/sessions/current").json().has("login")).isFalse();
    }

    @Test
    void aRequestWithoutTheForgeryTokenIsRefused() {
        LucidServer.Client client = SERVER.nobody();
        assertThat(client.post("/api/sessions", Map.of("name", "m.aldane", "password", "skerry-line")).status()).isEqualTo(403);
    }

    @Test
    void signingOutEndsTheSession() {
        LucidServer.Client client = SERVER.analyst();
        assertThat(client.get("/api/docket").status()).isEqualTo(200);
        assertThat(client.delete("/api/sessions/current").status()).isEqualTo(204);
        assertThat(client.get("/api/docket").status()).isEqualTo(401);
    }

    @Test
    void peopleAndTokensAreMadeAndRevokedAndRecorded() {
        LucidServer.Client administrator = SERVER.administrator();
        assertThat(administrator.post("/api/accounts", Map.of("name", "o.new", "displayName", "O. New", "role", "READER", "password", "skerry-line")).status()).isEqualTo(201);
        assertThat(SERVER.person("o.new").get("/api/docket").status()).isEqualTo(200);
        assertThat(administrator.post("/api/accounts", Map.of("name", "o.new", "displayName", "O. New", "role", "READER", "password", "skerry-line")).status()).isEqualTo(409);
        assertThat(administrator.post("/api/accounts", Map.of("name", "p", "displayName", "P", "role", "READER", "password", "short")).json().path("field").asString()).isEqualTo("password");
        String token = administrator.post("/api/tokens", Map.of("name", "ship", "scope", "REPORT")).json().path("token").asString();
        assertThat(SERVER.withToken(token).get("/api/clock").status()).isEqualTo(200);
        assertThat(administrator.delete("/api/tokens/ship").status()).isEqualTo(204);
        assertThat(SERVER.withToken(token).get("/api/clock").status()).isEqualTo(401);
        assertThat(administrator.get("/api/record?kind=ACCESS").text()).contains("The token ship was revoked.", "O. New was added as reader.").doesNotContain(token);
    }

    @Test
    void pagesComeWithAStrictPolicyAndEveryPlaceHasItsAddress() {
        for (String place : new String[] {"/", "/docket", "/cases/LNT-1", "/carriers/X?population=a", "/record"}) {
            LucidServer.Answer page = SERVER.nobody().get(place);
            assertThat(page.text()).as(place).contains("<div id=\"root\">");
            assertThat(page.headers().firstValue("Content-Security-Policy")).as(place).hasValueSatisfying(policy -> assertThat(policy)
                    .contains("default-src 'self'", "frame-ancestors 'none'").doesNotContain("script-src", "unsafe-eval"));
            assertThat(page.headers().firstValue("X-Content-Type-Options")).contains("nosniff");
        }
    }
}
