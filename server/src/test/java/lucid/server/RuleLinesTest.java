package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import lucid.server.LucidServer.Answer;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Lines of standing rules that name traits, wait for the tries of others, and fall due. */
class RuleLinesTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final int BENCH = 5;
    private static final String LADDER = """
            {"format": "populations-1", "fleetRule": {"otherwise": "never"}, "populations": [
              {"id": "bench", "name": "Proving bench", "condition": "role = bench", "tier": 4, "rule": {"otherwise": 0}},
              {"id": "kiosks", "name": "Ticket kiosks", "condition": "role = kiosk", "tier": 2, "rule": {"lines": [
                {"where": "name = ksk-9", "offerAfterDays": "never"},
                {"kinds": ["bugfix"], "offerAfterDays": 0, "dueAfterDays": 2, "afterTriesOf": "bench", "latestAfterDays": 20}],
                "otherwise": 30}}]}
            """;

    @BeforeAll
    static void aLadder() {
        SERVER.populations(LADDER);
        report("1.0");
    }

    private static Instant now() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private static void advance(int hours) {
        SERVER.machine().post("/api/clock/advances", Map.of("hours", hours));
    }

    /** @param version of the hosts of the bench */
    private static void report(String version) {
        Instant now = now();
        String lines = Stream.concat(
                        IntStream.range(0, BENCH).mapToObj(i -> Examples.host("bench-" + i, "bench", version, now)),
                        Stream.of("ksk-1", "ksk-9").map(name -> Examples.host(name, "kiosk", "1.0", now)))
                .reduce("", String::concat);
        assertThat(SERVER.machine().documents(Map.of("h.jsonl", lines)).status())
                .isEqualTo(200);
    }

    private static void take(String update, String fixed) {
        assertThat(SERVER.machine()
                        .documents(Map.of(
                                "n.json",
                                Examples.notice(update, "1", fixed)
                                        .replaceFirst("\"published\": \"[^\"]*\"", "\"published\": \"" + now() + "\"")))
                        .status())
                .isEqualTo(200);
    }

    private static void tell(String update, String what, int hosts) {
        Instant now = now();
        assertThat(SERVER.machine()
                        .documents(Map.of(
                                "o.jsonl",
                                IntStream.range(0, hosts)
                                        .mapToObj(i -> """
                                                {"t":"outcome","host":"bench-%d","update":"%s","what":"%s","at":"%s"%s}
                                                """.formatted(
                                                i,
                                                update,
                                                what,
                                                now,
                                                what.equals("failed") ? ",\"code\":\"E-7\",\"class\":\"refused\"" : ""))
                                        .reduce("", String::concat)))
                        .text())
                .doesNotContain("REJECTED");
    }

    private static JsonNode ruling(String update, String host) {
        return SERVER.reader()
                .get("/api/cases/" + update + "/rulings/" + host)
                .json()
                .path("holds");
    }

    private static String holds(String update, String host) {
        return ruling(update, host).path("effect").asString();
    }

    @Test
    void othersFollowOnceTheTriesOfTheBenchHaveShownEnough() {
        take("RL-1", "2.0");
        assertThat(holds("RL-1", "bench-1")).isEqualTo("OFFERED");
        assertThat(holds("RL-1", "ksk-1")).isEqualTo("WITHHELD");
        assertThat(ruling("RL-1", "ksk-1").path("end").asString())
                .as("at the latest")
                .isNotEmpty();
        tell("RL-1", "installed", BENCH);
        advance(26);
        report("2.0");
        advance(1);
        assertThat(holds("RL-1", "ksk-1")).isEqualTo("OFFERED");
        assertThat(ruling("RL-1", "ksk-1").path("due").asString()).isNotEmpty();
        assertThat(holds("RL-1", "ksk-9"))
                .as("the line of this host says never")
                .isEqualTo("WITHHELD");
        assertThat(SERVER.reader().get("/api/record?subject=RL-1").text())
                .contains("The tries of RL-1 on Proving bench have shown enough");
        advance(24 * 4);
        assertThat(SERVER.reader().get("/api/hosts?way=PAST_RULE_DUE").text())
                .contains("ksk-1")
                .doesNotContain("ksk-9");
    }

    @Test
    void nobodyFollowsWhereTheTriesFailed() {
        take("RL-2", "3.0");
        tell("RL-2", "failed", 2);
        advance(1);
        assertThat(holds("RL-2", "ksk-1")).isEqualTo("WITHHELD");
        assertThat(ruling("RL-2", "ksk-1").has("end"))
                .as("until somebody judges")
                .isFalse();
        assertThat(SERVER.reader().get("/api/docket").json().path("cases"))
                .filteredOn(one -> one.path("id").asString().equals("RL-2"))
                .singleElement()
                .satisfies(one -> assertThat(one.path("cues").toString()).contains("NEEDS_VERDICT"));
        assertThat(SERVER.reader().get("/api/record?subject=RL-2").text())
                .contains("on Proving bench failed too often");
        int advanced = 24 * 30;
        SERVER.restart();
        advance(advanced);
        assertThat(holds("RL-2", "ksk-1")).as("whatever the latest day").isEqualTo("WITHHELD");
    }

    @Test
    void whoIsWaitedForStandsOnTheLadderAndNobodyWaitsForItself() {
        Answer refused = preview(LADDER.replace("\"afterTriesOf\": \"bench\"", "\"afterTriesOf\": \"yard\""));
        assertThat(refused.status()).isEqualTo(422);
        assertThat(refused.text())
                .contains("there is no population yard")
                .contains("/populations/1/rule/lines/1/afterTriesOf");
        assertThat(preview(LADDER.replace(", \"latestAfterDays\": 20", "")).status())
                .isEqualTo(422);
        assertThat(preview(LADDER.replace("name = ksk-9", "name ksk-9")).text())
                .contains("/populations/1/rule/lines/0/where");
        Answer circle = preview(LADDER.replace("\"afterTriesOf\": \"bench\"", "\"afterTriesOf\": \"kiosks\""));
        assertThat(circle.json().path("warnings").toString())
                .contains("Ticket kiosks waits for the tries of a population that waits for its own");
        assertThat(SERVER.analyst().get("/api/populations/document").text())
                .contains("\"afterTriesOf\" : \"bench\"")
                .contains("\"where\" : \"name = ksk-9\"");
    }

    private static Answer preview(String ladder) {
        return SERVER.analyst()
                .post("/api/populations/preview", JsonMapper.shared().readValue(ladder, Map.class));
    }

    @Test
    void aChangeOfARuleTellsWhatItOffersAndWhatFallsDue() {
        take("RL-3", "4.0");
        JsonNode change = preview(LADDER.replace(", \"afterTriesOf\": \"bench\", \"latestAfterDays\": 20", ""))
                .json();
        JsonNode offer = List.copyOf(change.path("offers").valueStream().toList()).stream()
                .filter(one -> one.path("update").asString().equals("RL-3"))
                .findFirst()
                .orElseThrow();
        assertThat(offer.path("offered").path("names").toString()).isEqualTo("[\"ksk-1\"]");
        assertThat(offer.path("dueSooner").path("names").toString()).isEqualTo("[\"ksk-1\"]");
        assertThat(offer.path("hostDays").asDouble()).isBetween(-20.1, -19.9);
    }
}
