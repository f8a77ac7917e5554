package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lucid.server.LucidServer.Answer;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/**
 * What needs an approver: proposed, approved or sent back, withdrawn, lapsed; it holds nothing until it is approved.
 */
class ProposalsTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    ProposalsTest() {
        super(SERVER);
    }

    @BeforeEach
    void kiosksAreTheCostliest() {
        String ladder = Examples.POPULATIONS.replace("\"tier\": 2", "\"tier\": 1");
        SERVER.populations(ladder);
    }

    private JsonNode proposed(Map<String, Object> draft) {
        Answer answer = SERVER.analyst().post("/api/proposals", draft);
        assertThat(answer.status()).as(answer.text()).isEqualTo(201);
        return answer.json();
    }

    private JsonNode listed(long number) {
        for (JsonNode one : SERVER.reader().get("/api/proposals").json()) {
            if (one.path("number").asLong() == number) {
                return one;
            }
        }
        throw new AssertionError("no proposal " + number);
    }

    @Test
    void whatComesInPartsLapsesWithTheFirst() {
        Map<String, Object> force = draft("FORCE", 3, "kiosks");
        JsonNode once = proposed(force);
        force.put("spread", Map.of("parts", 3, "daysApart", 5, "moved", List.of()));
        JsonNode inParts = proposed(force);
        assertThat(inParts.path("lapsesAt")).isEqualTo(once.path("lapsesAt"));
        assertThat(SERVER.analyst().delete(once.path("undo").asString()).status())
                .isEqualTo(204);
        assertThat(SERVER.analyst().delete(inParts.path("undo").asString()).status())
                .isEqualTo(204);
    }

    @Test
    void forcingTheCostliestIsProposedAndHoldsOnceItIsApproved() {
        Map<String, Object> force = draft("FORCE", 3, "kiosks");
        assertThat(SERVER.analyst()
                        .post("/api/verdicts/preview", force)
                        .json()
                        .path(0)
                        .path("grounds")
                        .toString())
                .isEqualTo("[{\"type\":\"FORCES\",\"tier\":1}]");
        Answer refused = SERVER.analyst().post("/api/verdicts", force);
        assertThat(refused.status()).isEqualTo(422);
        assertThat(refused.text()).contains("needs an approver, because it forces hosts of tier 1");
        String before = holds("ksk-1");

        long number = proposed(force).path("number").asLong();
        assertThat(holds("ksk-1")).as("a proposal holds nothing").isEqualTo(before);
        assertThat(listed(number).path("state").asString()).isEqualTo("WAITING");
        assertThat(listed(number).path("hosts").asInt()).isEqualTo(2);
        SERVER.restart();
        assertThat(listed(number).path("answers").path(0).path("populations").toString())
                .isEqualTo("[\"Ticket kiosks\"]");

        assertThat(SERVER.analyst()
                        .post("/api/proposals/" + number + "/approvals", Map.of())
                        .status())
                .as("an analyst approves nothing")
                .isEqualTo(403);
        Answer approved = SERVER.approver().post("/api/proposals/" + number + "/approvals", Map.of());
        assertThat(approved.status()).as(approved.text()).isEqualTo(201);
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by VERDICT");
        JsonNode verdict = SERVER.reader()
                .get("/api/cases/" + update)
                .json()
                .path("verdicts")
                .path(0);
        assertThat(verdict.path("author").asString()).isEqualTo("M. Aldane");
        assertThat(verdict.path("approver").asString()).isEqualTo("H. Marsh");
        assertThat(record())
                .contains("M. Aldane (m.aldane): Proposed, because it forces hosts of tier 1: Forced " + update)
                .contains("H. Marsh (h.marsh): Approved what M. Aldane proposed: Forced " + update);
        assertThat(SERVER.approver()
                        .post("/api/proposals/" + number + "/approvals", Map.of())
                        .status())
                .as("once")
                .isEqualTo(409);
        SERVER.restart();
        assertThat(SERVER.reader().get("/api/cases/" + update).text()).contains("\"approver\":\"H. Marsh\"");
    }

    @Test
    void anApproverSendsOneBackWithAWord() {
        long number = proposed(draft("FORCE", 3, "kiosks")).path("number").asLong();
        assertThat(SERVER.approver()
                        .post("/api/proposals/" + number + "/returns", Map.of("words", " "))
                        .text())
                .contains("say why");
        assertThat(SERVER.approver()
                        .post("/api/proposals/" + number + "/returns", Map.of("words", "not before the holidays"))
                        .status())
                .isEqualTo(204);
        assertThat(listed(number).path("state").asString()).isEqualTo("SENT_BACK");
        assertThat(listed(number).path("returned").asString()).isEqualTo("not before the holidays");
        assertThat(SERVER.approver()
                        .post("/api/proposals/" + number + "/approvals", Map.of())
                        .text())
                .contains("was sent back before");
        assertThat(record())
                .contains("H. Marsh (h.marsh): Sent back what M. Aldane proposed: not before the holidays.");
    }

    @Test
    void whoProposedItMayWithdrawIt() {
        JsonNode proposed = proposed(draft("FORCE", 3, "kiosks"));
        assertThat(SERVER.analyst().delete(proposed.path("undo").asString()).status())
                .isEqualTo(204);
        assertThat(listed(proposed.path("number").asLong()).path("state").asString())
                .isEqualTo("WITHDRAWN");
        assertThat(SERVER.approver()
                        .post("/api/proposals/" + proposed.path("number").asLong() + "/approvals", Map.of())
                        .text())
                .contains("withdrawn");
    }

    @Test
    void afterItsDayItHasLapsed() {
        long number = proposed(draft("FORCE", 3, "kiosks")).path("number").asLong();
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * 5));
        assertThat(listed(number).path("state").asString()).isEqualTo("LAPSED");
        assertThat(SERVER.approver()
                        .post("/api/proposals/" + number + "/approvals", Map.of())
                        .text())
                .contains("has lapsed");
        assertThat(record()).contains("proposed lapsed: nobody had approved it or sent it back. It held nothing.");
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * 8));
        assertThat(SERVER.reader().get("/api/proposals").text()).doesNotContain("\"number\":" + number + ",");
    }

    @Test
    void whatNeedsNoApproverIsHandedDown() {
        assertThat(SERVER.analyst()
                        .post("/api/proposals", draft("BLOCK", 3, "kiosks"))
                        .text())
                .contains("needs no approver");
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", draft("BLOCK", 3, "kiosks"))
                        .status())
                .isEqualTo(201);
    }

    @Test
    void goingOverSomebodysExceptionNeedsAnApprover() {
        JsonNode exception = SERVER.analyst()
                .post(
                        "/api/exceptions",
                        Map.of(
                                "update",
                                update,
                                "scope",
                                "UPDATE",
                                "hosts",
                                "name = off-1",
                                "effect",
                                "WITHHELD",
                                "until",
                                inDays(20).toString(),
                                "reason",
                                "certificate",
                                "owner",
                                "h.marsh"))
                .json();
        Map<String, Object> force = draft("FORCE", 3, "desktops");
        force.put("overriddenExceptions", List.of(exception.path("number").asInt()));
        assertThat(SERVER.analyst().post("/api/verdicts", force).text())
                .contains("overrides an exception of somebody else");
        long number = proposed(force).path("number").asLong();
        assertThat(SERVER.approver()
                        .post("/api/proposals/" + number + "/approvals", Map.of())
                        .status())
                .isEqualTo(201);
        assertThat(holds("off-1")).isEqualTo("OFFERED by OVERRIDING_FORCE");
    }

    private Map<String, Object> exception(String hosts) {
        return new HashMap<>(Map.of(
                "update",
                update,
                "scope",
                "UPDATE",
                "hosts",
                hosts,
                "until",
                inDays(20).toString(),
                "reason",
                "certified for the old one",
                "owner",
                "T. Brevik"));
    }

    private static void excepting(List<Integer> tiers) {
        assertThat(SERVER.administrator()
                        .put(
                                "/api/approval-rules",
                                null,
                                Map.of("forces", List.of(1), "disturbs", List.of(1), "excepts", tiers))
                        .status())
                .isEqualTo(200);
    }

    @Test
    void anExceptionIsProposedWhereItsTierAsksForAnApprover() {
        assertThat(SERVER.analyst()
                        .post("/api/exceptions/proposals", exception("name = ksk-1"))
                        .text())
                .as("no tier asks by itself")
                .contains("needs no approver");
        excepting(List.of(1));
        try {
            assertThat(SERVER.reader().get("/api/approval-rules").json().toString())
                    .isEqualTo("{\"forces\":[1],\"disturbs\":[1],\"excepts\":[1]}");
            assertThat(SERVER.analyst()
                            .post("/api/exceptions/preview", exception("name in (ksk-1, off-1)"))
                            .json()
                            .path("grounds")
                            .toString())
                    .isEqualTo("[{\"type\":\"EXCEPTS\",\"tier\":1}]");
            Answer refused = SERVER.analyst().post("/api/exceptions", exception("name = ksk-1"));
            assertThat(refused.status()).isEqualTo(422);
            assertThat(refused.text()).contains("needs an approver, because it excepts hosts of tier 1");
            Answer proposed = SERVER.analyst().post("/api/exceptions/proposals", exception("name = ksk-1"));
            assertThat(proposed.status()).as(proposed.text()).isEqualTo(201);
            long number = proposed.json().path("number").asLong();
            String before = holds("ksk-1");
            assertThat(before).as("it holds nothing").doesNotContain("EXCEPTION");
            SERVER.restart();
            JsonNode listed =
                    SERVER.reader().get("/api/exceptions/proposals").json().get(0);
            assertThat(listed.path("state").asString() + " "
                            + listed.path("where").asString() + " "
                            + listed.path("hosts").asInt())
                    .isEqualTo("WAITING name = ksk-1 1");
            JsonNode would = SERVER.approver()
                    .get("/api/exceptions/proposals/" + number + "/preview")
                    .json()
                    .path("consequence");
            assertThat(would.path("decided").path("names").toString()).isEqualTo("[\"ksk-1\"]");
            assertThat(would.path("before").toString()).contains("ksk-1").doesNotContain("EXCEPTION");
            assertThat(SERVER.reader().get("/api/proposals").text())
                    .as("it is no verdict")
                    .doesNotContain("certified for the old one");
            assertThat(SERVER.approver().get("/api/digest").text())
                    .contains("An exception on " + update + ", proposed by M. Aldane");
            assertThat(SERVER.approver()
                            .post("/api/proposals/" + number + "/approvals", Map.of())
                            .status())
                    .as("by its own door")
                    .isEqualTo(404);
            Answer approved = SERVER.approver().post("/api/exceptions/proposals/" + number + "/approvals", Map.of());
            assertThat(approved.status()).as(approved.text()).isEqualTo(201);
            assertThat(holds("ksk-1")).isEqualTo("WITHHELD by EXCEPTION");
            assertThat(record())
                    .contains("Proposed, because it excepts hosts of tier 1: An exception: withhold " + update)
                    .contains("H. Marsh (h.marsh): Approved what M. Aldane proposed: made an exception: withhold ");
            SERVER.restart();
            assertThat(SERVER.reader().get("/api/exceptions?text=" + update).text())
                    .contains("\"approver\":\"H. Marsh\"", "\"author\":\"M. Aldane\"");
            assertThat(SERVER.approver()
                            .post("/api/exceptions/proposals/" + number + "/approvals", Map.of())
                            .status())
                    .as("once")
                    .isEqualTo(409);
            assertThat(SERVER.approver()
                            .get("/api/exceptions/proposals/" + number + "/preview")
                            .text())
                    .contains("no exception waits as proposal " + number);
            Map<String, Object> goesOn = Map.of(
                    "exceptions",
                    List.of(approved.json().path("number").asLong()),
                    "until",
                    inDays(60).toString(),
                    "reason",
                    "still so");
            assertThat(SERVER.analyst().post("/api/exceptions/renewals", goesOn).text())
                    .as("nobody goes on alone with what they could not begin alone")
                    .contains("this needs an approver, because it excepts hosts of tier 1");
            assertThat(SERVER.reader().get("/api/exceptions?text=" + update).text())
                    .contains("\"renewalGrounds\":[{\"type\":\"EXCEPTS\",\"tier\":1}]");
            long renewal = SERVER.analyst()
                    .post("/api/exceptions/renewals/proposals", goesOn)
                    .json()
                    .path("number")
                    .asLong();
            JsonNode waiting = SERVER.reader()
                    .get("/api/exceptions/renewals/proposals")
                    .json()
                    .get(0);
            assertThat(waiting.path("exceptions").get(0).path("where").asString())
                    .isEqualTo("name = ksk-1");
            assertThat(waiting.path("state").asString()).isEqualTo("WAITING");
            assertThat(SERVER.approver().get("/api/digest").text())
                    .contains("That exceptions go on, proposed by M. Aldane");
            Answer renewed =
                    SERVER.approver().post("/api/exceptions/renewals/proposals/" + renewal + "/approvals", Map.of());
            assertThat(renewed.status()).as(renewed.text()).isEqualTo(201);
            assertThat(SERVER.reader().get("/api/exceptions?text=" + update).text())
                    .contains("\"renewals\":1", "\"reason\":\"still so\"", "\"approver\":\"H. Marsh\"");
            assertThat(record())
                    .contains("Approved what M. Aldane proposed: Renewed the exception on " + update
                            + " where name = ksk-1, the first time");
            assertThat(SERVER.analyst()
                            .delete(renewed.json().path("undo").asString())
                            .status())
                    .isEqualTo(204);
            assertThat(SERVER.reader().get("/api/exceptions?text=" + update).text())
                    .contains("\"renewals\":0", "\"reason\":\"certified for the old one\"");
            long other = SERVER.analyst()
                    .post("/api/exceptions/proposals", exception("name = ksk-2"))
                    .json()
                    .path("number")
                    .asLong();
            assertThat(SERVER.approver()
                            .post("/api/proposals/" + other + "/returns", Map.of("words", "ask the vendor first"))
                            .status())
                    .isEqualTo(204);
            assertThat(SERVER.reader().get("/api/exceptions/proposals").text()).contains("ask the vendor first");
        } finally {
            excepting(List.of());
        }
    }

    @Test
    void whatNeedsAnApproverIsSetByTier() {
        assertThat(SERVER.administrator()
                        .put(
                                "/api/approval-rules",
                                null,
                                Map.of("forces", List.of(5), "disturbs", List.of(), "excepts", List.of()))
                        .text())
                .contains("name tiers from 1 to 4");
        assertThat(SERVER.administrator()
                        .put(
                                "/api/approval-rules",
                                null,
                                Map.of("forces", List.of(2), "disturbs", List.of(), "excepts", List.of()))
                        .status())
                .isEqualTo(200);
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", draft("FORCE", 3, "kiosks"))
                        .status())
                .as("tier 1 asks for none now")
                .isEqualTo(201);
        assertThat(SERVER.reader().get("/api/record?kind=ACCESS").text())
                .contains("Changed what needs an approver to disturbing in busy hours hosts of no tier;"
                        + " excepting hosts of no tier; forcing hosts of tier 2; before it was ");
        excepting(List.of());
    }
}
