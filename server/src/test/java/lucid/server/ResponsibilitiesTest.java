package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** What people answer for: handed over when they leave, and objected for while they are there. */
class ResponsibilitiesTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    ResponsibilitiesTest() {
        super(SERVER);
    }

    private long except(String hosts, String owner) {
        LucidServer.Answer made = SERVER.analyst()
                .post(
                        "/api/exceptions",
                        Map.of(
                                "update",
                                update,
                                "scope",
                                "UPDATE",
                                "hosts",
                                hosts,
                                "until",
                                inDays(30).toString(),
                                "reason",
                                "certified for the old one",
                                "owner",
                                owner));
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        return made.json().path("number").asLong();
    }

    private JsonNode exceptions() {
        return SERVER.reader()
                .get("/api/exceptions?show=ALL&text=" + update)
                .json()
                .path("rows");
    }

    private static JsonNode heldBy(String person) {
        return SERVER.reader()
                .get("/api/responsibilities?person=" + person.replace(" ", "+"))
                .json()
                .path("held");
    }

    private static LucidServer.Answer handOver(LucidServer.Client who, String from, String to) {
        return who.post("/api/responsibilities/hand-overs", Map.of("from", from, "to", to));
    }

    @Test
    void allThatSomebodyAnswersForGoesToSomebodyElse() {
        long number = except("name = ksk-1", "R. Kell");
        assertThat(SERVER.administrator()
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
                                        "only-for-once"))
                        .status())
                .isEqualTo(201);
        SERVER.analyst()
                .post("/api/case-notes", Map.of("update", update, "words", "ask the vendor", "assignee", "R. Kell"));
        SERVER.administrator().delete("/api/accounts/r.kell");
        assertThat(heldBy("r. kell").valueStream().map(one -> one.path("words").asString()))
                .containsExactlyInAnyOrder(
                        "The case of " + update + ": ask the vendor",
                        heldBy("R. Kell")
                                .valueStream()
                                .map(one -> one.path("words").asString())
                                .filter(words -> words.startsWith("Exception no. " + number + " on " + update))
                                .findFirst()
                                .orElseThrow());
        assertThat(SERVER.analyst().get("/api/digest").text())
                .contains("R. Kell has left, and owned exception no. " + number + " on " + update)
                .contains("R. Kell has left, and saw to " + update + ": ask the vendor");
        assertThat(handOver(SERVER.analyst(), "R. Kell", "Nobody").text()).contains("choose from the list");
        assertThat(handOver(SERVER.analyst(), "J. Fenn", "M. Aldane").text())
                .contains("J. Fenn answers for no exception and sees to no case");
        LucidServer.Answer handed = handOver(SERVER.analyst(), "R. Kell", "j. fenn");
        assertThat(handed.status()).as(handed.text()).isEqualTo(201);
        assertThat(handed.json().path("handedOver").asInt()).isEqualTo(2);
        assertThat(heldBy("R. Kell")).isEmpty();
        assertThat(SERVER.analyst().get("/api/digest").text()).doesNotContain("To be handed over");
        assertThat(heldBy("J. Fenn")).hasSize(2);
        assertThat(exceptions().get(0).path("owner").asString()).isEqualTo("J. Fenn");
        assertThat(exceptions().get(0).path("renewals").asInt())
                .as("it is no renewal")
                .isZero();
        assertThat(record())
                .contains("Handed the exception on " + update + " where name = ksk-1 over from R. Kell to J. Fenn.")
                .contains("Handed the case of " + update + " over from R. Kell to J. Fenn: ask the vendor");
        SERVER.restart();
        assertThat(heldBy("J. Fenn")).hasSize(2);
        assertThat(SERVER.analyst()
                        .delete(handed.json().path("undo").asString())
                        .status())
                .isEqualTo(204);
        assertThat(heldBy("R. Kell")).hasSize(2);
        assertThat(exceptions()
                        .get(0)
                        .path("history")
                        .valueStream()
                        .map(one -> one.path("owner").asString() + " "
                                + one.path("takenBack").asBoolean()))
                .containsExactly("R. Kell false", "J. Fenn true", "R. Kell false");
        assertThat(record()).contains("was handed over: its owner is R. Kell again.", "R. Kell sees to it again.");
        assertThat(SERVER.analyst()
                        .delete(handed.json().path("undo").asString())
                        .status())
                .isEqualTo(409);
        LucidServer.Answer byAdministrator = handOver(SERVER.administrator(), "R. Kell", "J. Fenn");
        assertThat(byAdministrator.json().path("handedOver").asInt()).isEqualTo(2);
        assertThat(byAdministrator.json().has("undo"))
                .as("an administrator takes no decision back")
                .isFalse();
    }

    private static LucidServer.Answer object(LucidServer.Client who, long force, long exception, String words) {
        return who.post("/api/objections", Map.of("force", force, "exception", exception, "words", words));
    }

    private List<String> objections() {
        return cues().stream().filter("OBJECTED"::equals).toList();
    }

    @Test
    void whoAnswersForAnExceptionObjectsToWhatGoesOverIt() {
        long exception = except("name = odd-1", "S. Orrin");
        Map<String, Object> draft = draft("FORCE", 3, "none");
        draft.put("overriddenExceptions", List.of(exception));
        assertThat(SERVER.analyst().post("/api/proposals", draft).status()).isEqualTo(201);
        long proposal = SERVER.reader()
                .get("/api/proposals")
                .json()
                .valueStream()
                .filter(one -> one.path("update").asString().equals(update))
                .findFirst()
                .orElseThrow()
                .path("number")
                .asLong();
        long force = SERVER.approver()
                .post("/api/proposals/" + proposal + "/approvals", Map.of())
                .json()
                .path("verdicts")
                .get(0)
                .path("number")
                .asLong();
        String told = "/api/objections?force=" + force + "&exception=" + exception;
        LucidServer.Client owner = SERVER.person("s.orrin");
        assertThat(owner.get("/api/digest").text())
                .contains("goes over your exception no. " + exception, "you may object.")
                .contains("/objection?force=" + force + "&exception=" + exception);
        JsonNode seen = owner.get(told).json();
        assertThat(seen.path("mayObject").asBoolean()).isTrue();
        assertThat(seen.path("opensCase").asBoolean()).isFalse();
        assertThat(seen.path("hosts").path("names").toString()).isEqualTo("[\"odd-1\"]");
        assertThat(SERVER.person("b.tove").get(told).status()).as("not theirs").isEqualTo(404);
        assertThat(SERVER.reader().get(told).json().path("mayObject").asBoolean())
                .isFalse();
        assertThat(object(SERVER.person("j.fenn"), force, exception, "no").status())
                .isEqualTo(403);
        assertThat(object(owner, force, 4711, "no").status()).isEqualTo(404);
        assertThat(object(owner, force, exception, " ").text()).contains("say what is against it");
        assertThat(objections()).isEmpty();

        LucidServer.Answer objected = object(owner, force, exception, "the certificate is lost with it");
        assertThat(objected.status()).as(objected.text()).isEqualTo(201);
        assertThat(objections()).hasSize(1);
        assertThat(holds("odd-1")).as("it holds nothing back").isEqualTo("OFFERED by OVERRIDING_FORCE");
        assertThat(SERVER.analyst().get("/api/digest").text())
                .contains("S. Orrin objects to your force no. " + force + " on " + update
                        + ": the certificate is lost with it");
        assertThat(record())
                .contains("S. Orrin (s.orrin): Objected to force no. " + force + " on " + update
                        + ", which goes over exception no. " + exception + ": the certificate is lost with it");
        SERVER.restart();
        assertThat(objections()).hasSize(1);
        assertThat(SERVER.person("s.orrin")
                        .get(told)
                        .json()
                        .path("objections")
                        .get(0)
                        .path("yours")
                        .asBoolean())
                .isTrue();
        assertThat(SERVER.person("j.fenn")
                        .delete(objected.json().path("undo").asString())
                        .status())
                .isEqualTo(404);
        assertThat(SERVER.person("s.orrin")
                        .delete(objected.json().path("undo").asString())
                        .status())
                .isEqualTo(204);
        assertThat(objections()).isEmpty();
        object(SERVER.analyst(), force, exception, "they called");
        assertThat(record()).contains("Objected in the name of S. Orrin to force no. " + force);
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * 5));
        assertThat(object(SERVER.person("s.orrin"), force, exception, "too late")
                        .text())
                .contains("it is due already: speak to M. Aldane");
    }
}
