package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import lucid.server.LucidServer.Client;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What is known of a block on its hosts, as they ask and answer, honest or not. */
class HeardTest {

    private static final JsonMapper JSON = new JsonMapper();

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    @BeforeAll
    static void fourKiosksAndABlock() {
        SERVER.populations(Examples.POPULATIONS);
        SERVER.machine().documents(Map.of("a.json", Examples.notice("DSK-1", "1", "1.5")));
        SERVER.machine()
                .report(Examples.hosts(Map.of(
                                "ksk-1",
                                "kiosk 1.0",
                                "ksk-2",
                                "kiosk 1.0",
                                "ksk-3",
                                "kiosk 1.0",
                                "ksk-4",
                                "kiosk 1.0",
                                "ksk-5",
                                "kiosk 1.5"))
                        .getBytes());
        keep("ksk-1");
        keep("ksk-2");
        SERVER.analyst()
                .post(
                        "/api/verdicts",
                        Examples.verdict(
                                "DSK-1",
                                "BLOCK",
                                "kiosks",
                                LocalDate.ofInstant(clock(), ZoneOffset.UTC).plusDays(20),
                                "UNTESTED"));
    }

    private static Instant clock() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private static LucidServer.Answer asks(String host) {
        return SERVER.machine().get("/api/orders/" + host);
    }

    private static Map<String, Object> receipt(LucidServer.Answer told, String state, List<String> problems) {
        return receipt(told, state, List.of(), problems);
    }

    private static Map<String, Object> receipt(
            LucidServer.Answer told, String state, List<String> notInForce, List<String> problems) {
        JsonNode content = content(told);
        return Map.of(
                "serial",
                content.path("serial").asLong(),
                "tag",
                told.headers().firstValue("ETag").orElseThrow().replace("\"", ""),
                "state",
                state,
                "installs",
                false,
                "reporter",
                "test",
                "notInForce",
                notInForce,
                "problems",
                problems);
    }

    private static LucidServer.Answer says(Client who, String host, Map<String, Object> receipt) {
        return who.postList("/api/order-receipts", List.of(Map.of("host", host, "receipt", receipt)));
    }

    private static void keep(String host) {
        assertThat(says(SERVER.machine(), host, receipt(asks(host), "IN_FORCE", List.of()))
                        .status())
                .isEqualTo(204);
    }

    /** Hosts of the block by how far it has come there. */
    @Test
    void whoIsAskedToReportHearsItAtOnceAndNoMoreOnceItHasAlsoWithAClockThatIsBehind() throws Exception {
        Client host = SERVER.machine();
        Instant itsNow = Instant.now().minus(Duration.ofMinutes(30));
        SERVER.machine()
                .report(Examples.host("ask-1", "desktop", "1.5", itsNow.minusSeconds(60))
                        .getBytes());
        LucidServer.Answer told = asks("ask-1");
        assertThat(told.text()).isNotEmpty();
        String tag = told.headers().firstValue("ETag").orElseThrow();
        CompletableFuture<LucidServer.Answer> waits =
                CompletableFuture.supplyAsync(() -> host.get("/api/orders/ask-1?wait=200", "If-None-Match", tag));
        JsonNode result = SERVER.analyst()
                .post("/api/asks", Map.of("hosts", List.of("ask-1", "nobody-1")))
                .json();
        assertThat(result.path("asked").asInt()).isEqualTo(1);
        assertThat(result.path("unknown").get(0).asString()).isEqualTo("nobody-1");
        LucidServer.Answer heard = waits.get(3, TimeUnit.MINUTES);
        String asked = content(heard).path("reportAsked").asString();
        assertThat(asked).isNotEmpty();
        assertThat(asked("ask-1").path("askedBy").asString()).isEqualTo("M. Aldane");
        assertThat(asked("ask-1").has("answeredAt")).isFalse();
        assertThat(SERVER.reader().get("/api/record?subject=ask-1").text())
                .contains("Asked the host ask-1 to report at once.");

        SERVER.restart();
        assertThat(content(asks("ask-1")).path("reportAsked").asString())
                .as("also after a restart")
                .isEqualTo(asked);
        SERVER.machine()
                .report(Examples.host("ask-1", "desktop", "1.5", itsNow)
                        .replace(
                                "{\"t\":\"end\",\"lines\":2}",
                                "{\"t\":\"outcome\",\"update\":\"DSK-1\",\"what\":\"downloaded\",\"at\":\"" + itsNow
                                        + "\"}\n{\"t\":\"end\",\"lines\":3}")
                        .getBytes());
        assertThat(asked("ask-1").path("answeredAt").asString()).isNotEmpty();
        assertThat(asked("ask-1").path("happened").get(0).path("what").asString())
                .isEqualTo("DOWNLOADED");
        assertThat(content(asks("ask-1")).has("reportAsked")).isFalse();
    }

    @Test
    void aDecisionThatHostsDoNotObeyIsTold() {
        report("not-1", "desktop");
        report("not-2", "desktop");
        SERVER.machine()
                .documents(Map.of(
                        "b.json",
                        Examples.notice("DSK-9", "1", "1.9"),
                        "c.json",
                        Examples.notice("DSK-8", "1", "1.8")));
        SERVER.analyst()
                .post(
                        "/api/verdicts",
                        Examples.verdict(
                                "DSK-9",
                                "BLOCK",
                                "desktops",
                                LocalDate.ofInstant(clock(), ZoneOffset.UTC).plusDays(5),
                                "UNTESTED"));
        says(
                SERVER.machine(),
                "not-1",
                receipt(
                        asks("not-1"),
                        "NOT_IN_FORCE",
                        List.of("DSK-9", "DSK-8", "NO-SUCH"),
                        List.of("a setting wins")));
        says(
                SERVER.machine(),
                "not-2",
                receipt(asks("not-2"), "NOT_IN_FORCE", List.of(), List.of("a reporter of before")));
        SERVER.restart();
        JsonNode told = SERVER.reader().get("/api/not-obeyed").json();
        assertThat(told.findValuesAsString("update"))
                .as("nobody decided on the other")
                .containsExactly("DSK-9");
        assertThat(told.get(0).path("hosts").path("names").toString()).isEqualTo("[\"not-1\"]");
        says(SERVER.machine(), "not-1", receipt(asks("not-1"), "IN_FORCE", List.of(), List.of()));
        says(SERVER.machine(), "not-2", receipt(asks("not-2"), "IN_FORCE", List.of(), List.of()));
        assertThat(SERVER.reader().get("/api/not-obeyed").json().size()).isZero();
    }

    private static byte[] told(String name, String version, Instant at, String what) {
        return Examples.host(name, "desktop", version, at)
                .replace(
                        "{\"t\":\"end\",\"lines\":2}",
                        "{\"t\":\"outcome\",\"update\":\"DSK-7\",\"revision\":\"1\",\"what\":\"" + what + "\",\"at\":\""
                                + at + "\"}\n{\"t\":\"end\",\"lines\":3}")
                .getBytes(StandardCharsets.UTF_8);
    }

    private static JsonNode decisionOn(String update) {
        return SERVER.reader().get("/api/cases/" + update + "/heard").json().get(0);
    }

    @Test
    void aBlockNamesForWhomItCameTooLateAndWhoInstalledAllTheSame() {
        SERVER.machine().documents(Map.of("d.json", Examples.notice("DSK-7", "1", "1.7")));
        Instant before = Instant.now().minusSeconds(60);
        SERVER.machine().report(told("late-1", "1.6", before, "downloaded"));
        SERVER.machine().report(told("late-2", "1.6", before, "downloaded"));
        SERVER.machine().report(told("early-1", "1.7", before, "installed"));
        SERVER.analyst()
                .post(
                        "/api/verdicts",
                        Examples.verdict(
                                "DSK-7",
                                "BLOCK",
                                "desktops",
                                LocalDate.ofInstant(clock(), ZoneOffset.UTC).plusDays(5),
                                "UNTESTED"));
        assertThat(decisionOn("DSK-7").path("tooLate").path("names").toString()).isEqualTo("[\"late-1\",\"late-2\"]");
        assertThat(decisionOn("DSK-7").path("installedSince").path("count").asInt())
                .as("what was there before is no disobedience")
                .isZero();
        SERVER.machine().report(told("late-2", "1.7", clock().plusSeconds(1), "installed"));
        assertThat(decisionOn("DSK-7").path("tooLate").path("names").toString()).isEqualTo("[\"late-1\"]");
        assertThat(decisionOn("DSK-7").path("installedSince").path("names").toString())
                .isEqualTo("[\"late-2\"]");
    }

    private static void report(String name, String role) {
        SERVER.machine().report(Examples.host(name, role, "1.6", Instant.now()).getBytes());
    }

    private static JsonNode asked(String host) {
        return SERVER.reader()
                .get("/api/asks")
                .json()
                .valueStream()
                .filter(one -> one.path("host").asString().equals(host))
                .findFirst()
                .orElseThrow();
    }

    private static JsonNode content(LucidServer.Answer told) {
        return JSON.readTree(Base64.getUrlDecoder().decode(told.text().split("\\.")[1]));
    }

    private static Map<String, List<String>> heard() {
        JsonNode decisions = SERVER.analyst().get("/api/cases/DSK-1/heard").json();
        assertThat(decisions).hasSize(1);
        assertThat(decisions.get(0).path("hosts").asInt()).isEqualTo(4);
        return StreamSupport.stream(decisions.get(0).path("heard").spliterator(), false)
                .collect(Collectors.toMap(group -> group.path("hearing").asString(), group -> StreamSupport.stream(
                                group.at("/hosts/names").spliterator(), false)
                        .map(JsonNode::asString)
                        .toList()));
    }

    @Test
    void whoWasToldHasNotHeardUntilItSaysSo() {
        assertThat(heard())
                .isEqualTo(Map.of("NOT_YET", List.of("ksk-1", "ksk-2"), "NEVER_ASKED", List.of("ksk-3", "ksk-4")));
        LucidServer.Answer told = asks("ksk-1");
        assertThat(heard().get("NOT_YET")).as("told, no more").contains("ksk-1");
        says(SERVER.machine(), "ksk-1", receipt(told, "IN_FORCE", List.of()));
        assertThat(heard().get("IN_FORCE")).containsExactly("ksk-1");

        LucidServer.Answer other = asks("ksk-2");
        says(
                SERVER.machine(),
                "ksk-2",
                receipt(other, "NOT_IN_FORCE", List.of("a setting of this host wins", "x".repeat(5_000))));
        assertThat(heard().get("NOT_OBEYED")).containsExactly("ksk-2");
        JsonNode ofHost = SERVER.analyst().get("/api/hosts/ksk-2/heard").json();
        assertThat(ofHost.path("became").asString()).isEqualTo("NOT_IN_FORCE");
        assertThat(ofHost.path("problems").get(0).asString()).isEqualTo("a setting of this host wins");
        assertThat(ofHost.path("problems").get(1).asString()).hasSize(300);

        JsonNode differing = SERVER.analyst().get("/api/hosts?way=NOT_OBEYING").json();
        assertThat(differing.path("hosts").findValuesAsString("name")).containsExactly("ksk-2");

        // That it asks again with the newest in hand is as good as a word: it keeps them.
        LucidServer.Answer third = asks("ksk-3");
        SERVER.machine()
                .get(
                        "/api/orders/ksk-3",
                        "If-None-Match",
                        third.headers().firstValue("ETag").orElseThrow());
        assertThat(heard().get("HEARD")).containsExactly("ksk-3");
        SERVER.restart();
        assertThat(heard())
                .isEqualTo(Map.of(
                        "IN_FORCE",
                        List.of("ksk-1"),
                        "NOT_OBEYED",
                        List.of("ksk-2"),
                        "HEARD",
                        List.of("ksk-3"),
                        "NEVER_ASKED",
                        List.of("ksk-4")));
    }

    @Test
    void nobodySpeaksForAnotherOrClaimsWhatIsStillToCome() {
        String token = SERVER.administrator()
                .post("/api/tokens", Map.of("name", "ksk-5", "scope", "HOST", "host", "ksk-5"))
                .json()
                .path("token")
                .asString();
        Client host = SERVER.withToken(token);
        Map<String, Object> forged = Map.of(
                "serial",
                Long.MAX_VALUE,
                "tag",
                "made-up",
                "state",
                "IN_FORCE",
                "installs",
                true,
                "reporter",
                "",
                "problems",
                List.of());
        assertThat(says(host, "ksk-1", forged).status()).isEqualTo(404);
        assertThat(says(host, "ksk-5", forged).status()).isEqualTo(204);
        assertThat(SERVER.analyst()
                        .get("/api/hosts/ksk-5/heard")
                        .json()
                        .path("currentAt")
                        .asString())
                .as("a serial that is still to come is no proof")
                .startsWith("1970");
        assertThat(host.postList("/api/order-receipts", List.of(Map.of("host", "ksk-5")))
                        .status())
                .isEqualTo(422);
    }
}
