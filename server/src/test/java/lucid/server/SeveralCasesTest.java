package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import lucid.server.LucidServer.Answer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** One answer for several cases: each is told what it would do, and all are decided or none. */
class SeveralCasesTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    SeveralCasesTest() {
        super(SERVER);
    }

    private Map<String, Object> sentence(String of, String type, int days, String... populations) {
        Map<String, Object> sentence = draft(type, days, populations);
        sentence.put("update", of);
        return sentence;
    }

    /** The update of the test, and another one. */
    private List<String> two() {
        String other = update + "-B";
        assertThat(SERVER.machine()
                        .documents(Map.of("b.json", Examples.notice(other, "1", "2.0")))
                        .status())
                .isEqualTo(200);
        return List.of(update, other);
    }

    private static Answer decide(List<Map<String, Object>> sentences) {
        return SERVER.analyst().post("/api/verdicts/several", Map.of("sentences", sentences));
    }

    private static JsonNode preview(List<Map<String, Object>> sentences) {
        Answer answer = SERVER.analyst().post("/api/verdicts/several/preview", Map.of("sentences", sentences));
        assertThat(answer.status()).as(answer.text()).isEqualTo(200);
        return answer.json();
    }

    private String inForce(String of, String host) {
        JsonNode holds = SERVER.reader()
                .get("/api/cases/" + of + "/rulings/" + host)
                .json()
                .path("holds");
        return holds.path("effect").asString() + " by " + holds.path("clause").asString();
    }

    @Test
    void severalCasesAreDecidedAndTakenBackTogether() {
        List<Map<String, Object>> sentences = new ArrayList<>();
        two().forEach(of -> sentences.add(sentence(of, "BLOCK", 14, "kiosks")));
        JsonNode told = preview(sentences);
        assertThat(told).allSatisfy(one -> assertThat(one.path("worded")
                        .path(0)
                        .path("consequence")
                        .path("decided")
                        .path("count")
                        .asInt())
                .isEqualTo(2));
        Answer made = decide(sentences);
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        assertThat(made.json().path("verdicts"))
                .extracting(one -> one.path("update").asString())
                .containsExactlyElementsOf(List.of(update, update + "-B"));
        for (String of : List.of(update, update + "-B")) {
            assertThat(inForce(of, "ksk-1")).isEqualTo("WITHHELD by VERDICT");
        }
        assertThat(record()).contains("Blocked " + update);
        assertThat(SERVER.analyst().delete(made.json().path("undo").asString()).status())
                .isEqualTo(204);
        for (String of : List.of(update, update + "-B")) {
            assertThat(inForce(of, "ksk-1")).isEqualTo("WITHHELD by STANDING_RULE");
        }
    }

    @Test
    void eachMayHaveAnotherAnswerAndEachIsRefusedByItself() {
        List<String> updates = two();
        Map<String, Object> past = sentence(updates.get(1), "FORCE", -3, "kiosks");
        JsonNode told = preview(List.of(sentence(updates.get(0), "FORCE", 3, "desktops"), past));
        assertThat(told.path(0).path("worded").size()).isEqualTo(1);
        assertThat(told.path(1).path("worded").isEmpty()).isTrue();
        assertThat(told.path(1).path("refused").path("reason").asString()).contains("is past");
        Answer refused = decide(List.of(sentence(updates.get(0), "FORCE", 3, "desktops"), past));
        assertThat(refused.status()).isEqualTo(422);
        assertThat(refused.text()).contains(updates.get(1) + ":", "is past");
        assertThat(inForce(updates.get(0), "off-1")).as("none of them").isEqualTo("WITHHELD by STANDING_RULE");
    }

    @Test
    void whatChangedSinceItWasSeenStopsAllOfThem() {
        List<String> updates = two();
        List<String> versions = updates.stream()
                .map(of -> SERVER.analyst()
                        .get("/api/cases/" + of)
                        .json()
                        .path("version")
                        .asString())
                .toList();
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", sentence(updates.get(1), "BLOCK", 5, "desktops"))
                        .status())
                .isEqualTo(201);
        Answer stale = SERVER.analyst()
                .send(
                        "POST",
                        "/api/verdicts/several",
                        Map.of(
                                "sentences",
                                updates.stream()
                                        .map(of -> sentence(of, "BLOCK", 14, "kiosks"))
                                        .toList()),
                        "If-Match",
                        String.join(", ", versions));
        assertThat(stale.status()).isEqualTo(412);
        assertThat(stale.text()).contains(updates.get(1) + " has changed");
        assertThat(inForce(updates.get(0), "ksk-1")).isEqualTo("WITHHELD by STANDING_RULE");
    }

    @Test
    void pilotsOfSeveralAreTriedByTheSameHosts() {
        List<Map<String, Object>> sentences = new ArrayList<>();
        for (String of : two()) {
            Map<String, Object> pilot = sentence(of, "PILOT", 14, "kiosks");
            pilot.put("pilot", Map.of("size", 1, "drawnLike", update));
            sentences.add(pilot);
        }
        List<String> first = StreamSupport.stream(preview(sentences).spliterator(), false)
                .map(one -> one.path("worded")
                        .path(0)
                        .path("pilot")
                        .path("sample")
                        .path(0)
                        .path("name")
                        .asString())
                .toList();
        assertThat(first.get(0)).startsWith("ksk-").isEqualTo(first.get(1));
        Answer made = decide(sentences);
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        JsonNode pilots = SERVER.analyst().get("/api/pilots").json();
        assertThat(pilots.toString()).contains(update, update + "-B");
        sentences.get(1).put("pilot", Map.of("drawnLike", "NO-SUCH"));
        assertThat(preview(sentences).path(1).path("refused").path("reason").asString())
                .contains("there is no update NO-SUCH");
    }

    private static void forcesOfTier(int tier) {
        Answer kept = SERVER.administrator()
                .put(
                        "/api/approval-rules",
                        null,
                        Map.of("forces", List.of(tier), "disturbs", List.of(1), "excepts", List.of()));
        assertThat(kept.status()).as(kept.text()).isEqualTo(200);
    }

    @Test
    void whatNeedsAnApproverIsNotDecidedWithOthers() {
        List<String> updates = two();
        List<Map<String, Object>> sentences = List.of(
                sentence(updates.get(0), "BLOCK", 14, "kiosks"), sentence(updates.get(1), "FORCE", 3, "kiosks"));
        forcesOfTier(2);
        try {
            assertThat(preview(sentences)
                            .path(1)
                            .path("worded")
                            .path(0)
                            .path("grounds")
                            .toString())
                    .isEqualTo("[{\"type\":\"FORCES\",\"tier\":2}]");
            Answer refused = decide(sentences);
            assertThat(refused.status()).as(refused.text()).isEqualTo(422);
            assertThat(refused.text()).contains("approver");
            assertThat(inForce(updates.get(0), "ksk-1")).isEqualTo("WITHHELD by STANDING_RULE");
        } finally {
            forcesOfTier(1);
        }
    }

    @Test
    void howManyAndWhichIsChecked() {
        assertThat(decide(List.of()).text()).contains("1 to 50 sentences");
        assertThat(decide(List.of(sentence(update, "BLOCK", 5, "kiosks"), sentence(update, "BLOCK", 5, "desktops")))
                        .text())
                .contains(update + " has two");
        assertThat(decide(List.of(Map.of("type", "BLOCK"))).text()).contains("each names its update");
        assertThat(decide(List.of(sentence("NO-SUCH", "BLOCK", 5, "kiosks"))).status())
                .isEqualTo(404);
    }

    @Test
    void theDocketTellsOnlyTheCasesThatAreNamed() {
        List<String> updates = two();
        JsonNode cases = SERVER.reader()
                .get("/api/docket?show=ALL&update=" + String.join(",", updates))
                .json()
                .path("cases");
        assertThat(cases)
                .extracting(one ->
                        one.path("id").asString() + " " + one.path("revision").asString())
                .containsExactlyInAnyOrder(updates.get(0) + " 1", updates.get(1) + " 1");
    }
}
