package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

class IntakeTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static List<String> outcomes(LucidServer.Answer answer) {
        return StreamSupport.stream(answer.json().spliterator(), false).map(r -> r.path("outcome").asString()).toList();
    }

    private static JsonNode document(String name) {
        JsonNode page = SERVER.reader().get("/api/documents").json();
        return StreamSupport.stream(page.path("documents").spliterator(), false).filter(d -> d.path("name").asString().equals(name)).findFirst().orElseThrow();
    }

    @Test
    void keepsTheGoodOnesOfABatchAndNamesPlaceAndReasonOfTheOthers() {
        Map<String, String> batch = new LinkedHashMap<>();
        batch.put("a.json", Examples.notice("IN-1", "1", "2.0"));
        batch.put("b.json", Examples.notice("IN-2", "one", "2.0"));
        batch.put("c.json", "not json");
        batch.put("d.json", Examples.advisory("IN-3", "2.0"));
        assertThat(outcomes(SERVER.machine().documents(batch))).containsExactly("TAKEN", "REFUSED", "REFUSED", "TAKEN");
        assertThat(document("b.json").path("problems").get(0).path("place").asString()).isEqualTo("/revision");
        assertThat(document("c.json").path("problems").get(0).path("place").asString()).isEqualTo("line 1, column 1");
        assertThat(SERVER.reader().get("/api/documents/" + document("c.json").path("number").asLong() + "/content").text()).isEqualTo("not json");
        assertThat(SERVER.reader().get("/api/cases/IN-1").status()).isEqualTo(200);
        assertThat(SERVER.reader().get("/api/cases/IN-2").status()).isEqualTo(404);
    }

    @Test
    void theSameDocumentTwiceAndAnOlderRevisionChangeNothing() {
        String second = Examples.notice("IN-4", "2", "2.0");
        assertThat(outcomes(SERVER.machine().documents(Map.of("n.json", second)))).containsExactly("TAKEN");
        assertThat(outcomes(SERVER.machine().documents(Map.of("n.json", second)))).containsExactly("KNOWN");
        assertThat(outcomes(SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-4", "1", "1.0"))))).containsExactly("OLDER");
        assertThat(SERVER.reader().get("/api/cases/IN-4").json().path("update").path("revision").asString()).isEqualTo("2");
    }

    @Test
    void joinsAdvisoryAndNoticeAndRefusesOneThatContradicts() {
        assertThat(outcomes(SERVER.machine().documents(Map.of("a.json", Examples.advisory("IN-5", "3.0"))))).containsExactly("TAKEN");
        assertThat(SERVER.reader().get("/api/cases/IN-5").json().path("update").path("kind").asString()).isEqualTo("SECURITY");
        LucidServer.Answer contradiction = SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-5", "1", "4.0")));
        assertThat(outcomes(contradiction)).containsExactly("REFUSED");
        assertThat(contradiction.text()).contains("contradicts what is known of IN-5");
        assertThat(outcomes(SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-5", "1", "3.0"))))).containsExactly("TAKEN");
        assertThat(SERVER.reader().get("/api/cases/IN-5").json().path("update").path("kind").asString()).isEqualTo("BUGFIX");
    }

    @Test
    void hostReportsPlainAndCompressed() throws IOException {
        byte[] plain = Examples.host("in-host", "kiosk", "1.0", Instant.now()).getBytes(StandardCharsets.UTF_8);
        assertThat(SERVER.machine().report(plain).status()).isEqualTo(200);
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(bytes)) {
            gzip.write(Examples.host("in-host-2", "kiosk", "1.0", Instant.now()).getBytes(StandardCharsets.UTF_8));
        }
        assertThat(SERVER.machine().report(bytes.toByteArray()).status()).as("gzip without saying so").isEqualTo(422);
        assertThat(SERVER.machine().compressedReport(bytes.toByteArray()).status()).isEqualTo(200);
        assertThat(SERVER.machine().compressedReport(plain).text()).contains("not whole gzip");
        assertThat(SERVER.machine().send("POST", "/api/reports", "application/x-ndjson", BodyPublishers.ofString("{\"t\":\"host\"}")).status()).isEqualTo(422);
        assertThat(SERVER.machine().report(Examples.notice("IN-6", "1", "1.0").getBytes(StandardCharsets.UTF_8)).text()).contains("only host inventories are taken here");
    }

    @Test
    void aReportFromTheFutureOrThePastIsNotBelieved() {
        assertThat(SERVER.machine().report(Examples.host("in-clock", "kiosk", "1.0", Instant.now().plus(Duration.ofHours(5))).getBytes(StandardCharsets.UTF_8)).text())
                .contains("still to come");
        Instant now = Instant.now();
        SERVER.machine().report(Examples.host("in-past", "kiosk", "2.0", now).getBytes(StandardCharsets.UTF_8));
        assertThat(SERVER.machine().report(Examples.host("in-past", "kiosk", "1.0", now.minusSeconds(60)).getBytes(StandardCharsets.UTF_8)).text()).contains("is older than");
    }

    @Test
    void everythingIsThereAfterARestart() {
        SERVER.machine().documents(Map.of("p.json", Examples.POPULATIONS));
        SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-7", "1", "2.0"), "h.jsonl", Examples.hosts(Map.of("in-a", "kiosk 1.0", "in-b", "desktop 2.0"))));
        String carriers = SERVER.reader().get("/api/carriers/IN-7").text();
        String populations = SERVER.reader().get("/api/populations").text();
        String update = SERVER.reader().get("/api/cases/IN-7").text();
        SERVER.restart();
        assertThat(SERVER.reader().get("/api/carriers/IN-7").text()).isEqualTo(carriers);
        assertThat(SERVER.reader().get("/api/populations").text()).isEqualTo(populations).contains("Ticket kiosks");
        assertThat(SERVER.reader().get("/api/cases/IN-7").text()).isEqualTo(update);
    }

    @Test
    void whatIsTooLongIsRefusedWithoutBeingReadWhole() throws IOException {
        byte[] block = new byte[1024 * 1024];
        Arrays.fill(block, (byte) ' ');
        ByteArrayOutputStream bomb = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(bomb)) {
            for (int i = 0; i < 400; i++) {
                gzip.write(block);
            }
        }
        assertThat(bomb.size()).as("400 MB in little").isLessThan(1024 * 1024);
        LucidServer.Answer answer = SERVER.machine().compressedReport(bomb.toByteArray());
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.text()).contains("longer than 64 MB");
    }

    @Test
    void schemasAreServed() {
        assertThat(SERVER.nobody().get("/api/schemas/update-notice-1").json().path("title").asString()).isEqualTo("Update notice, version 1");
        assertThat(SERVER.nobody().get("/api/schemas/..%2Fapplication").status()).isIn(400, 404);
    }
}
