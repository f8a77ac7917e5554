package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** A freeze: worded with what it stops and what its end brings, in force for every update, and taken back. */
class FreezesTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    FreezesTest() {
        super(SERVER);
    }

    private static Instant now() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private static Map<String, Object> freeze(int fromHours, int untilHours, String... populations) {
        return new HashMap<>(Map.of(
                "populations",
                List.of(populations),
                "from",
                now().plus(Duration.ofHours(fromHours)).toString(),
                "until",
                now().plus(Duration.ofHours(untilHours)).toString(),
                "reason",
                "a holiday weekend"));
    }

    /** What the preview says of this test's update. */
    private String of(JsonNode consequence, String what) {
        for (JsonNode one : consequence.path(what)) {
            if (one.path("update").asString().equals(update)) {
                return one.path("hosts").path("names").toString();
            }
        }
        return "nothing";
    }

    @Test
    void everythingIsStoppedAndGoesOnWhereItIsTakenBack() {
        SERVER.analyst().post("/api/verdicts", draft("FORCE", 3, "kiosks"));
        assertThat(SERVER.machine()
                        .documents(Map.of(
                                "o.jsonl",
                                "{\"t\":\"outcome\",\"host\":\"ksk-1\",\"update\":\"" + update
                                        + "\",\"what\":\"downloaded\",\"at\":\"" + now() + "\"}\n"))
                        .text())
                .doesNotContain("REJECTED");
        Map<String, Object> everything = freeze(-1, 24 * 7);
        JsonNode consequence =
                SERVER.analyst().post("/api/freezes/preview", everything).json();
        assertThat(consequence.path("hosts").asInt()).isEqualTo(5);
        assertThat(of(consequence, "stopped")).isEqualTo("[\"ksk-1\",\"ksk-2\"]");
        assertThat(of(consequence, "staged")).isEqualTo("[\"ksk-1\"]");
        assertThat(of(consequence, "due")).isEqualTo("[\"ksk-1\",\"ksk-2\"]");
        assertThat(of(consequence, "arriving")).isEqualTo("[\"ksk-1\",\"ksk-2\"]");
        assertThat(holds("ksk-1")).as("nothing is kept").isEqualTo("OFFERED by VERDICT");

        JsonNode frozen = SERVER.analyst().post("/api/freezes", everything).json();
        assertThat(frozen.path("hosts").asInt()).isEqualTo(5);
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by FREEZE");
        assertThat(holds("off-1")).isEqualTo("WITHHELD by FREEZE");
        assertThat(SERVER.reader()
                        .get("/api/freezes")
                        .json()
                        .path(0)
                        .path("stands")
                        .asBoolean())
                .isTrue();
        assertThat(SERVER.reader().get("/api/in-force?kind=FREEZE").text())
                .contains("every update")
                .contains("a holiday weekend");
        SERVER.restart();
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by FREEZE");

        JsonNode opening = SERVER.analyst()
                .get("/api/decisions/revocation?freeze=" + frozen.path("number").asInt())
                .json();
        assertThat(opening.toString()).contains(update).contains("ksk-1");
        assertThat(SERVER.analyst().delete(frozen.path("undo").asString()).status())
                .isEqualTo(204);
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by VERDICT");
        assertThat(SERVER.reader().get("/api/record").text())
                .contains("Stopped everything from ")
                .contains("Took back the freeze of all populations.");
    }

    @Test
    void anEndThatIsSpreadComesForOneHostAfterTheOther() {
        SERVER.analyst().post("/api/verdicts", draft("FORCE", 9, "kiosks"));
        Map<String, Object> spread = freeze(-1, 24, "kiosks");
        spread.put("parts", 3);
        spread.put("hoursApart", 48);
        JsonNode consequence =
                SERVER.analyst().post("/api/freezes/preview", spread).json();
        assertThat(consequence.path("ends").size()).isEqualTo(3);
        assertThat(consequence.path("ends").path(0).path("at").asString())
                .isEqualTo(spread.get("until").toString());
        assertThat(consequence.path("until").asString())
                .isEqualTo(consequence.path("ends").path(2).path("at").asString());
        assertThat(of(consequence, "arriving")).isEqualTo("[\"ksk-1\",\"ksk-2\"]");
        JsonNode frozen = SERVER.analyst().post("/api/freezes", spread).json();
        Instant decided = now();
        SERVER.restart();
        // A demo's clock begins anew; what was decided is not to lie in its future.
        SERVER.machine()
                .post(
                        "/api/clock/advances",
                        Map.of("hours", Duration.between(now(), decided).toHours() + 1));
        JsonNode kept = SERVER.reader().get("/api/freezes").json();
        JsonNode ends = StreamSupport.stream(kept.spliterator(), false)
                .filter(one -> one.path("number").equals(frozen.path("number")))
                .findFirst()
                .orElseThrow()
                .path("ends");
        assertThat(ends).as("as it was seen").isEqualTo(consequence.path("ends"));
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 30));
        for (int part = 0; part < 3; part++) {
            for (String host : List.of("ksk-1", "ksk-2")) {
                boolean over = false;
                for (int before = 0; before <= part; before++) {
                    over |= ends.path(before)
                            .path("hosts")
                            .path("names")
                            .toString()
                            .contains(host);
                }
                assertThat(holds(host))
                        .as("%s after part %d", host, part)
                        .isEqualTo(over ? "OFFERED by VERDICT" : "WITHHELD by FREEZE");
            }
            SERVER.machine().post("/api/clock/advances", Map.of("hours", 48));
        }
        assertThat(SERVER.reader().get("/api/record").text()).contains("its end spread over 3 parts from");
        assertThat(SERVER.analyst().delete(frozen.path("undo").asString()).status())
                .isEqualTo(204);
        Map<String, Object> tooLong = freeze(0, 24, "kiosks");
        tooLong.put("parts", 40);
        assertThat(SERVER.analyst().post("/api/freezes", tooLong).text()).contains("1 to 30 parts");
        tooLong.put("parts", 20);
        tooLong.put("hoursApart", 48);
        assertThat(SERVER.analyst().post("/api/freezes", tooLong).text()).contains("at most 35 days");
    }

    @Test
    void aFreezeToComeIsOfItsPopulationsAndAForceMayGoOverIt() {
        JsonNode frozen = SERVER.analyst()
                .post("/api/freezes", freeze(24, 24 * 3, "kiosks"))
                .json();
        assertThat(SERVER.reader()
                        .get("/api/freezes")
                        .json()
                        .path(0)
                        .path("stands")
                        .asBoolean())
                .isFalse();
        assertThat(SERVER.reader()
                        .get("/api/in-force?kind=FREEZE")
                        .json()
                        .path("rows")
                        .path(0)
                        .path("begins")
                        .asString())
                .isNotEmpty();
        SERVER.analyst().post("/api/verdicts", draft("FORCE", 9, "kiosks"));
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by VERDICT");
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 30));
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by FREEZE");
        assertThat(holds("off-1")).isEqualTo("WITHHELD by STANDING_RULE");
        Map<String, Object> over = draft("FORCE", 9, "kiosks");
        over.put("overriddenFreezes", List.of(frozen.path("number").asInt()));
        assertThat(SERVER.analyst().post("/api/verdicts", over).status()).isEqualTo(201);
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by OVERRIDING_FORCE");
        SERVER.restart();
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 31));
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by OVERRIDING_FORCE");
        assertThat(SERVER.analyst().delete(frozen.path("undo").asString()).status())
                .isEqualTo(204);
    }

    @Test
    void aBlockTellsWhomItNoLongerStops() {
        SERVER.machine()
                .documents(Map.of(
                        "o.jsonl",
                        "{\"t\":\"outcome\",\"host\":\"ksk-2\",\"update\":\"" + update
                                + "\",\"what\":\"downloaded\",\"at\":\"" + now() + "\"}\n"));
        assertThat(SERVER.analyst()
                        .post("/api/verdicts/preview", draft("BLOCK", 9, "kiosks"))
                        .json()
                        .path(0)
                        .path("tooLate")
                        .path("names")
                        .toString())
                .isEqualTo("[\"ksk-2\"]");
        assertThat(SERVER.analyst()
                        .post("/api/verdicts/preview", draft("FORCE", 9, "kiosks"))
                        .json()
                        .path(0)
                        .path("tooLate")
                        .path("count")
                        .asInt())
                .isZero();
    }

    @Test
    void badFreezesAreRefusedInWords() {
        assertThat(SERVER.analyst().post("/api/freezes", freeze(5, 3)).text()).contains("it ends before it begins");
        assertThat(SERVER.analyst().post("/api/freezes", freeze(0, 24 * 40)).text())
                .contains("a freeze lasts at most 35 days");
        assertThat(SERVER.analyst()
                        .post("/api/freezes", freeze(0, 5, "nowhere"))
                        .text())
                .contains("there is no population nowhere");
        Map<String, Object> silent = freeze(0, 5);
        silent.put("reason", " ");
        assertThat(SERVER.analyst()
                        .post("/api/freezes", silent)
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("reason");
        Map<String, Object> endless = freeze(0, 5);
        endless.remove("until");
        assertThat(SERVER.analyst().post("/api/freezes", endless).text()).contains("nothing is frozen for ever");
        assertThat(SERVER.analyst().delete("/api/decisions?freeze=999").status())
                .isEqualTo(404);
    }
}
