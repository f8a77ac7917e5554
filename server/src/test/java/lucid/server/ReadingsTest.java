package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.stream.StreamSupport;
import lucid.core.update.UpdateId;
import lucid.formats.document.Format;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.databind.JsonNode;

/** What was read of a document counts until somebody lets it count as a newer reader reads it. */
class ReadingsTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    /** As if documents had been read by a reader before the first, which took another version for the fixed one. */
    @BeforeAll
    static void anOlderReader() {
        SERVER.machine()
                .documents(Map.of(
                        "counted.json", Examples.advisory("OTHER-1", "2.0"),
                        "kept.json", Examples.advisory("OTHER-2", "2.0"),
                        "gone.json", Examples.advisory("OTHER-3", "2.0"),
                        "same.json", Examples.advisory("OTHER-4", "2.0"),
                        "issues.json", issue("Printers stay dark")));
        SERVER.machine()
                .report(Examples.host("o-1", "kiosk", "1.5", Instant.now()).getBytes(StandardCharsets.UTF_8));
        JdbcTemplate database = SERVER.bean(JdbcTemplate.class);
        database.update("update document set reader = -1, compared = -1 where outcome = 'ACCEPTED'");
        database.update("""
                update update_reading_fix set range_end = '1.2' where reading in
                  (select number from update_reading where update_id in ('OTHER-1', 'OTHER-2', 'OTHER-3'))""");
        database.update("update known_issue set words = 'Printers stay'");
        database.update("update document set content = ? where name = 'gone.json'", (Object)
                "{\"document\": {\"csaf_version\": \"2.0\"}}".getBytes(StandardCharsets.UTF_8));
        SERVER.restart();
        await().atMost(Duration.ofMinutes(3))
                .until(() ->
                        database().queryForObject("select count(*) from document where compared = -1", Integer.class)
                                == 0);
    }

    private static JdbcTemplate database() {
        return SERVER.bean(JdbcTemplate.class);
    }

    private static String issue(String words) {
        return """
                {"format": "known-issues-1", "source": "Lantern", "issues": [
                  {"id": "L-1", "updates": ["OTHER-4"], "text": "%s", "state": "open", "at": "2026-01-01T00:00:00Z"}]}
                """.formatted(words);
    }

    private static JsonNode otherwise(String name) {
        return StreamSupport.stream(
                        SERVER.reader().get("/api/documents/readings").json().spliterator(), false)
                .filter(document -> document.path("name").asString().equals(name))
                .findFirst()
                .orElse(null);
    }

    private static int lacking(String update) {
        return SERVER.snapshot()
                .carriage(SERVER.snapshot().update(new UpdateId(update)), Instant.now())
                .lacking()
                .getCardinality();
    }

    @Test
    void aDocumentCountsAsItWasReadUntilSomebodySaysSo() {
        assertThat(lacking("OTHER-1")).isZero();
        JsonNode document = otherwise("counted.json");
        JsonNode difference = document.path("differences").get(0);
        assertThat(difference.path("subject").asString()).isEqualTo("OTHER-1");
        assertThat(difference.path("part").asString()).isEqualTo("fixes");
        assertThat(difference.path("before").asString())
                .contains("pkg:generic/desk")
                .contains("1.2");
        assertThat(difference.path("now").asString())
                .contains("pkg:generic/desk")
                .contains("2.0");

        String settle = "/api/documents/" + document.path("number").asLong() + "/readings";
        assertThat(SERVER.reader().post(settle, Map.of("asReadNow", true)).status())
                .isEqualTo(403);
        assertThat(SERVER.analyst().post(settle, Map.of("asReadNow", true)).status())
                .isEqualTo(204);
        assertThat(lacking("OTHER-1")).isEqualTo(1);
        assertThat(otherwise("counted.json")).isNull();
        assertThat(SERVER.rebuilt().catalogue().update(new UpdateId("OTHER-1")))
                .isEqualTo(SERVER.snapshot().catalogue().update(new UpdateId("OTHER-1")));
        assertThat(SERVER.reader().get("/api/record").text()).contains("counted.json, counts as it is read now.");
        assertThat(SERVER.analyst().post(settle, Map.of("asReadNow", true)).text())
                .contains("is not read otherwise any more");
    }

    @Test
    void itMayBeKeptAsItWas() {
        String settle =
                "/api/documents/" + otherwise("kept.json").path("number").asLong() + "/readings";
        assertThat(SERVER.analyst().post(settle, Map.of("asReadNow", false)).status())
                .isEqualTo(204);
        assertThat(otherwise("kept.json")).isNull();
        assertThat(lacking("OTHER-2")).isZero();
        assertThat(SERVER.reader().get("/api/record").text()).contains("kept.json, counts as it was read before.");
    }

    @Test
    void whatCannotBeReadAnyMoreCountsOn() {
        JsonNode document = otherwise("gone.json");
        assertThat(document.path("refused").asString()).isNotEmpty();
        assertThat(SERVER.snapshot().catalogue().update(new UpdateId("OTHER-3")))
                .isPresent();
        assertThat(SERVER.analyst()
                        .post(
                                "/api/documents/" + document.path("number").asLong() + "/readings",
                                Map.of("asReadNow", true))
                        .text())
                .contains("it cannot be read any more");
    }

    @Test
    void whatIsReadTheSameIsNotAskedAbout() {
        assertThat(otherwise("same.json")).isNull();
        assertThat(database().queryForObject("select reader from document where name = 'same.json'", Integer.class))
                .isEqualTo(Format.CSAF.reader());
    }

    @Test
    void evidenceIsComparedToo() {
        JsonNode document = otherwise("issues.json");
        assertThat(document.path("differences").get(0).path("part").asString()).isEqualTo("words");
        assertThat(document.path("differences").get(0).path("before").asString())
                .isEqualTo("Printers stay");
        assertThat(SERVER.analyst()
                        .post(
                                "/api/documents/" + document.path("number").asLong() + "/readings",
                                Map.of("asReadNow", true))
                        .status())
                .isEqualTo(204);
        assertThat(SERVER.snapshot().evidence().issues().values())
                .singleElement()
                .satisfies(issue -> assertThat(issue.words()).isEqualTo("Printers stay dark"));
    }
}
