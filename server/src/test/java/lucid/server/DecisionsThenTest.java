package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/**
 * What was decided: as it was in force on a past day, and what the record says became of it. Time passes here, and is
 * not turned back.
 */
class DecisionsThenTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    DecisionsThenTest() {
        super(SERVER);
    }

    private static void nextDays(int days) {
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * days));
    }

    private List<String> stood(LocalDate on, String query) {
        return SERVER.reader()
                .get("/api/in-force/past?on=" + on + "&text=" + update + query)
                .json()
                .path("rows")
                .valueStream()
                .map(row -> row.path("kind").asString() + " "
                        + row.path("populations")
                                .valueStream()
                                .map(JsonNode::asString)
                                .toList() + " "
                        + row.path("became").asString())
                .toList();
    }

    @Test
    void whatWasInForceOnAPastDayIsToldWithWhatBecameOfIt() {
        LocalDate day = inDays(0);
        LucidServer.Answer block = SERVER.analyst().post("/api/verdicts", draft("BLOCK", 3, "kiosks"));
        SERVER.analyst().post("/api/verdicts", draft("DEFER", 20, "desktops"));
        SERVER.analyst().post("/api/verdicts", draft("FORCE", 1, "none"));
        nextDays(1);
        assertThat(stood(day, ""))
                .containsExactlyInAnyOrder(
                        "BLOCK [Ticket kiosks] STILL_STANDS",
                        "DEFER [Office desktops] STILL_STANDS",
                        "FORCE [In no population] STILL_STANDS");
        SERVER.analyst().delete(block.json().path("undo").asString());
        nextDays(1);
        assertThat(stood(day, "&kind=BLOCK")).containsExactly("BLOCK [Ticket kiosks] TAKEN_BACK");
        assertThat(stood(day.plusDays(1), "&population=kiosks"))
                .as("it was taken back before the end of that day")
                .isEmpty();
        nextDays(25);
        assertThat(stood(day, "&population=desktops")).containsExactly("DEFER [Office desktops] ENDED");
        assertThat(stood(day.plusDays(24), "")).containsExactly("FORCE [In no population] STILL_STANDS");
        assertThat(stood(day, "&person=H.+Marsh")).isEmpty();
        assertThat(stood(day, "&person=M.+Aldane")).hasSize(3);
        assertThat(SERVER.reader()
                        .get("/api/in-force/past.csv?on=" + day + "&text=" + update)
                        .text()
                        .lines())
                .hasSize(4)
                .anyMatch(line -> line.contains("Ticket kiosks") && line.contains("taken back"));
        assertThat(SERVER.reader().get("/api/in-force/past?on=" + inDays(0)).text())
                .contains("has not ended yet");
    }

    /** Every host has it: it was forced, and on that day it was done. */
    @Test
    void aForceThatWasDoneThenIsNotTold() {
        LocalDate day = inDays(0);
        reports("1.0");
        SERVER.analyst().post("/api/verdicts", draft("FORCE", 5, "kiosks"));
        nextDays(1);
        assertThat(stood(day, "")).containsExactly("FORCE [Ticket kiosks] STILL_STANDS");
        reports("9.0");
        nextDays(1);
        assertThat(stood(day.plusDays(1), "")).isEmpty();
        assertThat(stood(day, "")).hasSize(1);
    }

    private static void reports(String version) {
        for (String host : List.of("ksk-1", "ksk-2", "ksk-3")) {
            SERVER.machine().report(Examples.host(host, "kiosk", version, now()).getBytes());
        }
    }

    private static Instant now() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private Map<String, String> takenBack() {
        JsonNode page = SERVER.reader().get("/api/record?subject=" + update).json();
        Map<Long, String> sentences = new HashMap<>();
        page.path("entries")
                .forEach(entry -> sentences.put(
                        entry.path("number").asLong(), entry.path("sentence").asString()));
        Map<String, String> takenBack = new HashMap<>();
        page.path("takenBack")
                .forEach(one -> takenBack.put(
                        sentences.get(one.path("entry").asLong()),
                        one.path("author").asString()));
        return takenBack;
    }

    @Test
    void anEntryOfTheRecordSaysThatWhatItTellsOfWasTakenBack() {
        LucidServer.Answer block = SERVER.analyst().post("/api/verdicts", draft("BLOCK", 3, "kiosks"));
        LucidServer.Answer note =
                SERVER.analyst().post("/api/case-notes", Map.of("update", update, "words", "ask the vendor"));
        assertThat(takenBack()).isEmpty();
        SERVER.analyst().delete(block.json().path("undo").asString());
        assertThat(takenBack()).hasSize(1).allSatisfy((sentence, author) -> {
            assertThat(sentence).startsWith("Blocked " + update);
            assertThat(author).isEqualTo("M. Aldane (m.aldane)");
        });
        SERVER.analyst().delete(note.json().path("undo").asString());
        assertThat(takenBack().keySet()).anyMatch(sentence -> sentence.startsWith("Wrote on " + update));
        assertThat(takenBack()).hasSize(2);
    }
}
