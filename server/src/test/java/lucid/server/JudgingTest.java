package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** Verdicts, answers and exceptions over the API, with the record and the carriers that follow from them. */
class JudgingTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    JudgingTest() {
        super(SERVER);
    }

    @Test
    void aBlockIsShownBeforeItIsHandedDownAndThenHolds() {
        Map<String, Object> block = draft("BLOCK", 14, "kiosks");
        block.put("where", "spool_free_mb<300");
        JsonNode consequence =
                SERVER.analyst().post("/api/verdicts/preview", block).json().get(0);
        assertThat(consequence.path("where").asString()).isEqualTo("spool_free_mb < 300");
        assertThat(consequence.path("consequence").path("decided").path("names").toString())
                .isEqualTo("[\"ksk-1\",\"ksk-2\"]");
        assertThat(consequence
                        .path("consequence")
                        .path("carrying")
                        .path("count")
                        .asInt())
                .isEqualTo(1);
        assertThat(consequence
                        .path("consequence")
                        .path("before")
                        .get(0)
                        .path("match")
                        .path("clause")
                        .asString())
                .isEqualTo("STANDING_RULE");
        assertThat(cues()).as("nothing was kept").isEqualTo(UNTOUCHED);

        assertThat(SERVER.analyst().post("/api/verdicts", block).status()).isEqualTo(201);
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by VERDICT");
        assertThat(holds("ksk-3")).isEqualTo("NOTHING_TO_DO by CARRIED_OR_NOT_APPLICABLE");
        assertThat(holds("off-1")).isEqualTo("WITHHELD by STANDING_RULE");
        assertThat(cues()).as("who is not covered is not answered for").isEqualTo(UNTOUCHED);
        assertThat(strip().path("open"))
                .extracting(part ->
                        part.path("name").asString() + " " + part.path("hosts").asInt())
                .containsExactly("Office desktops 1", "In no population 1");
        assertThat(record())
                .contains("M. Aldane (m.aldane): Blocked " + update
                        + " revision 1 for Ticket kiosks where spool_free_mb < 300 until ")
                .contains("because untested: 2 hosts.");

        SERVER.restart();
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by VERDICT");
    }

    @Test
    void oneSentenceForSeveralPopulationsAndTakingItBack() {
        JsonNode given = SERVER.analyst()
                .post("/api/verdicts", draft("FORCE", 3, "kiosks", "desktops"))
                .json();
        assertThat(given.path("verdicts").size()).isEqualTo(2);
        assertThat(holds("off-1")).isEqualTo("OFFERED by VERDICT");
        String undo = given.path("undo").asString();
        assertThat(SERVER.analyst().delete(undo).status()).isEqualTo(204);
        assertThat(SERVER.analyst().delete(undo).status()).isEqualTo(409);
        assertThat(holds("off-1")).isEqualTo("WITHHELD by STANDING_RULE");
        assertThat(cues()).isEqualTo(UNTOUCHED);
        assertThat(record()).contains("Took back the force of " + update + " for Office desktops.");
    }

    @Test
    void theLastDayOfAnotherTimeZoneCounts() {
        JsonNode worded = SERVER.analyst()
                .post("/api/verdicts/preview", draft("BLOCK", 5, "kiosks", "desktops"))
                .json();
        assertThat(worded.get(0).path("end").asString()).endsWith("T00:00:00Z");
        assertThat(worded.get(1).path("end").asString()).as("midnight in Tokyo").endsWith("T15:00:00Z");
    }

    @Test
    void aDeferralUntilTodayLetsItGoNow() {
        SERVER.analyst().post("/api/verdicts", draft("DEFER", 0, "kiosks"));
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by VERDICT");
        assertThat(record()).contains("Let go now " + update);
    }

    /** The rule of the kiosks offers it after five days, that of the desktops never. */
    @Test
    void aDeferralThatEndsBeforeTheRuleSaysThatItBringsTheOfferForward() {
        JsonNode early = SERVER.analyst()
                .post("/api/verdicts/preview", draft("DEFER", 2, "kiosks", "desktops"))
                .json();
        assertThat(early.get(0)
                        .path("broughtForward")
                        .get(0)
                        .path("hosts")
                        .path("count")
                        .asInt())
                .isEqualTo(2);
        assertThat(early.get(0)
                        .path("broughtForward")
                        .get(0)
                        .path("match")
                        .path("end")
                        .asString())
                .isNotEmpty();
        assertThat(early.get(1).path("broughtForward").get(0).path("match").has("end"))
                .as("never")
                .isFalse();
        JsonNode late = SERVER.analyst()
                .post("/api/verdicts/preview", draft("DEFER", 9, "kiosks"))
                .json();
        assertThat(late.get(0).path("broughtForward")).isEmpty();
        assertThat(SERVER.analyst()
                        .post("/api/verdicts/preview", draft("BLOCK", 2, "kiosks"))
                        .json()
                        .get(0)
                        .path("broughtForward"))
                .isEmpty();
    }

    @Test
    void anOfferGoesOverABlockOnlyIfItNamesIt() {
        long block = SERVER.analyst()
                .post("/api/verdicts", draft("BLOCK", 14, "kiosks"))
                .json()
                .path("verdicts")
                .get(0)
                .path("number")
                .asLong();
        JsonNode claimed = SERVER.analyst()
                .post("/api/verdicts/preview", draft("FORCE", 3, "kiosks"))
                .json()
                .get(0)
                .path("consequence")
                .path("claimed");
        assertThat(claimed.get(0).path("match").path("source").asLong()).isEqualTo(block);
        Map<String, Object> naming = draft("FORCE", 3, "kiosks");
        naming.put("overrides", List.of(block));
        SERVER.analyst().post("/api/verdicts", naming);
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by OVERRIDING_FORCE");
    }

    @Test
    void badDraftsAreRefusedWithFieldAndReason() {
        assertThat(problem("until", draft("BLOCK", -1, "kiosks"))).contains("is past");
        assertThat(problem("until", draft("BLOCK", 500, "kiosks"))).contains("more than a year");
        assertThat(problem("populations", draft("BLOCK", 5, "nobody"))).contains("no population nobody");
        assertThat(problem("populations", draft("BLOCK", 5))).contains("at least one");
        Map<String, Object> noReason = draft("BLOCK", 5, "kiosks");
        noReason.put("reasons", List.of());
        assertThat(problem("reasons", noReason)).contains("say why");
        Map<String, Object> noEnd = draft("BLOCK", 5, "kiosks");
        noEnd.remove("until");
        assertThat(problem("until", noEnd)).contains("nothing withholds for ever");
        Map<String, Object> wrongWhere = draft("BLOCK", 5, "kiosks");
        wrongWhere.put("where", "spool_free_mb < many");
        LucidServer.Answer answer = SERVER.analyst().post("/api/verdicts", wrongWhere);
        assertThat(answer.json().path("position").asInt()).isEqualTo(16);
        Map<String, Object> longWhere = draft("BLOCK", 5, "kiosks");
        longWhere.put("where", "name = " + "x".repeat(2_000));
        assertThat(problem("where", longWhere)).contains("at most");
        Map<String, Object> stale = draft("BLOCK", 5, "kiosks");
        stale.put("revision", "0");
        assertThat(SERVER.analyst().post("/api/verdicts", stale).status()).isEqualTo(409);
        assertThat(cues()).as("nothing of it was kept").isEqualTo(UNTOUCHED);
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", Map.of("type", "EXPLODE"))
                        .status())
                .isEqualTo(400);
    }

    private static String problem(String field, Map<String, Object> draft) {
        LucidServer.Answer answer = SERVER.analyst().post("/api/verdicts", draft);
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.json().path("field").asString()).isEqualTo(field);
        return answer.json().path("detail").asString();
    }

    @Test
    void aBatchIsTakenBackWholeOrNotAtAll() {
        List<String> updates = List.of("BATCH-1", "BATCH-2", "BATCH-3");
        updates.forEach(id -> SERVER.machine().documents(Map.of("n.json", Examples.notice(id, "1", "2.0"))));
        LucidServer.Client analyst = SERVER.analyst();
        List<Long> numbers = new ArrayList<>();
        analyst.post("/api/acknowledgements", Map.of("updates", updates))
                .json()
                .path("acknowledgements")
                .forEach(given -> numbers.add(given.path("number").asLong()));
        assertThat(analyst.delete("/api/decisions?acknowledgement=" + numbers.get(2))
                        .status())
                .isEqualTo(204);
        LucidServer.Answer refused = analyst.delete(
                "/api/decisions?acknowledgement=" + numbers.get(0) + "," + numbers.get(1) + "," + numbers.get(2));
        assertThat(refused.status()).isEqualTo(409);
        assertThat(refused.text())
                .contains("acknowledgement " + numbers.get(2) + " was taken back before; nothing was changed now");
        assertThat(analyst.get("/api/record?kind=TAKEN_BACK").text()).doesNotContain("BATCH-1");
        assertThat(analyst.delete("/api/decisions?acknowledgement=" + numbers.get(0) + "," + numbers.get(1))
                        .status())
                .isEqualTo(204);
        assertThat(analyst.get("/api/record?kind=TAKEN_BACK").text())
                .contains("Took back that BATCH-1 is left to the rule.", "Took back that BATCH-2 is left to the rule.");
        assertThat(analyst.delete("/api/decisions").status()).isEqualTo(422);
        assertThat(analyst.delete("/api/decisions?verdict=4711").status()).isEqualTo(404);
    }

    @Test
    void leavingToTheRuleIsAnAnswerForManyAndCanBeTakenBack() {
        JsonNode given = SERVER.analyst()
                .post("/api/acknowledgements", Map.of("updates", List.of(update)))
                .json();
        assertThat(strip().path("cues")).isEmpty();
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by STANDING_RULE");
        SERVER.restart();
        assertThat(strip().path("cues")).isEmpty();
        SERVER.analyst().delete(given.path("undo").asString());
        assertThat(cues()).isEqualTo(UNTOUCHED);
        assertThat(SERVER.analyst()
                        .post("/api/acknowledgements", Map.of("updates", List.of(update, "absent")))
                        .status())
                .isEqualTo(404);
        assertThat(cues()).as("all or nothing").isEqualTo(UNTOUCHED);
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
                inDays(2).toString(),
                "reason",
                "certificate",
                "owner",
                "D. Orrin",
                "measure",
                ""));
    }

    @Test
    void anExceptionLapsesWhenTheClockPassesItsEnd() {
        SERVER.analyst().post("/api/verdicts", draft("FORCE", 30, "kiosks"));
        JsonNode consequence = SERVER.analyst()
                .post("/api/exceptions/preview", exception("name = ksk-1"))
                .json();
        assertThat(consequence.path("consequence").path("decided").path("names").toString())
                .isEqualTo("[\"ksk-1\"]");
        assertThat(SERVER.analyst()
                        .post("/api/exceptions", exception("name = ksk-1"))
                        .status())
                .isEqualTo(201);
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by EXCEPTION");
        assertThat(holds("ksk-2")).isEqualTo("OFFERED by VERDICT");
        SERVER.restart();
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by EXCEPTION");
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 72));
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by VERDICT");
        assertThat(SERVER.reader()
                        .get("/api/cases/" + update)
                        .json()
                        .path("exceptions")
                        .get(0)
                        .path("stands")
                        .asBoolean())
                .isFalse();
        assertThat(record()).contains("Made an exception: withhold " + update + " where name = ksk-1 until ");
    }

    @Test
    void badExceptionsAreRefused() {
        assertThat(SERVER.analyst()
                        .post("/api/exceptions", exception("name = nobody"))
                        .text())
                .contains("no host matches");
        assertThat(SERVER.analyst()
                        .post("/api/exceptions", exception("name ="))
                        .json()
                        .path("position")
                        .asInt())
                .isEqualTo(6);
        Map<String, Object> unowned = exception("name = ksk-1");
        unowned.put("owner", " ");
        assertThat(SERVER.analyst()
                        .post("/api/exceptions", unowned)
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("owner");
        Map<String, Object> product = exception("name = ksk-1");
        product.putAll(Map.of("scope", "PRODUCT", "product", "pkg:generic/other"));
        assertThat(SERVER.analyst()
                        .post("/api/exceptions", product)
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("product");
    }

    @Test
    void carriersAddUpAndTheListIsAFile() {
        JsonNode carriers = SERVER.reader().get("/api/carriers/" + update).json();
        for (int i = 0; i < carriers.path("columns").size(); i++) {
            JsonNode cell = carriers.path("row").path("cells").get(i);
            int sum = cell.path("carries").asInt()
                    + cell.path("partly").asInt()
                    + cell.path("missing").asInt()
                    + cell.path("unknown").asInt()
                    + cell.path("notApplicable").asInt();
            assertThat(sum)
                    .isEqualTo(carriers.path("columns").get(i).path("hosts").asInt());
        }
        String csv = SERVER.reader()
                .get("/api/carriers/" + update + "/hosts.csv?population=kiosks")
                .text();
        assertThat(csv.lines()).hasSize(4).first().asString().startsWith("host,population,state");
        assertThat(csv).contains("ksk-3,Ticket kiosks,").contains("desk 9.0");
        assertThat(SERVER.reader()
                        .get("/api/carriers/" + update + "/hosts?population=none")
                        .json()
                        .path("hosts")
                        .get(0)
                        .path("name")
                        .asString())
                .isEqualTo("odd-1");
        assertThat(SERVER.reader()
                        .get("/api/carriers/" + update + "/hosts?population=absent")
                        .status())
                .isEqualTo(404);
        assertThat(SERVER.reader()
                        .get("/api/record/entries.csv?subject=" + update)
                        .text())
                .startsWith("number,at,author,kind,subject,sentence");
    }

    @Test
    void theSecondOfTwoWhoJudgeTheSameCaseIsTold() {
        String version = SERVER.analyst()
                .get("/api/cases/" + update)
                .json()
                .path("version")
                .asString();
        assertThat(SERVER.reader().get("/api/cases/" + update).headers().firstValue("ETag"))
                .contains(version);
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", draft("BLOCK", 14, "kiosks"), "If-Match", version)
                        .status())
                .isEqualTo(201);
        LucidServer.Answer second =
                SERVER.analyst().post("/api/verdicts", draft("FORCE", 14, "kiosks"), "If-Match", version);
        assertThat(second.status()).isEqualTo(412);
        assertThat(second.text()).contains("has changed since you saw it");
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by VERDICT");
    }

    @Test
    void aVerdictThatIsSentTwiceIsHandedDownOnce() {
        LucidServer.Answer first = SERVER.analyst()
                .post("/api/verdicts", draft("BLOCK", 14, "kiosks"), "Idempotency-Key", update, "If-Match", "*");
        LucidServer.Answer again = SERVER.analyst()
                .post("/api/verdicts", draft("BLOCK", 14, "kiosks"), "Idempotency-Key", update, "If-Match", "*");
        assertThat(again.text()).isEqualTo(first.text());
        assertThat(record().lines().filter(line -> line.contains("Blocked"))).hasSize(1);
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", draft("BLOCK", 20, "kiosks"), "Idempotency-Key", update, "If-Match", "*")
                        .status())
                .isEqualTo(422);
    }

    @Test
    void aRevisionPutsTheCaseBackWithWhatChanged() {
        SERVER.analyst().post("/api/verdicts", draft("BLOCK", 14, "kiosks", "desktops", "none"));
        assertThat(strip().path("cues")).isEmpty();
        SERVER.machine().documents(Map.of("n.json", Examples.notice(update, "2", "2.0")));
        assertThat(strip().path("cues").get(0).path("type").asString()).isEqualTo("REVISED_TEXT");
        SERVER.machine().documents(Map.of("n.json", Examples.notice(update, "3", "2.5")));
        assertThat(strip().path("cues").get(0).path("type").asString()).isEqualTo("REVISED_FIXES");
        assertThat(holds("ksk-1")).as("a block holds to its end").isEqualTo("WITHHELD by VERDICT");
        SERVER.restart();
        assertThat(strip().path("cues").get(0).path("type").asString()).isEqualTo("REVISED_FIXES");
    }

    /**
     * A decision of each kind is refused without the version of the case that was seen, carried out once though it is
     * sent twice, and tells the address that takes it back.
     */
    @Test
    void everyDecisionNeedsTheVersionThatWasSeenCountsOnceAndTellsHowItIsTakenBack() {
        LucidServer.Client analyst = SERVER.analyst();
        assertThat(analyst.post("/api/failure-reports", Map.of("update", update, "hosts", "ksk-1"))
                        .status())
                .isEqualTo(201);
        Map<String, Map<String, Object>> decisions = new LinkedHashMap<>();
        decisions.put("/api/verdicts", draft("BLOCK", 14, "kiosks"));
        decisions.put("/api/acknowledgements", Map.of("updates", List.of(update)));
        decisions.put("/api/exceptions", exception("name = ksk-1"));
        decisions.put(
                "/api/not-affected-notes", Map.of("update", update, "where", "name = ksk-1", "reason", "not used"));
        decisions.put("/api/dismissed-failures", Map.of("update", update, "host", "ksk-1", "reason", "a cable"));
        decisions.put("/api/known-issues", Map.of("updates", List.of(update), "words", "slow", "state", "OPEN"));
        decisions.forEach((path, body) -> {
            String seen = version();
            LucidServer.Answer blind = analyst.post(path, body, new String[0]);
            assertThat(blind.status()).as(path).isEqualTo(428);
            assertThat(blind.json().path("field").asString()).isEqualTo("version");
            assertThat(analyst.post(path, body, "If-Match", "\"another\"").status())
                    .as(path)
                    .isEqualTo(412);
            assertThat(version()).as("nothing was done").isEqualTo(seen);
            LucidServer.Answer done =
                    analyst.post(path, body, "If-Match", "\"another\", " + seen, "Idempotency-Key", "once");
            assertThat(done.status()).as(done.text()).isEqualTo(201);
            String after = version();
            assertThat(after).as(path).isNotEqualTo(seen);
            LucidServer.Answer again =
                    analyst.post(path, body, "If-Match", "\"another\", " + seen, "Idempotency-Key", "once");
            assertThat(again.status()).as(again.text()).isEqualTo(201);
            assertThat(again.json()).as("sent again, the answer is the same").isEqualTo(done.json());
            assertThat(version()).as("and nothing more is done").isEqualTo(after);
            Map<String, Object> other = new LinkedHashMap<>(body);
            other.put("words", "something else");
            other.put("reason", "something else");
            other.put("populations", List.of("desktops"));
            LucidServer.Answer used = analyst.post(path, other, "If-Match", after, "Idempotency-Key", "once");
            assertThat(used.status()).as(used.text()).isEqualTo(422);
            assertThat(used.json().path("field").asString()).isEqualTo("Idempotency-Key");
            assertThat(SERVER.person("h.marsh")
                            .post(path, body, "If-Match", after, "Idempotency-Key", "once")
                            .status())
                    .as("of another person")
                    .isEqualTo(403);
            String undo = done.json().path("undo").asString();
            if (undo.startsWith("/api/decisions")) {
                assertThat(analyst.get(undo.replace("?", "/revocation?")).status())
                        .as(undo)
                        .isEqualTo(200);
            }
            assertThat(analyst.delete(undo).status()).as(undo).isEqualTo(204);
        });
    }

    /** What belongs together is taken back together, whatever it is. */
    @Test
    void decisionsOfSeveralKindsAreTakenBackTogetherOrNotAtAll() {
        LucidServer.Client analyst = SERVER.analyst();
        String block = analyst.post("/api/verdicts", draft("BLOCK", 14, "kiosks"))
                .json()
                .path("undo")
                .asString();
        String note = analyst.post(
                        "/api/not-affected-notes",
                        Map.of("update", update, "where", "name = ksk-1", "reason", "not used"))
                .json()
                .path("undo")
                .asString();
        String both = block + "&" + note.substring(note.indexOf('?') + 1);
        assertThat(analyst.delete(both + "&exception=4711").status()).isEqualTo(404);
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by VERDICT");
        assertThat(analyst.delete(both).status()).isEqualTo(204);
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by STANDING_RULE");
        assertThat(analyst.get("/api/cases/" + update)
                        .json()
                        .path("evidence")
                        .path("notes")
                        .get(0)
                        .path("revokedAt")
                        .asString())
                .isNotEmpty();
    }

    private String version() {
        return SERVER.analyst()
                .get("/api/cases/" + update)
                .json()
                .path("version")
                .asString();
    }

    @Test
    void theVersionOfACaseChangesWithWhatIsToldAndDecidedAndOutlivesARestart() {
        String first = version();
        SERVER.analyst().post("/api/verdicts", draft("BLOCK", 14, "kiosks", "desktops"));
        String judged = version();
        assertThat(judged).isNotEqualTo(first);
        assertThat(SERVER.analyst()
                        .post(
                                "/api/not-affected-notes",
                                Map.of("update", update, "where", "name = ksk-1", "reason", "not used"))
                        .status())
                .isEqualTo(201);
        String noted = version();
        assertThat(noted).isNotEqualTo(judged);
        SERVER.restart();
        assertThat(version()).isEqualTo(noted);
    }
}
