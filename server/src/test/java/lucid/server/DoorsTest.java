package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import jakarta.servlet.ServletContext;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import lucid.server.access.SecondFactorCodes;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** What a person, a feed or a host may not do, by whatever way it tries. */
class DoorsTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final String GIVEN = "given-by-another";
    private static final String CHOSEN = "chosen-by-myself";

    /** Somebody of a role, signed in and past the first password. */
    private static LucidServer.Client person(String login, String role) {
        LucidServer.Answer added = SERVER.administrator()
                .post(
                        "/api/accounts",
                        Map.of("name", login, "displayName", "Person " + login, "role", role, "password", GIVEN));
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        LucidServer.Client person = SERVER.nobody().signedIn(login, GIVEN);
        assertThat(person.put("/api/sessions/current/password", null, Map.of("old", GIVEN, "chosen", CHOSEN))
                        .status())
                .isEqualTo(200);
        return person;
    }

    // ---- sessions

    @Test
    void whoWasRemovedIsOutByEverySpellingOfAnAddress() {
        LucidServer.Client removed = person("gone", "ADMINISTRATOR");
        assertThat(removed.get("/%61pi/tokens").status())
                .as("the spelling is no other route")
                .isEqualTo(200);
        SERVER.administrator().delete("/api/accounts/gone");
        for (String path : List.of("/api/tokens", "/%61pi/tokens", "/api/%74okens", "/%61%70%69/tokens")) {
            assertThat(removed.get(path).status()).as(path).isEqualTo(401);
        }
        assertThat(removed.post(
                                "/%61pi/accounts",
                                Map.of(
                                        "name",
                                        "made",
                                        "displayName",
                                        "Made",
                                        "role",
                                        "ADMINISTRATOR",
                                        "password",
                                        GIVEN))
                        .status())
                .isIn(401, 403);
        assertThat(SERVER.administrator().get("/api/accounts").text()).doesNotContain("\"made\"");
    }

    @Test
    void noSpellingOfARouteLetsNobodyIn() {
        for (String path : List.of(
                "/%61pi/docket",
                "/api//docket",
                "/api/./docket",
                "/x/../api/docket",
                "/api/docket/",
                "/api/docket;x=1",
                "/api;x/docket",
                "/API/docket",
                "/api/%64ocket",
                "/api%2Fdocket",
                "/docket/..%2Fapi%2Fdocket",
                "/api/docket%00",
                "/api\\docket".replace("\\", "%5C"))) {
            LucidServer.Answer answer = SERVER.nobody().get(path);
            assertThat(answer.text()).as(path + " " + answer.status()).doesNotContain("\"cases\"");
            assertThat(answer.status()).as(path).isLessThan(500);
        }
    }

    @Test
    void sessionsEndWithTheRoleAndThePassword() {
        LucidServer.Client demoted = person("demoted", "ADMINISTRATOR");
        String version = version("demoted");
        SERVER.administrator()
                .put("/api/accounts/demoted", version, Map.of("displayName", "Person demoted", "role", "READER"));
        assertThat(demoted.get("/%61pi/accounts").status()).isEqualTo(401);
        LucidServer.Client first = SERVER.nobody().signedIn("demoted", CHOSEN);
        LucidServer.Client second = SERVER.nobody().signedIn("demoted", CHOSEN);
        assertThat(second.put(
                                "/api/sessions/current/password",
                                null,
                                Map.of("old", CHOSEN, "chosen", "another-of-mine"))
                        .status())
                .isEqualTo(200);
        assertThat(first.get("/api/docket").status())
                .as("another session of the old password")
                .isEqualTo(401);
        assertThat(second.get("/api/docket").status())
                .as("the one that changed it")
                .isEqualTo(200);
    }

    @Test
    void whatACallerSaysOfAProxyIsNotBelievedWhereNoneIsNamed() {
        LucidServer.Client client = SERVER.nobody();
        client.get("/api/sessions/current");
        String[] forged = {
            "X-Forwarded-For",
            "203.0.113.6",
            "X-Forwarded-Proto",
            "https",
            "X-Forwarded-Host",
            "elsewhere.example",
            "Forwarded",
            "for=203.0.113.6;proto=https"
        };
        LucidServer.Answer signedIn =
                client.post("/api/sessions", Map.of("name", "j.fenn", "password", "skerry-line"), forged);
        assertThat(signedIn.status()).isEqualTo(200);
        assertThat(signedIn.headers().allValues("Set-Cookie"))
                .filteredOn(cookie -> cookie.startsWith("JSESSIONID"))
                .isNotEmpty()
                .noneMatch(cookie -> cookie.contains("Secure"));
        for (JsonNode session : client.get("/api/sessions").json()) {
            assertThat(session.path("address").asString()).isEqualTo("127.0.0.1");
        }
    }

    @Test
    void aSessionThatIsNotUsedForTwoHoursEnds() {
        assertThat(SERVER.bean(ServletContext.class).getSessionTimeout())
                .as("minutes, by the web server itself")
                .isEqualTo(120);
    }

    private static String version(String login) {
        for (JsonNode account : SERVER.administrator().get("/api/accounts").json()) {
            if (account.path("name").asString().equals(login)) {
                return account.path("version").asString();
            }
        }
        throw new AssertionError(login);
    }

    @Test
    void streamsOfEventsEndWithTheirSession() throws Exception {
        LucidServer.Client leaving = person("leaving", "READER");
        LucidServer.Stream own = leaving.stream("/api/events");
        leaving.delete("/api/sessions/current");
        assertThat(own.endsWithin(Duration.ofMinutes(1))).as("at sign-out").isTrue();
        LucidServer.Client again = SERVER.nobody().signedIn("leaving", CHOSEN);
        LucidServer.Stream other = again.stream("/api/events");
        SERVER.administrator().delete("/api/accounts/leaving");
        assertThat(other.endsWithin(Duration.ofMinutes(1)))
                .as("with the account")
                .isTrue();
    }

    @Test
    void onesOwnSessionsAreListedAndEnded() {
        LucidServer.Client here = person("many", "READER");
        LucidServer.Client there = SERVER.nobody().signedIn("many", CHOSEN);
        JsonNode open = here.get("/api/sessions").json();
        assertThat(open).hasSize(2);
        List<String> others = new ArrayList<>();
        open.forEach(session -> {
            if (!session.path("current").asBoolean()) {
                others.add(session.path("id").asString());
            }
        });
        assertThat(others).hasSize(1);
        assertThat(SERVER.reader().delete("/api/sessions/" + others.get(0)).status())
                .as("nobody else's")
                .isEqualTo(404);
        assertThat(here.delete("/api/sessions/" + others.get(0)).status()).isEqualTo(204);
        assertThat(there.get("/api/docket").status()).isEqualTo(401);
        SERVER.nobody().signedIn("many", CHOSEN);
        assertThat(here.delete("/api/sessions").status()).isEqualTo(204);
        assertThat(here.get("/api/sessions").json()).hasSize(1);
    }

    @Test
    void ofOnePersonOnlySoManyStreamsAreOpen() {
        LucidServer.Client reader = person("streams", "READER");
        List<LucidServer.Stream> streams = new ArrayList<>();
        for (int i = 0; i < 20; i++) {
            streams.add(reader.stream("/api/events"));
        }
        assertThat(reader.stream("/api/events").status()).isEqualTo(503);
        assertThat(SERVER.analyst().statusOnly("/api/events"))
                .as("others are not starved")
                .isEqualTo(200);
        streams.forEach(LucidServer.Stream::close);
    }

    // ---- what may be brought

    @Test
    void populationsComeIntoForceOnlyByAPersonWhoHasSeenWhatTheyChange() {
        String ladder = Examples.POPULATIONS.replace("Ticket kiosks", "Kiosks of the doors");
        for (LucidServer.Client bringer : List.of(SERVER.machine(), SERVER.analyst())) {
            JsonNode result = bringer.documents(Map.of("p.json", ladder)).json().get(0);
            assertThat(result.path("outcome").asString()).isEqualTo("WAITING");
            assertThat(SERVER.reader().get("/api/populations").text()).doesNotContain("Kiosks of the doors");
        }
        LucidServer.Client analyst = SERVER.analyst();
        long number = analyst.get("/api/documents?outcome=WAITING")
                .json()
                .path("documents")
                .get(0)
                .path("number")
                .asLong();
        assertThat(analyst.post("/api/documents/" + number + "/retries", Map.of("columns", Map.of()))
                        .text())
                .contains("are looked at on Populations");
        String proposed = analyst.get("/api/documents/" + number + "/content").text();
        assertThat(analyst.send(
                                "POST",
                                "/api/populations/preview",
                                "application/json",
                                BodyPublishers.ofString(proposed))
                        .status())
                .isEqualTo(200);
        assertThat(analyst.send(
                                "PUT",
                                "/api/populations?document=" + number,
                                "application/json",
                                BodyPublishers.ofString(proposed))
                        .status())
                .isEqualTo(200);
        assertThat(SERVER.reader().get("/api/populations").text()).contains("Kiosks of the doors");
        assertThat(analyst.send(
                                "PUT",
                                "/api/populations?document=" + number,
                                "application/json",
                                BodyPublishers.ofString(ladder))
                        .text())
                .contains("does not wait any more");
    }

    @Test
    void anAdministratorBringsNothingThatIsJudged() {
        LucidServer.Client administrator = SERVER.administrator();
        Map<String, String> judged = Map.of(
                "p.json", Examples.POPULATIONS.replace("Ticket kiosks", "Kiosks of an administrator"),
                "k.json",
                        "{\"format\":\"known-issues-1\",\"source\":\"x\",\"issues\":[{\"id\":\"DOOR-KI\",\"updates\":[\"A\"],\"text\":\"t\",\"state\":\"open\"}]}",
                "f.json",
                        "{\"format\":\"failure-reports-1\",\"source\":\"x\",\"reports\":[{\"id\":\"1\",\"update\":\"A\",\"others\":3}]}");
        judged.forEach((name, content) -> {
            JsonNode result =
                    administrator.documents(Map.of(name, content)).json().get(0);
            assertThat(result.path("outcome").asString()).as(name).isEqualTo("REJECTED");
            assertThat(result.path("problems").toString()).contains("K. Strand may not bring this");
        });
        assertThat(administrator
                        .documents(Map.of("n.json", Examples.notice("DOOR-1", "1", "2.0")))
                        .text())
                .contains("ACCEPTED");
        JsonNode refused = administrator
                .documents(Map.of("k.json", judged.get("k.json").replace("DOOR-KI", "DOOR-KJ")))
                .json()
                .get(0);
        LucidServer.Answer again = SERVER.analyst()
                .post("/api/documents/" + refused.path("number").asLong() + "/retries", Map.of("columns", Map.of()));
        assertThat(again.json().path("outcome").asString())
                .as("who may takes it")
                .isEqualTo("ACCEPTED");
    }

    @Test
    void aTokenBringsTheFormatsItWasMadeFor() {
        LucidServer.Client administrator = SERVER.administrator();
        String token = administrator
                .post(
                        "/api/tokens",
                        Map.of("name", "scores-only", "scope", "IMPORT", "formats", List.of("EXPLOIT_SCORES")))
                .json()
                .path("token")
                .asString();
        LucidServer.Client machine = SERVER.withToken(token);
        assertThat(machine.documents(Map.of("n.json", Examples.notice("DOOR-2", "1", "2.0")))
                        .text())
                .contains("REJECTED")
                .contains("may not bring this: Update notice");
        assertThat(machine.report(Examples.host("door-x", "kiosk", "1.0", Instant.now())
                                .getBytes(StandardCharsets.UTF_8))
                        .text())
                .contains("may not bring this: Host inventory");
        String usual = administrator
                .post("/api/tokens", Map.of("name", "usual", "scope", "IMPORT"))
                .json()
                .path("token")
                .asString();
        assertThat(SERVER.withToken(usual)
                        .documents(Map.of("n.json", Examples.notice("DOOR-3", "1", "2.0")))
                        .text())
                .contains("ACCEPTED");
        assertThat(SERVER.withToken(usual)
                        .documents(Map.of("p.json", Examples.POPULATIONS))
                        .text())
                .contains("may not bring this: Populations");
        assertThat(administrator
                        .post(
                                "/api/feeds",
                                Map.of(
                                        "name",
                                        "ladders",
                                        "kind",
                                        "DOCUMENT",
                                        "address",
                                        "https://vendor.example/p.json",
                                        "everyMinutes",
                                        60,
                                        "formats",
                                        List.of("POPULATIONS")))
                        .text())
                .contains("populations never come from a feed");
    }

    @Test
    void whatIsRefusedCanBePutAside() {
        LucidServer.Client analyst = SERVER.analyst();
        long number = analyst.documents(Map.of("aside.json", "no document"))
                .json()
                .get(0)
                .path("number")
                .asLong();
        int before = analyst.get("/api/documents").json().path("refused").asInt();
        assertThat(analyst.post("/api/documents/" + number + "/dismissals", Map.of())
                        .status())
                .isEqualTo(204);
        assertThat(analyst.get("/api/documents").json().path("refused").asInt()).isEqualTo(before - 1);
        assertThat(analyst.get("/api/documents/" + number + "/content").status())
                .as("its content is forgotten")
                .isEqualTo(404);
        assertThat(analyst.get("/api/documents?outcome=REJECTED").text()).doesNotContain("aside.json");
        assertThat(analyst.post("/api/documents/" + number + "/dismissals", Map.of())
                        .status())
                .isEqualTo(409);
        assertThat(SERVER.reader()
                        .post("/api/documents/" + number + "/dismissals", Map.of())
                        .status())
                .isEqualTo(403);
    }

    // ---- hosts

    private static LucidServer.Client host(String name) {
        return SERVER.withToken(SERVER.administrator()
                .post("/api/tokens", Map.of("name", "t-" + name, "scope", "HOST", "host", name))
                .json()
                .path("token")
                .asString());
    }

    private static String report(String name, Instant at, String more) {
        return Examples.host(name, "kiosk", "1.0", at).replace("\"role\":\"kiosk\"", "\"role\":\"kiosk\"" + more);
    }

    @Test
    void aHostNeverMakesItselfLessExposedThanATableSays() {
        LucidServer.Client host = host("door-facing");
        SERVER.analyst().documents(Map.of("t.csv", "host,facing\ndoor-facing,public\n"));
        assertThat(host.report(report("door-facing", Instant.now(), ",\"facing\":\"isolated\"")
                                .getBytes(StandardCharsets.UTF_8))
                        .status())
                .isEqualTo(200);
        assertThat(SERVER.reader().get("/api/hosts/door-facing").text())
                .contains("public")
                .doesNotContain("isolated");
        SERVER.restart();
        assertThat(SERVER.reader().get("/api/hosts/door-facing").text())
                .contains("public")
                .doesNotContain("isolated");
    }

    @Test
    void whatIsStillToComeIsRefusedAndAClockALittleAheadBlocksNothing() {
        LucidServer.Client host = host("door-clock");
        LucidServer.Answer tomorrow = host.report(
                report("door-clock", Instant.now().plus(Duration.ofDays(1)), "").getBytes(StandardCharsets.UTF_8));
        assertThat(tomorrow.status()).isEqualTo(422);
        String started = report("door-clock", Instant.now(), "")
                .replace("\"traits\"", "\"lastStart\":\"" + Instant.now().plus(Duration.ofDays(2)) + "\",\"traits\"");
        assertThat(host.report(started.getBytes(StandardCharsets.UTF_8)).text()).contains("its last start is dated");
        assertThat(host.report(report("door-clock", Instant.now().plus(Duration.ofMinutes(50)), "")
                                .getBytes(StandardCharsets.UTF_8))
                        .status())
                .as("its clock is ahead")
                .isEqualTo(200);
        LucidServer.Answer later = host.report(
                Examples.host("door-clock", "kiosk", "1.1", Instant.now().plusMillis(5))
                        .getBytes(StandardCharsets.UTF_8));
        assertThat(later.text()).as("put right, it still reports").contains("ACCEPTED");
        assertThat(SERVER.reader().get("/api/hosts/door-clock").text()).contains("1.1");
    }

    // ---- names and words

    @Test
    void whatTheDeskReportsBearsItsName() {
        SERVER.machine().documents(Map.of("n.json", Examples.notice("DOOR-9", "1", "2.0")));
        LucidServer.Client desk = SERVER.person("s.orrin");
        LucidServer.Answer forged =
                desk.post("/api/failure-reports", Map.of("update", "DOOR-9", "others", 2, "source", "M. Aldane"));
        assertThat(forged.status()).isEqualTo(422);
        assertThat(forged.json().path("field").asString()).isEqualTo("source");
        assertThat(desk.post("/api/failure-reports", Map.of("update", "DOOR-9", "others", 2))
                        .json()
                        .path("id")
                        .asString())
                .startsWith("S. Orrin/");
        assertThat(SERVER.reader().get("/api/record?subject=DOOR-9").text()).contains("S. Orrin (s.orrin)");
    }

    @Test
    void aNumberStandsForNoWord() {
        LucidServer.Answer role = SERVER.administrator()
                .send(
                        "POST",
                        "/api/accounts",
                        "application/json",
                        BodyPublishers.ofString("{\"name\":\"five\",\"displayName\":\"Five\",\"role\":5,\"password\":\""
                                + GIVEN + "\"}"));
        assertThat(role.status()).isEqualTo(400);
        assertThat(role.json().path("field").asString()).isEqualTo("role");
        LucidServer.Answer type = SERVER.analyst()
                .send(
                        "POST",
                        "/api/verdicts",
                        "application/json",
                        BodyPublishers.ofString("{\"update\":\"A\",\"type\":1}"));
        assertThat(type.status()).isEqualTo(400);
    }

    @Test
    void nobodyIsCalledAsAnotherOrAMachine() {
        LucidServer.Client administrator = SERVER.administrator();
        Map<String, String> refused = Map.of(
                "twin",
                "m.  aldane",
                "wide",
                "Ｍ. Aldane",
                "mixed",
                "M. \u0410ldane",
                "machine",
                "Machine local-import",
                "feed",
                "FEED Vendor",
                "turned",
                "M.\u202e Aldane",
                "control",
                "M.\u0007Aldane",
                "half",
                "\ud800x",
                "points",
                "...");
        refused.forEach((login, name) -> {
            LucidServer.Answer answer = administrator.send(
                    "POST",
                    "/api/accounts",
                    "application/json",
                    BodyPublishers.ofString("{\"name\":\"" + login + "\",\"displayName\":\"" + escaped(name)
                            + "\",\"role\":\"READER\",\"password\":\"" + GIVEN + "\"}"));
            assertThat(answer.status()).as(login + " " + answer.text()).isIn(409, 422);
            assertThat(answer.json().path("field").asString()).as(login).isEqualTo("displayName");
        });
        assertThat(administrator
                        .post(
                                "/api/accounts",
                                Map.of("name", "kana", "displayName", "港 みなと", "role", "READER", "password", GIVEN))
                        .status())
                .isEqualTo(201);
    }

    private static String escaped(String text) {
        StringBuilder escaped = new StringBuilder();
        text.chars().forEach(sign -> escaped.append(String.format("\\u%04x", sign)));
        return escaped.toString();
    }

    @Test
    void commonAndRepeatedPasswordsAreRefused() {
        for (String password :
                List.of("password123", "1234567890", "aaaaaaaaaaaa", "abcabcabcabc", "qwertyuiop", "person easy")) {
            LucidServer.Answer answer = SERVER.administrator()
                    .post(
                            "/api/accounts",
                            Map.of(
                                    "name",
                                    "easy",
                                    "displayName",
                                    "Person easy",
                                    "role",
                                    "READER",
                                    "password",
                                    password));
            assertThat(answer.status()).as(password).isEqualTo(422);
            assertThat(answer.json().path("field").asString()).isEqualTo("password");
        }
    }

    // ---- second factor

    @Test
    void aSecondFactorIsAskedForAndEachCodeCountsOnce() {
        LucidServer.Client person = person("factor", "READER");
        String key = person.post("/api/sessions/current/second-factor", Map.of())
                .json()
                .path("key")
                .asString();
        assertThat(person.put("/api/sessions/current/second-factor", null, Map.of("code", "000000x"))
                        .status())
                .isEqualTo(422);
        Instant now = Instant.parse(person.get("/api/clock").json().path("now").asString());
        String code = SecondFactorCodes.at(key, now);
        assertThat(person.put("/api/sessions/current/second-factor", null, Map.of("code", code))
                        .json()
                        .path("secondFactor")
                        .asBoolean())
                .isTrue();
        LucidServer.Client next = SERVER.nobody();
        next.get("/api/sessions/current");
        LucidServer.Answer asked = next.post("/api/sessions", Map.of("name", "factor", "password", CHOSEN));
        assertThat(asked.status()).isEqualTo(401);
        assertThat(asked.json().path("field").asString()).isEqualTo("code");
        assertThat(next.post("/api/sessions", Map.of("name", "factor", "password", CHOSEN, "code", code))
                        .status())
                .as("it was used to set it up")
                .isEqualTo(401);
        String fresh = SecondFactorCodes.at(key, now.plusSeconds(30));
        assertThat(next.post("/api/sessions", Map.of("name", "factor", "password", CHOSEN, "code", fresh))
                        .status())
                .isEqualTo(200);
        assertThat(SERVER.nobody().signedIn("factor", CHOSEN).get("/api/docket").status())
                .isEqualTo(401);
        assertThat(next.send(
                                "DELETE",
                                "/api/sessions/current/second-factor",
                                "application/json",
                                BodyPublishers.ofString("{\"password\":\"" + CHOSEN + "\"}"))
                        .json()
                        .path("secondFactor")
                        .asBoolean())
                .isFalse();
    }

    @Test
    void aRoleThatIsAskedForASecondFactorDoesNothingWithoutOne() {
        LucidServer.Client before = person("approves", "APPROVER");
        LucidServer.Client administrator = SERVER.administrator();
        assertThat(administrator
                        .put("/api/second-factor-roles", null, Map.of("roles", List.of("APPROVER")))
                        .status())
                .isEqualTo(200);
        try {
            assertThat(before.get("/api/docket").status())
                    .as("its sessions end")
                    .isEqualTo(401);
            LucidServer.Client person = SERVER.nobody();
            person.get("/api/sessions/current");
            assertThat(person.post("/api/sessions", Map.of("name", "approves", "password", CHOSEN))
                            .json()
                            .path("pending")
                            .asString())
                    .isEqualTo("SET_UP_SECOND_FACTOR");
            assertThat(person.get("/api/docket").status()).isEqualTo(403);
            String key = person.post("/api/sessions/current/second-factor", Map.of())
                    .json()
                    .path("key")
                    .asString();
            Instant now = Instant.parse(
                    SERVER.reader().get("/api/clock").json().path("now").asString());
            assertThat(person.put(
                                    "/api/sessions/current/second-factor",
                                    null,
                                    Map.of("code", SecondFactorCodes.at(key, now)))
                            .status())
                    .isEqualTo(200);
            assertThat(person.get("/api/docket").status()).isEqualTo(200);
        } finally {
            administrator.put("/api/second-factor-roles", null, Map.of("roles", List.of()));
        }
    }

    // ---- the record

    @Test
    void failedSignInsRefusedRightsAndChangesOfRightsAreInTheRecord() {
        LucidServer.Client guesser = SERVER.nobody();
        guesser.get("/api/sessions/current");
        for (int i = 0; i < 3; i++) {
            guesser.post("/api/sessions", Map.of("name", "h.marsh", "password", "guess"));
        }
        SERVER.reader().post("/api/verdicts", Map.of());
        person("rights", "READER");
        SERVER.administrator()
                .put("/api/accounts/rights", version("rights"), Map.of("displayName", "Person rights", "role", "DESK"));
        // What happens while a sentence is written down is in the next.
        Pattern failed = Pattern.compile("Failed sign-in as h.marsh from 127.0.0.1(?:, (\\d+) times)?\\.");
        await().atMost(Duration.ofMinutes(2)).untilAsserted(() -> assertThat(failed.matcher(SERVER.administrator()
                                .get("/api/record?kind=ACCESS")
                                .text())
                        .results()
                        .mapToInt(found -> found.group(1) == null ? 1 : Integer.parseInt(found.group(1)))
                        .sum())
                .isEqualTo(3));
        // Whatever way the name of the author comes, it is the whole one.
        SERVER.administrator().get("/api/record").json().path("entries").forEach(entry -> assertThat(
                        entry.path("author").asString())
                .matches("Lucid Verdict|Machine \\S+|Feed .+|.+ \\([a-z0-9._-]+\\)"));
        await().atMost(Duration.ofMinutes(2)).untilAsserted(() -> assertThat(
                        SERVER.administrator().get("/api/record?kind=ACCESS").text())
                .contains(
                        "Refused to J. Fenn (j.fenn), who may not: POST /api/verdicts.",
                        "The account of Person rights (rights) was changed: from reader to desk."));
    }
}
