package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** Cases that somebody sees to, and that are looked at again on a day. */
class FollowUpsTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static int number;

    private String update;
    private LocalDate today;

    @BeforeEach
    void aCaseOfItsOwn() {
        SERVER.populations(Examples.POPULATIONS);
        update = "FUP-" + ++number;
        Instant now = Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
        today = LocalDate.ofInstant(now, ZoneOffset.UTC);
        SERVER.analyst()
                .documents(Map.of(
                        "h.jsonl",
                        Examples.host("fup-1", "kiosk", "1.0", now),
                        "u.json",
                        Examples.notice(update, "1", "2." + number)));
    }

    private LucidServer.Answer write(String words, String assignee, LocalDate day) {
        return SERVER.analyst()
                .post(
                        "/api/case-notes",
                        Map.of("update", update, "words", words, "assignee", assignee, "lookAgain", day.toString()));
    }

    /** Of the cases that somebody sees to, the one with the update. */
    private Optional<JsonNode> strip(String assignee) {
        String page = "/api/docket?assignee=" + URLEncoder.encode(assignee, StandardCharsets.UTF_8);
        return StreamSupport.stream(
                        SERVER.analyst().get(page).json().path("cases").spliterator(), false)
                .filter(one -> one.path("id").asString().equals(update))
                .findFirst();
    }

    private String cues() {
        return SERVER.analyst().get("/api/cases/" + update).json().path("cues").toString();
    }

    @Test
    void itIsToldOnItsDayAndNoSooner() {
        assertThat(write("ask for the log", "m. aldane", today.plusDays(2)).status())
                .isEqualTo(201);
        assertThat(cues()).doesNotContain("LOOK_AGAIN");
        assertThat(strip("M. Aldane").orElseThrow().path("assignees").toString())
                .isEqualTo("[\"M. Aldane\"]");
        SERVER.analyst().post("/api/acknowledgements", Map.of("updates", List.of(update)));
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 48));
        assertThat(cues()).as("whoever answered it before").contains("LOOK_AGAIN", "ask for the log");
        assertThat(strip("M. Aldane")).isPresent();
        assertThat(SERVER.analyst().get("/api/digest?hours=24&zone=Z").text())
                .contains("You see to " + update + ", looked at again");
        assertThat(strip("K. Strand")).isEmpty();
    }

    @Test
    void whatNobodyCanSeeToIsRefusedByField() {
        assertThat(write("x", "Nobody At All", today).text())
                .contains("\"assignee\"", "nobody with an account is called 'Nobody At All'");
        assertThat(write("x", "M. Aldane", today.minusDays(2)).text()).contains("\"lookAgain\"", "has passed");
        assertThat(SERVER.analyst().get("/api/people").text()).contains("M. Aldane", "ANALYST");
    }

    @Test
    void aNoteThatIsTakenBackAsksForNothing() {
        String undo = write("see to it", "M. Aldane", today).json().path("undo").asString();
        assertThat(cues()).contains("LOOK_AGAIN");
        assertThat(SERVER.analyst().delete(undo).status()).isEqualTo(204);
        assertThat(cues()).doesNotContain("LOOK_AGAIN");
        assertThat(strip("M. Aldane")).isEmpty();
    }
}
