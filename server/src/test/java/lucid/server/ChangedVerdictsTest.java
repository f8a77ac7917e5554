package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import lucid.server.LucidServer.Answer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** A verdict is changed in one act: nothing is released in between, and taken back it stands as before. */
class ChangedVerdictsTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    ChangedVerdictsTest() {
        super(SERVER);
    }

    private long blocked(int days, String... populations) {
        Answer made = SERVER.analyst().post("/api/verdicts", draft("BLOCK", days, populations));
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        return made.json().path("verdicts").path(0).path("number").asLong();
    }

    private Map<String, Object> instead(long number, String type, int days, String... populations) {
        Map<String, Object> draft = draft(type, days, populations);
        draft.put("replaces", List.of(number));
        return draft;
    }

    /** Those that stand, by number. */
    private List<Long> standing() {
        return SERVER.reader()
                .get("/api/cases/" + update)
                .json()
                .path("verdicts")
                .valueStream()
                .filter(one -> one.path("stands").asBoolean())
                .map(one -> one.path("number").asLong())
                .toList();
    }

    private String end(long number) {
        return SERVER.reader()
                .get("/api/cases/" + update)
                .json()
                .path("verdicts")
                .valueStream()
                .filter(one -> one.path("number").asLong() == number)
                .map(one -> one.path("end").asString())
                .findFirst()
                .orElseThrow();
    }

    @Test
    void anEarlierEndTakesThePlaceOfALaterOneAndItComesBack() {
        long before = blocked(20, "kiosks");
        String end = end(before);
        JsonNode told = SERVER.analyst()
                .post("/api/verdicts/preview", instead(before, "BLOCK", 6, "kiosks"))
                .json()
                .path(0)
                .path("consequence");
        assertThat(told.path("decided").path("count").asInt()).isEqualTo(2);
        assertThat(told.path("before").path(0).path("match").path("verdict").asString())
                .as("what is in force now is so with what it takes the place of")
                .isEqualTo("BLOCK");
        Answer changed = SERVER.analyst().post("/api/verdicts", instead(before, "BLOCK", 6, "kiosks"));
        assertThat(changed.status()).as(changed.text()).isEqualTo(201);
        long after = changed.json().path("verdicts").path(0).path("number").asLong();
        assertThat(standing()).containsExactly(after);
        assertThat(end(after)).isLessThan(end);
        assertThat(record())
                .contains("Took back the block of " + update + " for Ticket kiosks, to put another in its place.");
        String undo = changed.json().path("undo").asString();
        assertThat(undo).isEqualTo("/api/decisions?verdict=" + after + "&replacedVerdict=" + before);
        assertThat(SERVER.analyst()
                        .get("/api/decisions/revocation?" + undo.substring(undo.indexOf('?') + 1))
                        .json()
                        .isEmpty())
                .as("nothing is released by it")
                .isTrue();
        assertThat(SERVER.analyst().delete(undo).status()).isEqualTo(204);
        assertThat(standing()).hasSize(1).doesNotContain(before, after);
        assertThat(end(standing().get(0))).isEqualTo(end);
        assertThat(record()).contains("Put back the block of " + update + " for Ticket kiosks.");
        assertThat(SERVER.analyst().delete(undo).status()).as("once").isEqualTo(409);
        assertThat(SERVER.analyst()
                        .delete("/api/decisions?replacedVerdict=" + before)
                        .text())
                .contains("stands again already");
        long again = standing().get(0);
        SERVER.restart();
        assertThat(standing()).containsExactly(again);
    }

    @Test
    void whatIsReplacedStandsOnTheSameUpdateAndIsNoPilot() {
        long before = blocked(20, "kiosks");
        Map<String, Object> other = instead(before, "BLOCK", 6, "kiosks");
        other.put("replaces", List.of(99_999));
        assertThat(SERVER.analyst().post("/api/verdicts", other).text())
                .contains("there is no verdict 99999 on " + update);
        assertThat(SERVER.analyst().delete("/api/decisions?verdict=" + before).status())
                .isEqualTo(204);
        Answer gone = SERVER.analyst().post("/api/verdicts", instead(before, "BLOCK", 6, "kiosks"));
        assertThat(gone.status()).isEqualTo(409);
        assertThat(gone.text()).contains("verdict " + before + " no longer stands");
        Answer pilot = SERVER.analyst().post("/api/verdicts", draft("PILOT", 14, "kiosks"));
        long number = pilot.json().path("verdicts").path(0).path("number").asLong();
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", instead(number, "BLOCK", 6, "kiosks"))
                        .text())
                .contains("a pilot is extended or stopped");
        assertThat(standing()).containsExactly(number);
        assertThat(SERVER.analyst()
                        .delete("/api/decisions?replacedVerdict=" + number)
                        .status())
                .as("a pilot, and it stands")
                .isEqualTo(409);
    }

    @Test
    void anotherAnswerForOthersTakesItsPlaceTooAndAnApproverSeesItSo() {
        long before = blocked(20, "kiosks", "desktops");
        List<Long> both = standing();
        Map<String, Object> force = draft("FORCE", 3, "desktops");
        force.put("replaces", both);
        Answer changed = SERVER.analyst().post("/api/verdicts", force);
        assertThat(changed.status()).as(changed.text()).isEqualTo(201);
        assertThat(holds("off-1")).isEqualTo("OFFERED by VERDICT");
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by STANDING_RULE");
        assertThat(before).isPositive();
        assertThat(SERVER.analyst()
                        .delete(changed.json().path("undo").asString())
                        .status())
                .isEqualTo(204);
        assertThat(holds("off-1")).isEqualTo("WITHHELD by VERDICT");
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by VERDICT");
    }
}
