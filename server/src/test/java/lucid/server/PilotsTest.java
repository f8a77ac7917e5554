package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** A pilot from its wording to its end: who tries it, what they show, and what follows. */
class PilotsTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final int KIOSKS = 30;
    private static boolean prepared;
    private static int updates;
    private static int advanced;

    private final String update = "PI-" + ++updates;

    PilotsTest() {
        if (!prepared) {
            prepared = true;
            SERVER.populations("""
                    {"format": "populations-1", "fleetRule": {"otherwise": 30}, "populations": [
                      {"id": "panels", "name": "Gate controllers", "condition": "role = panel", "tier": 1, "rule": {"otherwise": 5}},
                      {"id": "kiosks", "name": "Ticket kiosks", "condition": "role = kiosk", "tier": 2, "protected": ["ksk-0"], "rule": {"otherwise": 5}}]}
                    """);
        }
        Map<String, String> documents = new HashMap<>(Map.of("n.json", Examples.notice(update, "1", "2.0")));
        documents.put("h.jsonl", hosts(now()));
        assertThat(SERVER.machine().documents(documents).status()).isEqualTo(200);
    }

    private static Instant now() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private static String hosts(Instant at) {
        return Stream.concat(
                        IntStream.range(0, KIOSKS).mapToObj(i -> Examples.host("ksk-" + i, "kiosk", "1.0", at)),
                        Stream.of(Examples.host("pan-1", "panel", "1.0", at)))
                .reduce("", String::concat);
    }

    private static void advance(int hours) {
        SERVER.machine().post("/api/clock/advances", Map.of("hours", hours));
        advanced += hours;
    }

    /** On the same data, at the same hour. */
    private static void restart() {
        SERVER.restart();
        SERVER.machine().post("/api/clock/advances", Map.of("hours", advanced + 1));
        advanced++;
    }

    private Map<String, Object> draft(Map<String, Object> pilot, String... populations) {
        return new HashMap<>(Map.of(
                "update",
                update,
                "revision",
                "1",
                "type",
                "PILOT",
                "populations",
                List.of(populations),
                "until",
                now().plus(Duration.ofDays(20)).toString().substring(0, 10),
                "reasons",
                List.of("UNTESTED"),
                "pilot",
                pilot));
    }

    private static List<String> names(JsonNode sample) {
        return StreamSupport.stream(sample.spliterator(), false)
                .map(host -> host.path("name").asString())
                .toList();
    }

    /** Starts one and tells its number and its sample. */
    private Map.Entry<Long, List<String>> started(Map<String, Object> pilot) {
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", draft(pilot, "kiosks"))
                        .status())
                .isEqualTo(201);
        JsonNode started = StreamSupport.stream(
                        SERVER.analyst().get("/api/pilots").json().spliterator(), false)
                .filter(one -> one.path("update").asString().equals(update))
                .findFirst()
                .orElseThrow();
        List<String> sample = StreamSupport.stream(started.path("hosts").spliterator(), false)
                .map(host -> host.path("host").path("name").asString())
                .toList();
        return Map.entry(started.path("number").asLong(), sample);
    }

    private JsonNode pilot(long number) {
        return SERVER.analyst().get("/api/pilots/" + number).json();
    }

    private String outcome(String host, String what, Instant at) {
        return """
                {"t":"outcome","host":"%s","update":"%s","what":"%s","at":"%s"%s}
                """.formatted(
                        host, update, what, at, what.equals("failed") ? ",\"code\":\"E-7\",\"class\":\"refused\"" : "");
    }

    private void tell(List<String> lines) {
        assertThat(SERVER.machine()
                        .documents(Map.of("o.jsonl", String.join("", lines)))
                        .text())
                .doesNotContain("REJECTED");
    }

    private void installs(String host) {
        tell(List.of(Examples.host(host, "kiosk", "2.0", now()), outcome(host, "installed", now())));
    }

    /** Hosts that installed what was withheld from them at that moment. */
    private List<String> installedAllTheSame() {
        return SERVER.analyst()
                .get("/api/cases/" + update + "/heard")
                .json()
                .valueStream()
                .flatMap(decision -> decision.path("installedSince")
                        .path("names")
                        .valueStream()
                        .map(JsonNode::asString))
                .toList();
    }

    private String holds(String host) {
        return SERVER.analyst()
                .get("/api/cases/" + update + "/rulings/" + host)
                .json()
                .path("holds")
                .path("effect")
                .asString();
    }

    private List<String> cues() {
        return StreamSupport.stream(
                        SERVER.analyst()
                                .get("/api/cases/" + update)
                                .json()
                                .path("cues")
                                .spliterator(),
                        false)
                .map(cue -> cue.path("type").asString())
                .toList();
    }

    @Test
    void whileItIsWordedItTellsWhoWouldTryItAndWhatThatCanShow() {
        JsonNode worded = SERVER.analyst()
                .post("/api/verdicts/preview", draft(Map.of("size", 12), "kiosks"))
                .json()
                .path(0);
        JsonNode pilot = worded.path("pilot");
        assertThat(names(pilot.path("sample"))).hasSize(12).doesNotContain("ksk-0");
        assertThat(pilot.path("others").asInt()).isEqualTo(KIOSKS - 1 - 12);
        assertThat(pilot.path("leftOut").toString()).contains("PROTECTED").contains("ksk-0");
        assertThat(pilot.path("gate").path("limit").asDouble()).isBetween(.205, .207);
        assertThat(pilot.path("gate").path("hostsForAskedLimit").asInt()).isEqualTo(58);
        assertThat(pilot.path("gate").path("passesAtLimit").asDouble()).isBetween(.06, .07);
        assertThat(worded.path("consequence").path("decided").path("count").asInt())
                .isEqualTo(KIOSKS);
        assertThat(worded.path("forecast").path("curve").size()).isPositive();
        assertThat(names(SERVER.analyst()
                        .post("/api/verdicts/preview", draft(Map.of(), "kiosks"))
                        .json()
                        .path(0)
                        .path("pilot")
                        .path("sample")))
                .as("half of those that can be drawn, where they are too few to show 5 %")
                .hasSize(15);
    }

    @Test
    void aHostThatIsLeftOutIsReplacedInTheSample() {
        List<String> drawn = names(SERVER.analyst()
                .post("/api/verdicts/preview", draft(Map.of("size", 12), "kiosks"))
                .json()
                .path(0)
                .path("pilot")
                .path("sample"));
        JsonNode without = SERVER.analyst()
                .post("/api/verdicts/preview", draft(Map.of("size", 12, "without", drawn.subList(0, 1)), "kiosks"))
                .json()
                .path(0)
                .path("pilot");
        assertThat(names(without.path("sample"))).hasSize(12).doesNotContain(drawn.get(0));
        assertThat(without.path("leftOut").toString()).contains("BY_HAND");
    }

    @Test
    void thoseWhoCannotTryItAreToldInWords() {
        assertThat(SERVER.analyst()
                        .post("/api/verdicts/preview", draft(Map.of(), "panels"))
                        .text())
                .contains("no host can try it first: 1 host: tier 1, which is never sampled unless asked for");
        assertThat(names(SERVER.analyst()
                        .post("/api/verdicts/preview", draft(Map.of("alsoTier1", true), "panels"))
                        .json()
                        .path(0)
                        .path("pilot")
                        .path("sample")))
                .containsExactly("pan-1");
        assertThat(SERVER.analyst()
                        .post("/api/verdicts/preview", draft(Map.of("size", 40), "kiosks"))
                        .text())
                .contains("only 29 hosts can try it first: 1 host: protected by its population");
        assertThat(SERVER.analyst()
                        .post("/api/verdicts/preview", draft(Map.of("hosts", List.of("ksk-0")), "kiosks"))
                        .text())
                .contains("ksk-0 cannot try it first: protected by its population");
        assertThat(SERVER.analyst()
                        .post("/api/verdicts/preview", draft(Map.of("hosts", List.of("nobody")), "kiosks"))
                        .text())
                .contains("there is no host nobody");
        assertThat(SERVER.analyst()
                        .post("/api/verdicts/preview", draft(Map.of("limit", 2), "kiosks"))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("pilot.limit");
    }

    @Test
    void whatWasPreparedHoldsOnceTheGateIsMet() {
        List<String> chosen = IntStream.range(1, 10).mapToObj(i -> "ksk-" + i).toList();
        Map.Entry<Long, List<String>> started = started(Map.of("hosts", chosen, "onceMet", "FORCE", "onceMetDays", 4));
        assertThat(pilot(started.getKey()).path("onceMet").path("forcedWithin").asInt())
                .isEqualTo(4);
        Instant installed = now();
        tell(chosen.stream().map(host -> outcome(host, "installed", installed)).toList());
        advance(24 * 4);
        assertThat(holds("ksk-20")).as("not met yet").isEqualTo("WITHHELD");
        assertThat(SERVER.machine().documents(Map.of("h.jsonl", hosts(now()))).status())
                .isEqualTo(200);
        advance(1);
        assertThat(holds("ksk-20")).isEqualTo("OFFERED");
        JsonNode forced = SERVER.reader()
                .get("/api/cases/" + update + "/rulings/ksk-20")
                .json()
                .path("holds");
        assertThat(forced.path("verdict").asString()).isEqualTo("FORCE");
        assertThat(cues()).as("nobody is asked").doesNotContain("PILOT_MET");
        String record = SERVER.reader().get("/api/record?subject=" + update).text();
        assertThat(record)
                .contains("The gate of the pilot of " + update + " was met: what was prepared holds from now on.")
                .contains("Forced " + update + " revision 1 for Ticket kiosks")
                .contains("as prepared: its pilot was met");
        restart();
        advance(1);
        assertThat(pilot(started.getKey()).path("onceMet").path("doneAt").asString())
                .isNotEmpty();
        assertThat(SERVER.reader().get("/api/record?subject=" + update).text())
                .as("once")
                .containsOnlyOnce("what was prepared holds from now on");
    }

    @Test
    void whatIsPreparedForTheCostliestNeedsAnApprover() {
        Map<String, Object> draft = draft(Map.of("size", 1, "alsoTier1", true, "onceMet", "FORCE"), "panels");
        assertThat(SERVER.analyst().post("/api/verdicts", draft).text()).contains("forces hosts of tier 1");
        draft.put("pilot", Map.of("size", 1, "alsoTier1", true, "onceMet", "FORCE", "onceMetDays", 0));
        assertThat(SERVER.analyst().post("/api/verdicts", draft).text()).contains("1 to 90 days");
    }

    @Test
    void theSampleIsOfferedItTheRestWaitsAndACleanSampleMeetsTheGate() {
        List<String> chosen = IntStream.range(1, 10).mapToObj(i -> "ksk-" + i).toList();
        Map.Entry<Long, List<String>> started = started(Map.of("hosts", chosen, "departments", List.of("Ticketing")));
        assertThat(started.getValue()).containsExactlyElementsOf(chosen);
        assertThat(holds("ksk-1")).isEqualTo("OFFERED");
        assertThat(holds("ksk-20")).isEqualTo("WITHHELD");
        JsonNode soaking = pilot(started.getKey());
        assertThat(soaking.path("state").asString()).isEqualTo("SOAKING");
        assertThat(soaking.path("furtherClean").asInt()).isEqualTo(9);
        assertThat(soaking.path("withheld").asInt()).isEqualTo(KIOSKS - 9);
        assertThat(soaking.path("coverage").path("kinds").asInt()).isPositive();

        Instant installed = now();
        tell(chosen.stream().map(host -> outcome(host, "installed", installed)).toList());
        advance(24 * 4);
        assertThat(SERVER.machine().documents(Map.of("h.jsonl", hosts(now()))).status())
                .isEqualTo(200);
        assertThat(pilot(started.getKey()).path("state").asString()).isEqualTo("AWAITS_SIGN_OFF");
        assertThat(cues()).doesNotContain("PILOT_MET");
        String signOffs = "/api/pilots/" + started.getKey() + "/sign-offs";
        assertThat(SERVER.analyst()
                        .post(signOffs, Map.of("department", "Harbour"))
                        .status())
                .isEqualTo(422);
        JsonNode met = SERVER.analyst()
                .post(signOffs, Map.of("department", "Ticketing"))
                .json();
        assertThat(met.path("state").asString()).isEqualTo("MET");
        assertThat(met.path("tally").path("soaked").asInt()).isEqualTo(9);
        assertThat(met.path("path").toString()).contains("\"tried\":9");
        assertThat(SERVER.analyst()
                        .post(signOffs, Map.of("department", "Ticketing"))
                        .status())
                .isEqualTo(409);
        assertThat(cues()).contains("PILOT_MET");

        restart();
        assertThat(pilot(started.getKey()).path("state").asString()).isEqualTo("MET");
        assertThat(pilot(started.getKey())
                        .path("departments")
                        .path(0)
                        .path("signedOffBy")
                        .asString())
                .isNotEmpty();
        advance(24 * 17);
        assertThat(pilot(started.getKey()).path("state").asString()).isEqualTo("ENDED");
        assertThat(cues()).contains("PILOT_ENDED");
        assertThat(SERVER.analyst()
                        .post("/api/pilots/" + started.getKey() + "/extensions", Map.of("hosts", 1))
                        .status())
                .isEqualTo(409);
    }

    @Test
    void aGateThatFailsWithholdsItFromEverybodyAndThatStays() {
        Map.Entry<Long, List<String>> started = started(Map.of("size", 12));
        String untried = started.getValue().get(11);
        String asked = started.getValue().get(2);
        assertThat(holds(untried)).isEqualTo("OFFERED");
        installs(asked);
        tell(Stream.of(0, 1)
                .map(i -> outcome(started.getValue().get(i), "failed", now()))
                .toList());
        // Whatever an hour brings is carried out before anybody sees that hour.
        advance(1);
        assertThat(holds(untried)).isEqualTo("WITHHELD");
        assertThat(pilot(started.getKey()).path("state").asString()).isEqualTo("FAILED");
        assertThat(cues()).contains("PILOT_FAILED");
        assertThat(installedAllTheSame())
                .as("whoever was asked to try it did as asked")
                .isEmpty();
        advance(1);
        installs(untried);
        assertThat(installedAllTheSame()).containsExactly(untried);
        assertThat(SERVER.analyst().get("/api/record?subject=" + update).text())
                .contains("Started a pilot of " + update + " revision 1 for Ticket kiosks, to answer by ")
                .contains("of which 12 try it first")
                .contains("The pilot of " + update + " failed: it is withheld from all hosts");
        restart();
        assertThat(holds(started.getValue().get(10))).isEqualTo("WITHHELD");
        assertThat(pilot(started.getKey()).path("failedAt").asString()).isNotEmpty();
    }

    @Test
    void whoDoesNotTryIsReplacedAndTheSampleCanGrow() {
        Map.Entry<Long, List<String>> started = started(Map.of("size", 10));
        advance(24 * 7 + 1);
        assertThat(SERVER.machine().documents(Map.of("h.jsonl", hosts(now()))).status())
                .isEqualTo(200);
        advance(1);
        JsonNode later = pilot(started.getKey());
        assertThat(later.path("tally").path("replaced").asInt()).isPositive();
        List<String> waiting = new ArrayList<>();
        later.path("hosts").forEach(host -> {
            if (host.path("state").asString().equals("NOT_TRIED")) {
                waiting.add(host.path("host").path("name").asString());
            }
        });
        assertThat(waiting).hasSize(10).doesNotContainAnyElementsOf(started.getValue());
        assertThat(holds(started.getValue().get(0))).isEqualTo("WITHHELD");
        assertThat(holds(waiting.get(0))).isEqualTo("OFFERED");
        assertThat(SERVER.analyst().get("/api/record?subject=" + update).text())
                .contains("has not tried it for 7 days: ")
                .contains("took its place");

        assertThat(SERVER.analyst()
                        .post("/api/pilots/" + started.getKey() + "/extensions", Map.of("hosts", 500))
                        .text())
                .contains("only 9 more hosts can try it");
        assertThat(SERVER.analyst()
                        .post("/api/pilots/" + started.getKey() + "/extensions", Map.of("hosts", 2))
                        .json()
                        .path("tally")
                        .path("notTried")
                        .asInt())
                .isEqualTo(12);
    }

    @Test
    void aPilotIsTakenBackLikeAnyVerdict() {
        Map.Entry<Long, List<String>> started = started(Map.of("size", 10));
        String undo = pilot(started.getKey()).path("undo").asString();
        assertThat(SERVER.analyst().delete(undo).status()).isEqualTo(204);
        assertThat(pilot(started.getKey()).path("state").asString()).isEqualTo("STOPPED");
        assertThat(holds("ksk-20")).isEqualTo("WITHHELD");
        assertThat(SERVER.analyst().get("/api/record?subject=" + update).text())
                .contains("Took back the pilot of " + update + " for Ticket kiosks.");
        assertThat(SERVER.reader().get("/api/pilots/9999").status()).isEqualTo(404);
    }
}
