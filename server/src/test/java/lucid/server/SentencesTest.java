package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lucid.server.LucidServer.Answer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** Several answers in one sentence, and what a force says of hosts that cannot follow at once. */
class SentencesTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    SentencesTest() {
        super(SERVER);
    }

    private Map<String, Object> answer(String type, int days, String... populations) {
        Map<String, Object> answer = new HashMap<>(draft(type, days, populations));
        List.of("update", "revision", "reasons").forEach(answer::remove);
        return answer;
    }

    @Test
    void severalAnswersAreHandedDownTogetherAndTakenBackTogether() {
        Map<String, Object> sentence = draft("BLOCK", 14, "kiosks");
        sentence.put("also", List.of(answer("FORCE", 3, "desktops"), answer("DEFER", 5, "none")));
        JsonNode preview =
                SERVER.analyst().post("/api/verdicts/preview", sentence).json();
        assertThat(preview)
                .extracting(one -> one.path("answer").asInt() + " "
                        + one.path("population").asString())
                .containsExactly("0 kiosks", "1 desktops", "2 none");
        Answer made = SERVER.analyst().post("/api/verdicts", sentence);
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        assertThat(made.json().path("verdicts").size()).isEqualTo(3);
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by VERDICT");
        assertThat(holds("off-1")).isEqualTo("OFFERED by VERDICT");
        assertThat(holds("odd-1")).isEqualTo("WITHHELD by VERDICT");
        assertThat(cues()).isEmpty();
        assertThat(SERVER.analyst().delete(made.json().path("undo").asString()).status())
                .isEqualTo(204);
        assertThat(holds("off-1")).isEqualTo("WITHHELD by STANDING_RULE");
    }

    @Test
    void onePopulationHasTwoAnswersOnlyWhereOneIsNarrowed() {
        Map<String, Object> twice = draft("BLOCK", 14, "kiosks");
        twice.put("also", List.of(answer("DEFER", 0, "kiosks")));
        assertThat(SERVER.analyst().post("/api/verdicts", twice).text()).contains("two answers for kiosks");
        twice.put("where", "name = ksk-1");
        JsonNode preview = SERVER.analyst().post("/api/verdicts/preview", twice).json();
        assertThat(preview.path(1)
                        .path("consequence")
                        .path("decided")
                        .path("names")
                        .toString())
                .as("the second answer knows the first")
                .isEqualTo("[\"ksk-2\"]");
        assertThat(SERVER.analyst().post("/api/verdicts", twice).status()).isEqualTo(201);
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by VERDICT");
        assertThat(holds("ksk-2")).isEqualTo("OFFERED by VERDICT");
    }

    @Test
    void ifOneAnswerIsRefusedNoneIsHandedDown() {
        Map<String, Object> sentence = draft("BLOCK", 14, "kiosks");
        sentence.put("also", List.of(answer("FORCE", -3, "desktops")));
        assertThat(SERVER.analyst().post("/api/verdicts", sentence).status()).isEqualTo(422);
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by STANDING_RULE");
        assertThat(cues()).isEqualTo(UNTOUCHED);
    }

    @Test
    void aSentenceHasAnEnd() {
        Map<String, Object> sentence = draft("BLOCK", 14, "kiosks");
        sentence.put("also", Collections.nCopies(20, answer("FORCE", 3, "desktops")));
        Answer refused = SERVER.analyst().post("/api/verdicts", sentence);
        assertThat(refused.status()).isBetween(400, 422);
        assertThat(refused.text()).contains("at most 20 answers in one sentence");
    }

    @Test
    void aForceSaysHowLongHostsThatWereAwayHave() {
        Map<String, Object> force = draft("FORCE", 3, "desktops");
        force.put("allowanceDays", 2);
        force.put("outsideWindows", true);
        assertThat(SERVER.analyst().post("/api/verdicts", force).status()).isEqualTo(201);
        assertThat(record()).contains("(hosts that were away 2 days after they return), also outside windows");
        SERVER.restart();
        assertThat(record()).contains("also outside windows");
        Map<String, Object> block = draft("BLOCK", 3, "kiosks");
        block.put("allowanceDays", 2);
        assertThat(SERVER.analyst().post("/api/verdicts", block).text()).contains("only what is forced");
        force.put("allowanceDays", 400);
        assertThat(SERVER.analyst().post("/api/verdicts", force).text()).contains("0 to 90 days");
    }
}
