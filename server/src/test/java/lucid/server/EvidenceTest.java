package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.StreamSupport;
import lucid.core.weighing.Weights;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.springframework.jdbc.core.JdbcTemplate;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Evidence that comes as documents and from the screen, what it does to a case, and that it is there after a start. */
class EvidenceTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static LucidServer.Client analyst;

    @BeforeAll
    static void fleet() {
        analyst = SERVER.analyst();
        SERVER.populations(Examples.POPULATIONS);
        StringBuilder hosts = new StringBuilder();
        for (int i = 0; i < 20; i++) {
            hosts.append(Examples.host("ev-" + i, i < 6 ? "kiosk" : "desktop", "1.0", Instant.now()));
        }
        SERVER.machine().report(hosts.toString().getBytes(StandardCharsets.UTF_8));
        analyst.documents(Map.of(
                "u.json",
                Examples.notice("EV-1", "1", "2.0"),
                "v.json",
                Examples.notice("EV-2", "1", "2.0"),
                "w.json",
                Examples.notice("EV-3", "1", "2.0")));
    }

    private static JsonNode evidence(String update) {
        return analyst.get("/api/cases/" + update).json().path("evidence");
    }

    private static String cues(String update) {
        return analyst.get("/api/cases/" + update).json().path("cues").toString();
    }

    private static String outcome(String name, String content) {
        return analyst.documents(Map.of(name, content))
                .json()
                .path(0)
                .path("outcome")
                .asString();
    }

    @Test
    void aPastedReportCountsAsFailuresOfItsHostsAndNamesWhatItDoesNotKnow() {
        JsonNode told = analyst.post(
                        "/api/failure-reports",
                        Map.of(
                                "update",
                                "EV-1",
                                "hosts",
                                "EV-0, ev-1.fell.example;\n ev-2  nobody-7",
                                "words",
                                "the screen stays dark",
                                "code",
                                "dark",
                                "failureClass",
                                "DOWN"))
                .json();
        assertThat(told.path("hosts").toString()).isEqualTo("[\"ev-0\",\"ev-1\",\"ev-2\"]");
        assertThat(told.path("unknown").toString()).isEqualTo("[\"nobody-7\"]");
        JsonNode tries = evidence("EV-1").path("tries");
        assertThat(tries.path("failed").path("count").intValue()).isEqualTo(3);
        assertThat(tries.path("codes").path(0).path("code").asString()).isEqualTo("dark");
        assertThat(cues("EV-1")).contains("FAILURES_ABOVE_USUAL");

        // One of them was not by this update; and taken back again.
        long dismissed = analyst.post(
                        "/api/dismissed-failures", Map.of("update", "EV-1", "host", "ev-0", "reason", "a cable"))
                .json()
                .path("number")
                .longValue();
        assertThat(evidence("EV-1").path("tries").path("failed").path("count").intValue())
                .isEqualTo(2);
        assertThat(analyst.post("/api/dismissed-failures", Map.of("update", "EV-1", "host", "ev-0", "reason", "again"))
                        .text())
                .contains("the failure of ev-0 is dismissed already");
        assertThat(analyst.post("/api/failure-reports", Map.of("update", "EV-1", "hosts", "ev-0", "code", "dark"))
                        .status())
                .isEqualTo(201);
        assertThat(evidence("EV-1").path("tries").path("failed").path("count").intValue())
                .as("a later failure is another one")
                .isEqualTo(3);
        assertThat(analyst.delete("/api/decisions?dismissedFailure=" + dismissed)
                        .status())
                .isEqualTo(204);
        assertThat(analyst.delete("/api/decisions?dismissedFailure=" + dismissed)
                        .status())
                .isEqualTo(409);
        assertThat(evidence("EV-1").path("tries").path("failed").path("count").intValue())
                .isEqualTo(3);
        assertThat(analyst.get("/api/record?subject=EV-1").text())
                .contains("Dismissed the failure of ev-0")
                .contains("Took back that the failure of ev-0");
    }

    @Test
    void aReportThatTellsNothingIsRefusedByField() {
        assertThat(analyst.post("/api/failure-reports", Map.of("update", "EV-1", "hosts", "nobody-1 nobody-2"))
                        .text())
                .contains("no host is called nobody-1, nobody-2")
                .contains("\"hosts\"");
        assertThat(analyst.post("/api/failure-reports", Map.of("update", "EV-1"))
                        .text())
                .contains("paste host names");
        assertThat(analyst.post("/api/failure-reports", Map.of("update", "EV-1", "others", 3, "where", "reader ="))
                        .text())
                .contains("\"where\"");
        assertThat(analyst.post("/api/failure-reports", Map.of("update", "EV-1", "others", 3, "failureClass", "AWFUL"))
                        .text())
                .contains("one of REFUSED, DEGRADED, DOWN is expected, not 'AWFUL'")
                .contains("\"failureClass\"");
        assertThat(analyst.post("/api/failure-reports", Map.of("update", "EV-1", "others", 3, "code", "x".repeat(501)))
                        .text())
                .contains("at most 500 characters")
                .contains("\"field\":\"code\"");
        assertThat(analyst.get("/api/documents?outcome=REJECTED").text())
                .as("a form with a fault leaves nothing behind")
                .doesNotContain("failure report on EV-1");
        assertThat(analyst.post("/api/known-issues", Map.of("updates", List.of("EV-1"), "words", "slow"))
                        .text())
                .contains("\"state\"");
        assertThat(analyst.post("/api/failure-reports", Map.of("update", "NONE-1", "others", 3))
                        .status())
                .isEqualTo(404);
        assertThat(analyst.post(
                                "/api/not-affected-notes",
                                Map.of("update", "EV-1", "where", "role = kiosk", "reason", " "))
                        .text())
                .contains("\"reason\"");
    }

    @Test
    void aKnownIssueOpensAndIsFixedAndANoteTakesExposureAway() {
        String id = analyst.post(
                        "/api/known-issues",
                        Map.of(
                                "updates",
                                List.of("EV-2"),
                                "fixedBy",
                                List.of(),
                                "words",
                                "loses mail",
                                "state",
                                "OPEN",
                                "failureClass",
                                "DEGRADED",
                                "where",
                                "role = kiosk"))
                .json()
                .path("id")
                .asString();
        JsonNode issue = evidence("EV-2").path("issues").path(0);
        assertThat(issue.path("touches").path("count").intValue()).isEqualTo(6);
        assertThat(cues("EV-2")).contains("ISSUE_OPENED");
        double hazard = analyst.get("/api/cases/EV-2")
                .json()
                .path("beam")
                .path("hazard")
                .path("middle")
                .doubleValue();
        analyst.post(
                "/api/known-issues",
                Map.of(
                        "id",
                        id,
                        "updates",
                        List.of("EV-2"),
                        "fixedBy",
                        List.of(),
                        "words",
                        "lost mail",
                        "state",
                        "FIXED",
                        "failureClass",
                        "DEGRADED",
                        "where",
                        "role = kiosk"));
        assertThat(analyst.get("/api/cases/EV-2")
                        .json()
                        .path("beam")
                        .path("hazard")
                        .path("middle")
                        .doubleValue())
                .isLessThan(hazard);

        long note = analyst.post(
                        "/api/not-affected-notes",
                        Map.of("update", "EV-2", "where", "role = desktop", "reason", "never used"))
                .json()
                .path("number")
                .longValue();
        assertThat(evidence("EV-2").path("notAffected").path("count").intValue())
                .isEqualTo(14);
        analyst.delete("/api/decisions?note=" + note);
        assertThat(evidence("EV-2").path("notAffected").path("count").intValue())
                .isZero();
    }

    @Test
    void whatIsSaidNotToBeRemovableWeighsAsThat() {
        String notice = Examples.notice("EV-9", "1", "2.0");
        SERVER.machine().documents(Map.of("n9.json", notice));
        assertThat(evidence("EV-9").path("removable").booleanValue()).isTrue();
        SERVER.machine()
                .documents(Map.of(
                        "n9.json",
                        Examples.notice("EV-9", "2", "2.0").replaceFirst("\\{", "{\"removableUntil\": \"never\",")));
        assertThat(evidence("EV-9").path("removable").booleanValue()).isFalse();
    }

    @Test
    void aNoteOnACaseStandsUntilItIsTakenBack() {
        String words = "asked the vendor\nthey answer on Monday";
        JsonNode written = analyst.post("/api/case-notes", Map.of("update", "EV-1", "words", " " + words + " "))
                .json();
        assertThat(evidence("EV-1").path("caseNotes").path(0).path("words").asString())
                .isEqualTo(words);
        assertThat(analyst.get("/api/record").text()).contains("Wrote on EV-1: asked the vendor");
        assertThat(analyst.delete(written.path("undo").asString()).status()).isEqualTo(204);
        assertThat(evidence("EV-1").path("caseNotes").path(0).has("revokedAt")).isTrue();
        assertThat(analyst.delete(written.path("undo").asString()).text()).contains("taken back before");
        assertThat(analyst.post("/api/case-notes", Map.of("update", "EV-1", "words", "\n"))
                        .text())
                .contains("\"words\"", "write a note");
        assertThat(analyst.post("/api/case-notes", Map.of("update", "EV-1", "words", "x".repeat(4001)))
                        .status())
                .isEqualTo(422);
        assertThat(analyst.post("/api/case-notes", Map.of("update", "NONE-1", "words", "x"))
                        .status())
                .isEqualTo(404);
    }

    @Test
    void documentsOfEvidenceAreKnownOlderOrTaken() {
        String first =
                "#model_version:v1,score_date:2026-11-20T00:00:00+0000\ncve,epss,percentile\nCVE-2026-9000077,0.1,0.9\n";
        String second = first.replace("2026-11-20", "2026-11-21").replace("0.1,", "0.2,");
        assertThat(outcome("e.csv", first)).isEqualTo("ACCEPTED");
        assertThat(outcome("e.csv", first)).isEqualTo("DUPLICATE");
        assertThat(outcome("e.csv", second)).isEqualTo("ACCEPTED");
        assertThat(outcome("e.csv", first)).isEqualTo("STALE");
        String open =
                "{\"format\":\"known-issues-1\",\"source\":\"V\",\"issues\":[{\"id\":\"V-1\",\"updates\":[\"EV-9\"],\"text\":\"t\",\"state\":\"open\",\"at\":\"2026-11-20T00:00:00Z\"}]}";
        assertThat(outcome("i.json", open)).isEqualTo("ACCEPTED");
        assertThat(outcome("i.json", open)).isEqualTo("DUPLICATE");
        assertThat(outcome("i.json", open.replace("open", "fixed"))).isEqualTo("ACCEPTED");
        assertThat(outcome("i.json", open)).as("told anew").isEqualTo("ACCEPTED");
        assertThat(outcome("i.json", open.replace("open", "shut"))).isEqualTo("REJECTED");
        // Only the newest table of probabilities is kept whole.
        JsonNode documents = analyst.get("/api/documents").json().path("documents");
        assertThat(StreamSupport.stream(documents.spliterator(), false)
                        .filter(d -> d.path("format").asString("").equals("EXPLOIT_SCORES")
                                && d.path("outcome").asString().equals("ACCEPTED")
                                && d.path("kept").booleanValue()))
                .hasSize(1);
    }

    @Test
    void whatWasToldByMistakeIsTakenBack() {
        String report = analyst.post(
                        "/api/failure-reports",
                        Map.of("update", "EV-3", "hosts", "ev-7 ev-8", "words", "slow", "code", "slow"))
                .json()
                .path("id")
                .asString();
        String issue = analyst.post(
                        "/api/known-issues",
                        Map.of("updates", List.of("EV-3"), "fixedBy", List.of(), "words", "slow", "state", "OPEN"))
                .json()
                .path("id")
                .asString();
        assertThat(evidence("EV-3").path("tries").path("failed").path("count").intValue())
                .isEqualTo(2);
        assertThat(analyst.delete("/api/failure-reports?id=" + report.replace(" ", "%20"))
                        .status())
                .isEqualTo(204);
        assertThat(analyst.delete("/api/failure-reports?id=" + report.replace(" ", "%20"))
                        .status())
                .isEqualTo(404);
        assertThat(analyst.delete("/api/known-issues?id=" + issue).status()).isEqualTo(204);
        assertThat(evidence("EV-3").path("tries").path("failed").path("count").intValue())
                .isZero();
        assertThat(evidence("EV-3").path("issues")).isEmpty();
        assertThat(analyst.get("/api/record?subject=EV-3").text()).contains("Failure reports taken: EV-3, taken back.");
        assertThat(SERVER.rebuilt().evidence().reports()).doesNotContainKey(report);
        assertThat(SERVER.rebuilt().evidence().issues()).doesNotContainKey(issue);
    }

    @Test
    void aListThatLostMoreThanHalfIsTakenOnlyWhenItIsTriedAgain() {
        String whole = "{\"catalogVersion\":\"1\",\"vulnerabilities\":[%s]}";
        String entries = IntStream.range(0, 5)
                .mapToObj(i -> "{\"cveID\":\"CVE-2026-90000" + (60 + i) + "\",\"dateAdded\":\"2026-11-20\"}")
                .collect(Collectors.joining(","));
        assertThat(outcome("whole.json", whole.formatted(entries))).isEqualTo("ACCEPTED");
        JsonNode cut = analyst.documents(Map.of("cut.json", whole.formatted("")))
                .json()
                .path(0);
        assertThat(cut.path("outcome").asString()).isEqualTo("REJECTED");
        assertThat(cut.path("problems").path(0).path("reason").asString())
                .startsWith("it lists 0, the one before 5: it may have been cut off");
        assertThat(SERVER.snapshot().evidence().exploited()).hasSize(5);
        assertThat(analyst.post("/api/documents/" + cut.path("number").longValue() + "/retries", Map.of())
                        .json()
                        .path("outcome")
                        .asString())
                .isEqualTo("ACCEPTED");
        assertThat(SERVER.snapshot().evidence().exploited()).isEmpty();
    }

    @Test
    void whatSpeaksOfUpdatesAndHostsThatNobodyKnowsIsTakenWithARemark() {
        JsonNode taken = analyst.documents(
                        Map.of(
                                "r.json",
                                "{\"format\":\"failure-reports-1\",\"source\":\"P\",\"reports\":[{\"id\":\"1\",\"update\":\"EV-99\",\"hosts\":[\"nobody-1\",\"ev-3\"]}]}"))
                .json()
                .path(0);
        assertThat(taken.path("outcome").asString()).isEqualTo("ACCEPTED");
        assertThat(taken.path("problems").findValuesAsString("place")).containsExactly("EV-99", "nobody-1");
    }

    @Test
    void weightsArePreviewedSavedAndRefusedOutOfRange() {
        LucidServer.Answer page = analyst.get("/api/weights");
        Map<String, Object> weights =
                new JsonMapper().convertValue(page.json().path("weights"), new TypeReference<>() {});
        weights.put("namedIssue", 0.9);
        JsonNode preview = analyst.post("/api/weights/preview", weights).json();
        assertThat(preview.path("differences").toString()).isEqualTo("[\"named issue from 0.5 to 0.9\"]");
        assertThat(analyst.get("/api/weights")
                        .json()
                        .path("weights")
                        .path("namedIssue")
                        .doubleValue())
                .as("nothing is saved yet")
                .isEqualTo(0.5);
        assertThat(analyst.put("/api/weights", "\"other\"", weights).status()).isEqualTo(412);
        assertThat(analyst.put("/api/weights", page.json().path("version").asString(), weights)
                        .status())
                .isEqualTo(200);
        assertThat(analyst.get("/api/weights")
                        .json()
                        .path("weights")
                        .path("namedIssue")
                        .doubleValue())
                .isEqualTo(0.9);
        assertThat(analyst.get("/api/record").text()).contains("Weights: named issue from 0.5 to 0.9.");
        weights.remove("bases");
        assertThat(analyst.post("/api/weights/preview", weights).text())
                .contains("bases low: expected a number")
                .contains("\"field\":\"bases low\"");
        weights.put("tiers", List.of("x"));
        assertThat(analyst.post("/api/weights/preview", weights).text())
                .contains("a number is expected")
                .contains("\"field\":\"tiers.0\"");
        weights = new JsonMapper().convertValue(page.json().path("weights"), new TypeReference<>() {});
        weights.put("namedIssue", 1.5);
        LucidServer.Answer refused = analyst.post("/api/weights/preview", weights);
        assertThat(refused.status()).isEqualTo(422);
        assertThat(refused.text()).contains("namedIssue").contains("1.5");
    }

    @Test
    void savedWeightsAreTakenBackUnlessSomebodyChangedThemSince() {
        JsonNode page = analyst.get("/api/weights").json();
        Map<String, Object> weights = new JsonMapper().convertValue(page.path("weights"), new TypeReference<>() {});
        weights.put("vagueIssue", 0.31);
        String undo = analyst.put("/api/weights", page.path("version").asString(), weights)
                .json()
                .path("undo")
                .asString();
        assertThat(analyst.get("/api/weights")
                        .json()
                        .path("weights")
                        .path("vagueIssue")
                        .doubleValue())
                .isEqualTo(0.31);
        assertThat(analyst.delete(undo).status()).isEqualTo(204);
        assertThat(analyst.get("/api/weights").json().path("version")).isEqualTo(page.path("version"));
        assertThat(SERVER.rebuilt().weights()).isEqualTo(SERVER.snapshot().weights());
        assertThat(analyst.get("/api/record").text()).contains("Took back the weights: vague issue from 0.31 to");
        assertThat(analyst.delete(undo).text()).contains("the weights were changed since; nothing was taken back");
    }

    /** A version that knows more weights starts on what an older one kept. */
    @Test
    void storedWeightsWithoutAFieldTakeItsDefault() {
        storeWeights("{\"namedIssue\":0.6,\"openness\":{\"PUBLIC\":0.9},\"gone\":1}");
        Weights read = SERVER.rebuilt().weights();
        assertThat(read.namedIssue()).isEqualTo(0.6);
        assertThat(read.openness().get(Weights.Facing.PUBLIC)).isEqualTo(0.9);
        assertThat(read.vagueIssue()).isEqualTo(Weights.USUAL.vagueIssue());
        assertThat(read.openness().get(Weights.Facing.INTERNAL))
                .isEqualTo(Weights.USUAL.openness().get(Weights.Facing.INTERNAL));
        storeWeights(new JsonMapper().writeValueAsString(SERVER.snapshot().weights()));
    }

    private static void storeWeights(String content) {
        SERVER.bean(JdbcTemplate.class)
                .update(
                        "insert into weights (content, author, created_at) values (?, 'older', current_timestamp)",
                        content);
    }

    @Test
    void knownIssuesThatAreReportedAtTheSameMomentAreAllKept() throws Exception {
        int before = SERVER.snapshot().evidence().issues().size();
        List<LucidServer.Client> people =
                IntStream.range(0, 8).mapToObj(i -> SERVER.analyst()).toList();
        ExecutorService crowd = Executors.newFixedThreadPool(people.size());
        List<Callable<String>> reports = new ArrayList<>();
        people.forEach(person -> reports.add(() -> person.post(
                        "/api/known-issues",
                        Map.of("updates", List.of("EV-2"), "words", "seen by " + reports.size(), "state", "OPEN"))
                .json()
                .path("id")
                .asString()));
        Set<String> ids = new HashSet<>();
        for (Future<String> id : crowd.invokeAll(reports)) {
            ids.add(id.get());
        }
        crowd.shutdown();
        assertThat(ids).hasSize(people.size());
        assertThat(SERVER.snapshot().evidence().issues()).hasSize(before + people.size());
    }

    @Test
    void theDocketIsPagedAndTellsWhenOneLookedBefore() {
        JsonNode open = analyst.get("/api/docket?show=OPEN").json();
        assertThat(open.path("counts").path("open").intValue()).isGreaterThanOrEqualTo(1);
        assertThat(open.path("cases").path(0).path("beam").has("tilt")).isTrue();
        assertThat(analyst.get("/api/docket?show=OPEN&after=EV-77").status()).isEqualTo(422);
        assertThat(open.has("lastLooked")).as("the first visit").isFalse();
    }

    @Test
    void allOfItIsThereAfterAStart() {
        analyst.documents(
                Map.of(
                        "k.json",
                        "{\"catalogVersion\":\"1\",\"vulnerabilities\":[{\"cveID\":\"CVE-2026-9000055\",\"dateAdded\":\"2026-11-20\"}]}"));
        analyst.documents(
                Map.of(
                        "x.json",
                        "{\"@context\":\"https://openvex.dev/ns\",\"statements\":[{\"vulnerability\":\"CVE-2026-9000055\",\"products\":[\"pkg:generic/desk\"],\"status\":\"not_affected\"}]}"));
        analyst.post("/api/failure-reports", Map.of("update", "EV-2", "others", 3, "source", "Piers"));
        assertThat(SERVER.rebuilt().evidence())
                .usingRecursiveComparison()
                .isEqualTo(SERVER.snapshot().evidence());
        assertThat(SERVER.rebuilt().weights()).isEqualTo(SERVER.snapshot().weights());
    }
}
