package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** The fleet's caution: declared with what it holds back, in force until its day, and taken back. */
class CautionsTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    CautionsTest() {
        super(SERVER);
    }

    private Map<String, Object> caution(String level, int days) {
        return new HashMap<>(
                Map.of("level", level, "until", inDays(days).toString(), "reason", "a bad week", "owner", "marsh"));
    }

    @Test
    void onlyWhatIsJudgedIsOfferedWhileItIsDeclared() {
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * 6));
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by STANDING_RULE");
        JsonNode would = SERVER.analyst()
                .post("/api/cautions/preview", caution("JUDGED_ONLY", 9))
                .json();
        assertThat(would.toString()).contains(update).contains("ksk-1");
        assertThat(holds("ksk-1")).as("nothing is kept").isEqualTo("OFFERED by STANDING_RULE");

        JsonNode declared = SERVER.analyst()
                .post("/api/cautions", caution("JUDGED_ONLY", 9))
                .json();
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by CAUTION");
        assertThat(SERVER.reader().get("/api/cautions").text()).contains("a bad week", "marsh");
        assertThat(SERVER.reader().get("/api/in-force?kind=CAUTION").text())
                .contains("standing rules: nothing offered");
        SERVER.analyst().post("/api/verdicts", draft("DEFER", 0, "kiosks"));
        assertThat(holds("ksk-1")).as("this one is judged").isEqualTo("OFFERED by VERDICT");
        SERVER.restart();
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * 6));
        assertThat(SERVER.reader().get("/api/cautions").json().size()).isEqualTo(1);

        String undo = declared.path("undo").asString();
        assertThat(SERVER.analyst()
                        .get(undo.replace("decisions", "decisions/revocation"))
                        .status())
                .isEqualTo(200);
        assertThat(SERVER.analyst().delete(undo).status()).isEqualTo(204);
        assertThat(SERVER.reader().get("/api/cautions").json().size()).isZero();
        assertThat(SERVER.reader().get("/api/record").text())
                .contains("Declared the fleet judged only until the end of")
                .contains("Took back that the fleet is judged only.");
    }

    @Test
    void aWatchfulFleetWaitsTwiceAsLong() {
        JsonNode declared =
                SERVER.analyst().post("/api/cautions", caution("WATCHFUL", 60)).json();
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * 6));
        assertThat(holds("ksk-1"))
                .as("its rule offers after 5 days, twice that is not over")
                .isEqualTo("WITHHELD by STANDING_RULE");
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * 5));
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by STANDING_RULE");
        SERVER.analyst().delete(declared.path("undo").asString());
    }

    @Test
    void whatIsMissingIsNamed() {
        Map<String, Object> without = caution("WATCHFUL", 3);
        without.put("reason", " ");
        assertThat(SERVER.analyst().post("/api/cautions", without).text()).contains("say why");
        assertThat(SERVER.analyst()
                        .post("/api/cautions", caution("WATCHFUL", -2))
                        .text())
                .contains("is past");
        assertThat(SERVER.analyst()
                        .post("/api/cautions", caution("WATCHFUL", 300))
                        .text())
                .contains("at most 92 days");
        assertThat(SERVER.analyst()
                        .post("/api/cautions", Map.of("until", inDays(3).toString(), "reason", "x"))
                        .text())
                .contains("watchful or judged only");
    }
}
