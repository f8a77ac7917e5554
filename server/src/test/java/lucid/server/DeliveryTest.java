package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.http.HttpRequest.BodyPublishers;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import lucid.server.LucidServer.Answer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** How a verdict reaches its hosts: in parts, by operator, or by removing what is there. */
class DeliveryTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    DeliveryTest() {
        super(SERVER);
    }

    private JsonNode preview(Map<String, Object> draft) {
        return SERVER.analyst().post("/api/verdicts/preview", draft).json().path(0);
    }

    private String refusal(Map<String, Object> draft) {
        Answer refused = SERVER.analyst().post("/api/verdicts", draft);
        assertThat(refused.status()).as(refused.text()).isBetween(400, 422);
        return refused.text();
    }

    private static List<String> parts(JsonNode worded) {
        return StreamSupport.stream(worded.path("parts").spliterator(), false)
                .map(part -> part.path("hosts").path("names").toString())
                .toList();
    }

    @Test
    void aDeferralInPartsEndsForOneAfterTheOther() {
        Map<String, Object> draft = draft("DEFER", 5, "kiosks");
        draft.put("spread", Map.of("parts", 2, "daysApart", 3, "moved", List.of()));
        List<String> drawn = parts(preview(draft));
        assertThat(drawn).hasSize(2).allSatisfy(hosts -> assertThat(hosts).contains("ksk-"));
        String second = drawn.get(1).substring(2, 7);
        draft.put("spread", Map.of("parts", 2, "daysApart", 3, "moved", List.of(Map.of("host", second, "part", 1))));
        assertThat(parts(preview(draft))).containsExactly("[\"ksk-1\",\"ksk-2\"]", "[]");
        draft.put("spread", Map.of("parts", 2, "daysApart", 3, "moved", List.of()));
        Answer made = SERVER.analyst().post("/api/verdicts", draft);
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        assertThat(record()).contains(", in 2 parts from ");
        SERVER.restart();
        JsonNode verdict = SERVER.reader()
                .get("/api/cases/" + update)
                .json()
                .path("verdicts")
                .path(0);
        assertThat(verdict.path("delivery").path("ends").size()).isEqualTo(2);
        assertThat(SERVER.analyst().delete(made.json().path("undo").asString()).status())
                .isEqualTo(204);
    }

    @Test
    void onlyThePartsThatEndBeforeTheRuleWouldOfferItAreBroughtForward() {
        // The rule of the kiosks offers it after five days.
        Map<String, Object> draft = draft("DEFER", 2, "kiosks");
        draft.put("spread", Map.of("parts", 2, "daysApart", 8, "moved", List.of()));
        JsonNode worded = preview(draft);
        JsonNode brought = worded.path("broughtForward");
        assertThat(brought.size()).isEqualTo(1);
        assertThat(brought.path(0).path("hosts").path("names").toString())
                .isEqualTo(parts(worded).get(0));
    }

    @Test
    void partsThatCannotBeAreRefusedByName() {
        Map<String, Object> draft = draft("DEFER", 5, "kiosks");
        draft.put("spread", Map.of("parts", 31, "daysApart", 3, "moved", List.of()));
        assertThat(refusal(draft)).contains("choose 1 to 30 parts");
        draft.put("spread", Map.of("parts", 3, "daysApart", 0, "moved", List.of()));
        assertThat(refusal(draft)).contains("choose 1 to 60 days");
        draft.put("spread", Map.of("parts", 30, "daysApart", 60, "moved", List.of()));
        assertThat(refusal(draft)).contains("more than a year away");
        draft.put("spread", Map.of("parts", 2, "daysApart", 1, "moved", List.of(Map.of("host", "ksk-1", "part", 3))));
        assertThat(refusal(draft)).contains("a part from 1 to 2");
        Map<String, Object> block = draft("BLOCK", 5, "kiosks");
        block.put("spread", Map.of("parts", 2, "daysApart", 1, "moved", List.of()));
        assertThat(refusal(block)).contains("only what is deferred or forced comes in parts");
    }

    @Test
    void whatADeferralLetsGoFallsDueByTheRule() {
        assertThat(preview(draft("DEFER", 9, "kiosks")).path("ruleDue").isMissingNode())
                .isTrue();
        SERVER.populations(
                Examples.POPULATIONS.replace(
                        "\"otherwise\": 5",
                        "\"lines\": [{\"kinds\": [\"bugfix\"], \"offerAfterDays\": 5, \"dueAfterDays\": 4}], \"otherwise\": 5"));
        try {
            JsonNode worded = preview(draft("DEFER", 9, "kiosks"));
            assertThat(Instant.parse(worded.path("ruleDue").asString()))
                    .isEqualTo(Instant.parse(worded.path("end").asString()).plus(Duration.ofDays(4)));
            assertThat(preview(draft("BLOCK", 9, "kiosks")).path("ruleDue").isMissingNode())
                    .isTrue();
        } finally {
            SERVER.populations(Examples.POPULATIONS);
        }
    }

    @Test
    void listsWithNothingInThemAreRefusedInWords() {
        for (String parts : List.of(
                "\"spread\": {\"parts\": 2, \"daysApart\": 1, \"moved\": [null]}",
                "\"spread\": {\"parts\": 2, \"daysApart\": 1, \"moved\": [{}]}",
                "\"spread\": {\"parts\": 2, \"daysApart\": 1, \"moved\": [{\"host\": null, \"part\": 1}]}",
                "\"spread\": {\"moved\": []}",
                "\"byOperator\": {\"checklist\": [null], \"order\": []}",
                "\"byOperator\": {\"checklist\": [], \"order\": [null]}")) {
            for (String path : List.of("/api/verdicts", "/api/verdicts/preview")) {
                String draft = new JsonMapper().writeValueAsString(draft("DEFER", 5, "kiosks"));
                Answer answer = SERVER.analyst()
                        .send(
                                "POST",
                                path,
                                "application/json",
                                BodyPublishers.ofString(draft.substring(0, draft.length() - 1) + ", " + parts + "}"));
                assertThat(answer.status())
                        .as(path + " " + parts + answer.text())
                        .isBetween(400, 422);
            }
        }
    }

    @Test
    void whatAnOperatorBeginsIsForeseenForNobody() {
        Map<String, Object> draft = draft("FORCE", 3, "kiosks");
        draft.put("byOperator", Map.of("checklist", List.of("close the till", " "), "order", List.of("ksk-2")));
        JsonNode worded = preview(draft);
        assertThat(worded.path("forecast").path("byOthers").path("count").asInt())
                .isEqualTo(2);
        assertThat(worded.path("forecast").path("inBusyHours").path("count").asInt())
                .isZero();
        Answer made = SERVER.analyst().post("/api/verdicts", draft);
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        assertThat(holds("ksk-1")).isEqualTo("BY_OPERATOR by VERDICT");
        assertThat(record()).contains(", by operator, because");
        SERVER.restart();
        JsonNode told = SERVER.reader()
                .get("/api/cases/" + update)
                .json()
                .path("verdicts")
                .path(0)
                .path("delivery")
                .path("byOperator");
        assertThat(told.path("checklist").toString()).isEqualTo("[\"close the till\"]");
        assertThat(told.path("order").toString()).isEqualTo("[\"ksk-2\"]");
        draft.put("byOperator", Map.of("checklist", List.of(), "order", List.of("nobody-1")));
        assertThat(refusal(draft)).contains("there is no host nobody-1");
        draft.put("byOperator", Map.of("checklist", List.of("x".repeat(501)), "order", List.of()));
        assertThat(refusal(draft)).contains("at most 500 characters for each step");
        Map<String, Object> block = draft("BLOCK", 5, "kiosks");
        block.put("byOperator", Map.of("checklist", List.of(), "order", List.of()));
        assertThat(refusal(block)).contains("only what is deferred or forced is begun by an operator");
    }

    @Test
    void aBlockMayRemoveItFromHostsThatCarryIt() {
        Map<String, Object> draft = draft("BLOCK", 5, "kiosks");
        draft.put("removes", true);
        JsonNode removal = preview(draft).path("removal");
        assertThat(removal.path("hosts").path("names").toString()).isEqualTo("[\"ksk-3\"]");
        assertThat(removal.path("unknown").path("count").asInt())
                .as("nobody tells until when")
                .isEqualTo(1);
        Answer made = SERVER.analyst().post("/api/verdicts", draft);
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        assertThat(holds("ksk-3")).isEqualTo("REMOVE by VERDICT");
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by VERDICT");
        assertThat(record()).contains(", to be removed from 1 host, because");
        SERVER.restart();
        assertThat(holds("ksk-3")).isEqualTo("REMOVE by VERDICT");
        Map<String, Object> force = draft("FORCE", 5, "kiosks");
        force.put("removes", true);
        assertThat(refusal(force)).contains("what is removed is blocked");
    }

    @Test
    void whatCannotBeRemovedIsNotAskedFor() {
        assertThat(SERVER.machine()
                        .documents(Map.of(
                                "n.json",
                                Examples.notice("NR-1", "1", "2.0")
                                        .replaceFirst("\\{", "{\"removableUntil\": \"never\",")))
                        .status())
                .isEqualTo(200);
        Map<String, Object> draft = draft("BLOCK", 5, "kiosks");
        draft.put("update", "NR-1");
        draft.put("removes", true);
        assertThat(refusal(draft)).contains("NR-1 cannot be removed from a host that has it");
    }
}
