package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lucid.server.LucidServer.Answer;
import lucid.server.LucidServer.Client;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What operators are to install by hand, and what they say of it. */
class OperatorsTest extends JudgingFixture {

    private static final JsonMapper JSON = new JsonMapper();

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    OperatorsTest() {
        super(SERVER);
    }

    @BeforeAll
    static void operators() {
        for (String own : List.of("kiosks", "desktops")) {
            String login = "o." + own;
            SERVER.administrator()
                    .post(
                            "/api/accounts",
                            Map.of(
                                    "name",
                                    login,
                                    "displayName",
                                    "O. " + own,
                                    "role",
                                    "OPERATOR",
                                    "populations",
                                    List.of(own),
                                    "password",
                                    "skerry-line"));
            Client operator = SERVER.person(login);
            operator.get("/api/sessions/current");
            operator.put(
                    "/api/sessions/current/password", null, Map.of("old", "skerry-line", "chosen", "chosen-by-myself"));
        }
    }

    private static Client operator(String own) {
        return SERVER.nobody().signedIn("o." + own, "chosen-by-myself");
    }

    private static Instant now() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private void forceByOperator() {
        Map<String, Object> draft = draft("FORCE", 5, "kiosks");
        draft.put("byOperator", Map.of("checklist", List.of("close the till"), "order", List.of("ksk-2")));
        Answer made = SERVER.analyst().post("/api/verdicts", draft);
        assertThat(made.status()).as(made.text()).isEqualTo(201);
    }

    private JsonNode work(Client who) {
        return who.get("/api/operator-work?update=" + update).json().path(0);
    }

    private Map<String, Object> entry(List<String> hosts) {
        Map<String, Object> entry = new HashMap<>();
        entry.put("update", update);
        entry.put("revision", "1");
        entry.put("hosts", hosts);
        entry.put("words", "");
        return entry;
    }

    private Map<String, Object> slot(Instant from, Duration length, String... hosts) {
        Map<String, Object> entry = entry(List.of(hosts));
        entry.put(
                "slot",
                Map.of("from", from.toString(), "until", from.plus(length).toString()));
        return entry;
    }

    private static List<String> standings(JsonNode work) {
        return work.path("hosts")
                .valueStream()
                .map(one ->
                        one.path("host").asString() + " " + one.path("standing").asString())
                .toList();
    }

    private static String address(Client operator) {
        return operator.post("/api/addresses/SLOTS", Map.of())
                .json()
                .path("path")
                .asString();
    }

    private JsonNode order(String host) {
        String orders = SERVER.machine().get("/api/orders/" + host).text();
        return JSON.readTree(Base64.getUrlDecoder().decode(orders.split("\\.")[1]))
                .path("orders")
                .valueStream()
                .filter(one -> one.path("update").asString().equals(update))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void anOperatorSeesWhatToDoAgreesASlotSaysThatItIsDoneAndTakesItBack() {
        forceByOperator();
        Client operator = operator("kiosks");
        JsonNode work = work(operator);
        assertThat(work.at("/told/checklist/0").asString()).isEqualTo("close the till");
        assertThat(work.path("author").asString()).isEqualTo("M. Aldane");
        assertThat(standings(work)).first().isEqualTo("ksk-2 NO_SLOT");
        assertThat(standings(work)).contains("ksk-1 NO_SLOT");
        assertThat(standings(work(operator("desktops"))))
                .as("of others nothing is seen")
                .isEmpty();
        assertThat(order("ksk-1").path("slot").isMissingNode()).isTrue();

        Instant from = now().plus(Duration.ofDays(2)).truncatedTo(ChronoUnit.SECONDS);
        Answer agreed = operator.post("/api/operator-work/entries", slot(from, Duration.ofHours(3), "ksk-1"));
        assertThat(agreed.status()).as(agreed.text()).isEqualTo(201);
        assertThat(standings(work(SERVER.reader()))).contains("ksk-1 AGREED", "ksk-2 NO_SLOT");
        assertThat(order("ksk-1").at("/slot/from").asString())
                .as("its orders say so at once")
                .isEqualTo(from.toString());
        assertThat(SERVER.reader().get("/api/calendar").text())
                .contains(update + " by operator on 1 host of ")
                .contains("UID:slot-");
        assertThat(digest(operator)).contains("For you to install").contains("1 agreed, the first for ");
        String own = address(operator);
        assertThat(SERVER.nobody().get(own).text().replace("\r\n ", ""))
                .contains("UID:slot-", update + " by operator on 1 host of ")
                .contains(update + " asked for on ", "no slot ahead", "ksk-2");
        assertThat(SERVER.nobody().get(address(operator("desktops"))).text())
                .as("of others nothing is told")
                .doesNotContain(update);
        String key = own.substring(own.indexOf('?'));
        assertThat(SERVER.nobody().get("/api/calendar" + key).status())
                .as("it opens nothing else")
                .isEqualTo(403);
        assertThat(SERVER.nobody().get("/api/operator-work" + key).status()).isEqualTo(403);
        assertThat(SERVER.reader().post("/api/addresses/SLOTS", Map.of()).status())
                .as("others have a calendar of everything")
                .isEqualTo(403);

        SERVER.restart();
        Client again = operator("kiosks");
        assertThat(standings(work(again))).contains("ksk-1 AGREED");
        Answer done = again.post("/api/operator-work/entries", entry(List.of("ksk-1")));
        assertThat(standings(work(again))).contains("ksk-1 SAID_DONE");
        assertThat(SERVER.reader().get("/api/record?text=by%20hand").text())
                .contains("Agreed to install it by hand on ksk-1, ")
                .contains("Said that it was installed by hand on ksk-1.");
        SERVER.machine().report(Examples.host("ksk-1", "kiosk", "1.0", now()).getBytes());
        assertThat(standings(work(again))).contains("ksk-1 STILL_LACKS");
        assertThat(again.get("/api/operator-work/calendar").text().replace("\r\n ", ""))
                .as("what was said to be done and is not is still asked for")
                .containsPattern("DESCRIPTION:[^\r]*ksk-1");
        assertThat(digest(SERVER.analyst()))
                .contains("By operator, and not as asked or said")
                .contains("1 lacks it though it was said to be done");
        String undo = done.json().path("undo").asString();
        assertThat(operator("desktops").delete(undo).status())
                .as("nothing of others is taken back")
                .isEqualTo(404);
        assertThat(again.delete(undo).status()).isEqualTo(204);
        assertThat(standings(work(again))).contains("ksk-1 AGREED");
        assertThat(again.delete(undo).status()).isEqualTo(404);
    }

    private static String digest(Client who) {
        return who.get("/api/digest?hours=48").text();
    }

    @Test
    void whatCannotBeSaidIsRefusedInWords() {
        forceByOperator();
        Client operator = operator("kiosks");
        Instant now = now();
        assertThat(refusal(operator, entry(List.of()))).contains("name 1 to 2,000 hosts");
        assertThat(refusal(operator, entry(List.of("ksk-1", "off-1", "nobody-1"))))
                .contains("nobody is to install " + update + " by hand on off-1, nobody-1 now");
        assertThat(refusal(operator, slot(now.minus(Duration.ofDays(1)), Duration.ofHours(3), "ksk-1")))
                .contains("this slot is over already");
        assertThat(refusal(operator, slot(now, Duration.ZERO, "ksk-1"))).contains("a slot ends after it begins");
        assertThat(refusal(operator, slot(now, Duration.ofDays(8), "ksk-1"))).contains("a slot lasts at most a week");
        assertThat(refusal(operator, slot(now.plus(Duration.ofDays(400)), Duration.ofHours(1), "ksk-1")))
                .contains("a slot begins within a year");
        Map<String, Object> half = entry(List.of("ksk-1"));
        half.put("slot", Map.of("from", now.toString()));
        assertThat(refusal(operator, half)).contains("say when the slot ends");
        Map<String, Object> older = entry(List.of("ksk-1"));
        older.put("revision", "0");
        assertThat(refusal(operator, older)).contains("has come in revision 1 since; read it again");
        assertThat(standings(work(operator))).contains("ksk-1 NO_SLOT");
    }

    private static String refusal(Client who, Map<String, Object> entry) {
        Answer answer = who.post("/api/operator-work/entries", entry);
        assertThat(answer.status()).isIn(409, 422);
        return answer.json().path("detail").asString();
    }

    @Test
    void whatIsAskedForAndNotDoneInTimeIsTold() {
        forceByOperator();
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * 7));
        assertThat(work(SERVER.analyst()).at("/hosts/0/late").asBoolean()).isTrue();
        assertThat(digest(SERVER.analyst())).contains("past the day until which it is asked for");
        // The clock begins anew: what others decide is not later than what they ask.
        SERVER.restart();
    }
}
