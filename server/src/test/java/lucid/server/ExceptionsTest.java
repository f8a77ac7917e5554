package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.time.Duration;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** Exceptions from their first day to after their end. */
class ExceptionsTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    ExceptionsTest() {
        super(SERVER);
    }

    private static LocalDate in(int days) {
        return LocalDate.now(ZoneOffset.UTC).plusDays(days);
    }

    private Map<String, Object> draft(String hosts, int days) {
        return new HashMap<>(Map.of(
                "update",
                update,
                "scope",
                "UPDATE",
                "hosts",
                hosts,
                "until",
                in(days).toString(),
                "reason",
                "certified for the old one",
                "owner",
                "T. Brevik",
                "measure",
                "kept off the network"));
    }

    private long make(Map<String, Object> draft) {
        LucidServer.Answer made = SERVER.analyst().post("/api/exceptions", draft, "If-Match", "*");
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        return made.json().path("number").asLong();
    }

    private static JsonNode page(String query) {
        return SERVER.reader().get("/api/exceptions?" + query).json();
    }

    private JsonNode row() {
        return page("show=ALL&text=" + update).path("rows").get(0);
    }

    private static LucidServer.Answer renew(List<Long> numbers, int days, String reason) {
        return SERVER.analyst()
                .post(
                        "/api/exceptions/renewals",
                        Map.of("exceptions", numbers, "until", in(days).toString(), "reason", reason));
    }

    @Test
    void tellFromTheFirstDayWhatTheyCostAndWhatTheirEndBrings() {
        make(draft("name in (ksk-1, off-1)", 30));
        JsonNode row = row();
        assertThat(row.path("state").asString()).isEqualTo("ACTIVE");
        assertThat(row.path("named").path("count").asInt()).isEqualTo(2);
        assertThat(row.path("hosts").path("count").asInt()).isEqualTo(2);
        assertThat(row.path("hostDaysToCome").asDouble()).isBetween(58.0, 62.0);
        assertThat(row.path("updates")
                        .get(0)
                        .path("after")
                        .valueStream()
                        .map(group -> group.path("match").path("effect").asString() + " "
                                + group.path("hosts").path("count").asInt()))
                .containsExactlyInAnyOrder("OFFERED 1", "WITHHELD 1");
        assertThat(page("show=ENDING&text=" + update).path("rows").size()).isZero();
        assertThat(SERVER.reader()
                        .get("/api/exceptions/exceptions.csv?text=" + update)
                        .text()
                        .lines())
                .hasSize(2)
                .last()
                .asString()
                .contains("T. Brevik", "kept off the network");
    }

    @Test
    void severalAreRenewedWithOneReasonAllOrNone() {
        long first = make(draft("name = ksk-1", 5));
        long second = make(draft("name = ksk-2", 5));
        assertThat(renew(List.of(first, second), 40, "").text()).contains("say why they go on");
        assertThat(renew(List.of(first, second), 5, "again").text()).contains("a renewal ends later");
        assertThat(renew(List.of(first, 999_999L), 40, "again").status()).isEqualTo(404);
        assertThat(page("show=ALL&text=" + update).path("rows").valueStream().map(one -> one.path("renewals")
                        .asInt()))
                .containsExactly(0, 0);
        LucidServer.Answer renewed = renew(List.of(first, second), 40, "the printer is still not certified");
        assertThat(renewed.status()).isEqualTo(201);
        JsonNode history = row().path("history");
        assertThat(page("show=ALL&text=" + update)
                        .path("rows")
                        .valueStream()
                        .map(one -> one.path("state").asString() + " "
                                + one.path("renewals").asInt() + " "
                                + one.path("history").size() + " "
                                + one.path("reason").asString()))
                .containsExactly(
                        "ACTIVE 1 2 the printer is still not certified",
                        "ACTIVE 1 2 the printer is still not certified");
        assertThat(renew(List.of(first), 50, "once more").status())
                .as("it was renewed by another number")
                .isEqualTo(409);
        assertThat(SERVER.reader().get("/api/record?update=" + update).text())
                .contains("Renewed the exception on " + update + " where name = ksk-1, the first time");
        SERVER.restart();
        assertThat(row().path("history")).isEqualTo(history);
        assertThat(SERVER.analyst()
                        .delete(renewed.json().path("undo").asString())
                        .status())
                .isEqualTo(204);
        assertThat(row().path("renewals").asInt()).isZero();
        assertThat(row().path("state").asString()).isEqualTo("ENDING");
        assertThat(row().path("reason").asString()).isEqualTo("certified for the old one");
        assertThat(row().path("history").valueStream().map(one -> one.path("takenBack")
                        .asBoolean()))
                .containsExactly(false, true, false);
        assertThat(SERVER.analyst()
                        .delete(renewed.json().path("undo").asString())
                        .status())
                .isEqualTo(409);
    }

    @Test
    void oneEndsEarlyWhenASuccessorIsReleasedAndSomebodyHearsOfIt() {
        Map<String, Object> draft = draft("name = ksk-1", 60);
        draft.put("endsWhen", "SUCCESSOR");
        make(draft);
        assertThat(row().path("state").asString()).isEqualTo("ACTIVE");
        String successor = update + "-NEXT";
        assertThat(SERVER.machine()
                        .documents(Map.of(
                                "s.json",
                                Examples.notice(successor, "1", "3.0")
                                        .replace("\"kind\"", "\"supersedes\": [\"" + update + "\"], \"kind\"")))
                        .json()
                        .get(0)
                        .path("outcome")
                        .asString())
                .isEqualTo("ACCEPTED");
        await().atMost(Duration.ofMinutes(2))
                .until(() -> row().path("state").asString().equals("LAPSED"));
        assertThat(SERVER.reader().get("/api/record?update=" + update).text())
                .contains("ended before its day: a successor is released; owner T. Brevik");
        assertThat(SERVER.reader()
                        .get("/api/cases/" + update)
                        .json()
                        .path("cues")
                        .valueStream()
                        .map(cue -> cue.path("type").asString()))
                .contains("EXCEPTION_ENDED");
        Map<String, Object> tooLate = draft("name = ksk-2", 60);
        tooLate.put("endsWhen", "SUCCESSOR");
        assertThat(SERVER.analyst()
                        .post("/api/exceptions", tooLate, "If-Match", "*")
                        .text())
                .contains(successor + " supersedes it already");
        Map<String, Object> noIssue = draft("name = ksk-2", 60);
        noIssue.put("endsWhen", "ISSUE_FIXED");
        noIssue.put("endsIssue", "KI-77");
        assertThat(SERVER.analyst()
                        .post("/api/exceptions", noIssue, "If-Match", "*")
                        .text())
                .contains("choose a known issue of " + update);
    }

    @Test
    void anOwnerWhoHasLeftIsNamed() {
        SERVER.administrator()
                .post(
                        "/api/accounts",
                        Map.of(
                                "name",
                                "r.kell",
                                "displayName",
                                "R. Kell",
                                "role",
                                "READER",
                                "populations",
                                List.of(),
                                "password",
                                "only-for-once"));
        Map<String, Object> draft = draft("name = ksk-1", 60);
        draft.put("owner", "R. Kell");
        make(draft);
        assertThat(row().path("ownerLeft").asBoolean()).isFalse();
        int asking = SERVER.reader()
                .get("/api/exceptions/summary")
                .json()
                .path("asking")
                .asInt();
        assertThat(SERVER.administrator().delete("/api/accounts/r.kell").status())
                .isEqualTo(204);
        assertThat(row().path("ownerLeft").asBoolean()).isTrue();
        assertThat(SERVER.reader()
                        .get("/api/exceptions/summary")
                        .json()
                        .path("asking")
                        .asInt())
                .isEqualTo(asking + 1);
        assertThat(page("owner=R.+Kell").path("matching").asInt()).isEqualTo(1);
    }

    @Test
    void aListOfHostsPastedFromElsewhereMakesOneAndUnknownNamesAreTold() {
        JsonNode named = SERVER.analyst()
                .post("/api/host-names", Map.of("text", "KSK-1; ksk-2.skerry.example\n'odd-1', ksk-99 ksk-1"))
                .json();
        assertThat(named.path("known").valueStream().map(JsonNode::asString))
                .containsExactly("ksk-1", "ksk-2", "odd-1");
        assertThat(named.path("unknown").valueStream().map(JsonNode::asString)).containsExactly("ksk-99");
        make(draft(named.path("where").asString(), 30));
        assertThat(row().path("named").path("count").asInt()).isEqualTo(3);
        JsonNode nobody = SERVER.analyst()
                .post("/api/host-names", Map.of("text", "nobody"))
                .json();
        assertThat(nobody.path("where").asString()).isEmpty();
        JsonNode ofOperator = SERVER.person("b.tove")
                .post("/api/host-names", Map.of("text", "ksk-1"))
                .json();
        assertThat(ofOperator.path("known").size())
                .as("an operator knows the hosts of its own populations")
                .isZero();
    }
}
