package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.http.HttpRequest.BodyPublishers;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class AccessTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    /**
     * Each route with who may use it: (n)obody, (r)eader, (d)esk, (o)perator, (a)nalyst, a(p)prover, admini(s)trator,
     * and tokens that (I)mport, (T)ell of hosts, tell of one (H)ost, take (B)ackups. Who is let in is then refused as
     * empty or gets an answer, but never 401 or 403.
     */
    static final List<String> ROUTES = List.of(
            "GET /api/docket: raps",
            "GET /api/cases/{id}: raps",
            "GET /api/cases/{id}/rulings/{host}: raps",
            "GET /api/cases/{id}/heard: raps",
            "GET /api/cases/{id}/sources: raps",
            "GET /api/asks: rdoaps",
            "GET /api/not-obeyed: raps",
            "POST /api/asks: doa",
            "GET /api/operator-work: rdoaps",
            "POST /api/operator-work/entries: oa",
            "DELETE /api/operator-work/entries/{number}: oa",
            "GET /api/hosts/{name}/heard: rdoaps",
            "GET /api/carriers: rdoaps",
            "GET /api/carriers/{id}: rdoaps",
            "GET /api/carriers/{id}/hosts: rdoaps",
            "GET /api/carriers/{id}/hosts.csv: rdoaps",
            "GET /api/carriers/{id}/days: rdoaps",
            "GET /api/carriers/{id}/past: rdoaps",
            "GET /api/carriers/{id}/past/hosts: rdoaps",
            "GET /api/carriers/{id}/past/hosts.csv: rdoaps",
            "GET /api/carriers/{id}/difference: rdoaps",
            "GET /api/carriers/{id}/difference.csv: rdoaps",
            "GET /api/hosts: rdoaps",
            "GET /api/hosts/hosts.csv: rdoaps",
            "GET /api/hosts/{name}: rdoaps",
            "GET /api/hosts/{name}/updates: rdoaps",
            "GET /api/host-filters: rdoaps",
            "PUT /api/host-filters/{name}: rdoaps",
            "DELETE /api/host-filters/{name}: rdoaps",
            "GET /api/search: rdoaps",
            "GET /api/populations: rdoaps",
            "GET /api/populations/document: raps",
            "GET /api/populations/versions: raps",
            "POST /api/populations/preview: a",
            "POST /api/populations/holidays: a",
            "PUT /api/populations: a",
            "GET /api/events: rdoaps",
            "GET /api/record: raps",
            "GET /api/in-force: raps",
            "GET /api/in-force/by-rule: raps",
            "GET /api/in-force/past: raps",
            "GET /api/in-force/past.csv: raps",
            "GET /api/freezes: raps",
            "POST /api/freezes: a",
            "POST /api/freezes/preview: a",
            "GET /api/pilots: raps",
            "GET /api/pilots/{number}: raps",
            "POST /api/pilots/{number}/extensions: a",
            "POST /api/pilots/{number}/sign-offs: a",
            "GET /api/in-force/decisions.csv: raps",
            "GET /api/record/entries.csv: raps",
            "GET /api/record/verification: rapsB",
            "GET /api/backup: sB",
            "GET /api/documents: raps",
            "GET /api/documents/{number}/content: raps",
            "GET /api/product-mappings: raps",
            "GET /api/unread-products: raps",
            "POST /api/product-mappings/preview: as",
            "POST /api/product-mappings: as",
            "DELETE /api/product-mappings/{number}: as",
            "POST /api/documents: asI",
            "POST /api/documents/preview: as",
            "POST /api/documents/imports: as",
            "POST /api/documents/{number}/retries: as",
            "POST /api/reports: ITH",
            "GET /api/clock: rdoapsITHB",
            "POST /api/clock/advances: aI",
            "DELETE /api/clock/advances: aI",
            "POST /api/clock/steps: I",
            "GET /api/orders/{host}: ITH",
            "POST /api/order-receipts: ITH",
            "GET /api/orders-key: rdoapsITH",
            "POST /api/enrolments: E",
            "GET /api/schemas/{name}: nrdoapsITHBE",
            "GET /api/sessions/current: nrdoapsITHBE",
            "POST /api/sessions: nrdoapsITHBE",
            "GET /api/sessions/openid: nrdoapsITHBE",
            "POST /api/sessions/openid: nrdoapsITHBE",
            "POST /api/sessions/openid/beginnings: nrdoapsITHBE",
            "DELETE /api/sessions/current: nrdoapsITHBE",
            "PUT /api/sessions/current/password: rdoaps",
            "GET /api/sessions: rdoaps",
            "DELETE /api/sessions: rdoaps",
            "DELETE /api/sessions/{id}: rdoaps",
            "POST /api/sessions/current/second-factor: rdoaps",
            "PUT /api/sessions/current/second-factor: rdoaps",
            "DELETE /api/sessions/current/second-factor: rdoaps",
            "POST /api/verdicts: a",
            "POST /api/verdicts/preview: ap",
            "GET /api/proposals: raps",
            "POST /api/proposals: a",
            "POST /api/proposals/{number}/approvals: p",
            "POST /api/proposals/{number}/returns: p",
            "GET /api/cautions: raps",
            "POST /api/cautions: a",
            "POST /api/cautions/preview: a",
            "DELETE /api/decisions: a",
            "POST /api/hosts/{name}/retirement: a",
            "DELETE /api/hosts/{name}/retirement: a",
            "GET /api/decisions/revocation: raps",
            "GET /api/feeds: raps",
            "POST /api/feeds: s",
            "POST /api/feeds/{name}/imports: as",
            "DELETE /api/feeds/{name}: s",
            "GET /api/trusted-keys: raps",
            "POST /api/trusted-keys: s",
            "DELETE /api/trusted-keys/{fingerprint}: s",
            "POST /api/failure-reports: da",
            "DELETE /api/failure-reports: da",
            "POST /api/known-issues: a",
            "DELETE /api/known-issues: a",
            "POST /api/not-affected-notes: a",
            "POST /api/dismissed-failures: a",
            "POST /api/case-notes: a",
            "GET /api/people: as",
            "GET /api/responsibilities: raps",
            "POST /api/responsibilities/hand-overs: as",
            "GET /api/objections: rdoaps",
            "POST /api/objections: rdoaps",
            "DELETE /api/objections/{number}: rdoaps",
            "GET /api/approval-rules: raps",
            "PUT /api/approval-rules: s",
            "GET /api/openid-provider: s",
            "PUT /api/openid-provider: s",
            "DELETE /api/openid-provider: s",
            "DELETE /api/accounts/{name}/openid-subject: s",
            "GET /api/weights: raps",
            "POST /api/weights/preview: a",
            "PUT /api/weights: a",
            "DELETE /api/weights/versions/{number}: a",
            "DELETE /api/populations/versions/{number}: a",
            "GET /api/populations/versions/{number}/revocation: raps",
            "POST /api/acknowledgements: a",
            "POST /api/verdicts/several: a",
            "POST /api/verdicts/several/preview: a",
            "POST /api/exceptions: a",
            "GET /api/exceptions/proposals: raps",
            "POST /api/exceptions/proposals: a",
            "GET /api/exceptions/proposals/{number}/preview: raps",
            "POST /api/exceptions/proposals/{number}/approvals: p",
            "POST /api/host-names: rdoaps",
            "GET /api/metrics: raps",
            "GET /api/calendar: raps",
            "GET /api/operator-work/calendar: o",
            "GET /api/addresses/{use}: raps",
            "POST /api/addresses/{use}: raps",
            "DELETE /api/addresses/{use}: raps",
            "GET /api/record/feed: raps",
            "GET /api/record/entries.json: raps",
            "GET /api/carriers/matrix.csv: rdoaps",
            "GET /api/carriers/changes: rdoaps",
            "GET /api/carriers/changes.csv: rdoaps",
            "GET /api/carriers/changes.json: rdoaps",
            "GET /api/carriers/matrix.json: rdoaps",
            "GET /api/carriers/missing.csv: rdoaps",
            "GET /api/carriers/missing.json: rdoaps",
            "GET /api/hosts/{name}/cyclonedx: rdoaps",
            "GET /api/cases/{id}/openvex: raps",
            "GET /api/cases/{id}/csaf-vex: raps",
            "GET /api/verdicts/{number}/sheet: raps",
            "GET /api/report/time-to-carry: raps",
            "GET /api/report/missed-targets.csv: raps",
            "GET /api/report/carry-targets: raps",
            "PUT /api/report/carry-targets: a",
            "GET /api/report/exploited: raps",
            "GET /api/report/exploited.csv: raps",
            "GET /api/report/withheld: raps",
            "GET /api/report/withheld.csv: raps",
            "GET /api/report/forced: raps",
            "GET /api/digest: rdoaps",
            "GET /api/digest-mail: rdoaps",
            "PUT /api/digest-mail: rdoaps",
            "DELETE /api/digest-mail: rdoaps",
            "GET /api/mail-server: s",
            "PUT /api/mail-server: s",
            "DELETE /api/mail-server: s",
            "POST /api/mail-server/trials: s",
            "GET /api/exceptions: raps",
            "GET /api/exceptions/summary: raps",
            "GET /api/exceptions/exceptions.csv: raps",
            "POST /api/exceptions/renewals: a",
            "GET /api/exceptions/renewals/proposals: raps",
            "POST /api/exceptions/renewals/proposals: a",
            "POST /api/exceptions/renewals/proposals/{number}/approvals: p",
            "POST /api/exceptions/preview: a",
            "GET /api/second-factor-roles: s",
            "PUT /api/second-factor-roles: s",
            "GET /api/sharing-level: raps",
            "PUT /api/sharing-level: s",
            "GET /api/backup-schedule: s",
            "PUT /api/backup-schedule: s",
            "POST /api/documents/{number}/dismissals: as",
            "GET /api/documents/readings: raps",
            "POST /api/documents/readings: as",
            "POST /api/documents/{number}/readings: as",
            "GET /api/accounts: s",
            "POST /api/accounts: s",
            "PUT /api/accounts/{name}: s",
            "DELETE /api/accounts/{name}: s",
            "GET /api/tokens: s",
            "POST /api/tokens: s",
            "DELETE /api/tokens/{name}: s",
            "GET /api/allowed-hosts: s",
            "POST /api/allowed-hosts: s",
            "DELETE /api/allowed-hosts/{name}: s");

    private static final Map<Character, Supplier<LucidServer.Client>> CALLERS = new LinkedHashMap<>();
    /** Callers who are signed in already: hashing a password anew for every route would take a minute. */
    private static final Map<Character, LucidServer.Client> PRESENT = new HashMap<>();

    private static int enrolled;

    @BeforeAll
    static void callers() {
        LucidServer.Client administrator = SERVER.administrator();
        CALLERS.put('n', SERVER::nobody);
        Map.of('r', "j.fenn", 'd', "s.orrin", 'o', "b.tove", 'a', "m.aldane", 'p', "h.marsh", 's', "k.strand")
                .forEach((letter, login) -> CALLERS.put(letter, () -> SERVER.person(login)));
        CALLERS.put('I', SERVER::machine);
        Map.of('T', "REPORT", 'H', "HOST", 'B', "BACKUP").forEach((letter, scope) -> {
            String token = administrator
                    .post("/api/tokens", Map.of("name", "t-" + scope.toLowerCase(), "scope", scope, "host", "its-host"))
                    .json()
                    .path("token")
                    .asString();
            CALLERS.put(letter, () -> SERVER.withToken(token));
        });
        CALLERS.put('E', () -> {
            Map<String, String> token = Map.of("name", "t-enrol-" + enrolled++, "scope", "ENROL", "host", "its-host");
            return SERVER.withToken(SERVER.administrator()
                    .post("/api/tokens", token)
                    .json()
                    .path("token")
                    .asString());
        });
    }

    static Stream<String> routes() {
        return ROUTES.stream();
    }

    @ParameterizedTest
    @MethodSource("routes")
    void everyRouteForEveryRole(String line) {
        String method = line.split(" ")[0];
        String path = line.substring(method.length() + 1, line.indexOf(": "))
                .replaceAll("\\{number}", "9999")
                .replaceAll("\\{\\w+}", "absent");
        String allowed = line.substring(line.indexOf(": ") + 2);
        CALLERS.forEach((letter, caller) -> assertThat(
                        isLetIn(PRESENT.computeIfAbsent(letter, l -> caller.get()), method, path))
                .as("%s as %s", line, letter)
                .isEqualTo(allowed.indexOf(letter) >= 0));
        if (path.startsWith("/api/sessions") && !method.equals("GET") || path.equals("/api/enrolments")) {
            // Whoever tried this may be somebody else now.
            PRESENT.clear();
        }
    }

    private static boolean isLetIn(LucidServer.Client client, String method, String path) {
        if (!method.equals("GET")) {
            client.get("/api/sessions/current");
        }
        // A sign-in with a wrong password is refused with 401 too; here it is asked whether the route may be used.
        if (method.equals("POST") && path.equals("/api/sessions")) {
            return client.post(path, Map.of("name", "m.aldane", "password", "skerry-line"))
                            .status()
                    == 200;
        }
        int status = path.equals("/api/events")
                ? client.statusOnly(path)
                : client.send(
                                method,
                                path,
                                "application/json",
                                BodyPublishers.ofString(method.startsWith("P") ? "{}" : ""))
                        .status();
        assertThat(status).as(method + " " + path).isLessThan(500);
        return status != 401 && status != 403;
    }

    @Test
    void noRouteIsMissingInTheTable() {
        List<String> known = ROUTES.stream()
                .map(line -> line.substring(0, line.indexOf(": ")))
                .toList();
        assertThat(SERVER.routes())
                .filteredOn(route -> !route.startsWith("GET /api/openapi"))
                .containsExactlyInAnyOrderElementsOf(known);
    }

    @Test
    void whoGuessesMustWait() {
        LucidServer.Client client = SERVER.nobody();
        client.get("/api/sessions/current");
        for (int i = 0; i < 5; i++) {
            assertThat(client.post("/api/sessions", Map.of("name", "guessed", "password", "guess"))
                            .status())
                    .isEqualTo(401);
        }
        LucidServer.Answer slowed = client.post("/api/sessions", Map.of("name", "guessed", "password", "guess"));
        for (int i = 0; i < 10 && slowed.status() != 429; i++) {
            // On a slow machine the first wait may be over already; the next is twice as long.
            slowed = client.post("/api/sessions", Map.of("name", "guessed", "password", "guess"));
        }
        assertThat(slowed.status()).isEqualTo(429);
        assertThat(slowed.headers().firstValue("Retry-After"))
                .hasValueSatisfying(
                        seconds -> assertThat(Integer.parseInt(seconds)).isBetween(1, 901));
        assertThat(slowed.text()).contains("too many tries; wait");
    }

    @Test
    void whoIsSignedInStaysSoWhenTheProgramIsStartedAnewButNotIfSignedOutMeanwhile() {
        LucidServer.Client stays = SERVER.analyst();
        LucidServer.Client left = SERVER.analyst();
        LucidServer.Client ended = SERVER.reader();
        String other = SERVER.reader()
                .get("/api/sessions")
                .json()
                .findValues("current")
                .toString();
        assertThat(other).isNotEmpty();
        assertThat(left.delete("/api/sessions/current").status()).isEqualTo(204);
        SERVER.reader().delete("/api/sessions");
        SERVER.restart();
        LucidServer.Client again = stays.at(SERVER.address());
        assertThat(again.get("/api/sessions/current").json().path("login").asString())
                .isEqualTo("m.aldane");
        assertThat(again.post("/api/clock/advances", Map.of("hours", 1)).status())
                .as("and may do what it may")
                .isEqualTo(200);
        assertThat(again.get("/api/sessions").text()).contains("\"current\":true");
        assertThat(left.at(SERVER.address()).get("/api/docket").status()).isEqualTo(401);
        assertThat(ended.at(SERVER.address()).get("/api/docket").status())
                .as("its person ended it elsewhere")
                .isEqualTo(401);
        PRESENT.clear();
    }

    @Test
    void aOneTimePasswordMustBeChangedBeforeAnythingElse() {
        SERVER.administrator()
                .post(
                        "/api/accounts",
                        Map.of(
                                "name",
                                "once",
                                "displayName",
                                "Once",
                                "role",
                                "ANALYST",
                                "password",
                                "given-by-another"));
        LucidServer.Client person = SERVER.nobody();
        person.get("/api/sessions/current");
        assertThat(person.post("/api/sessions", Map.of("name", "once", "password", "given-by-another"))
                        .json()
                        .path("pending")
                        .asString())
                .isEqualTo("CHOOSE_PASSWORD");
        assertThat(person.get("/api/docket").status()).isEqualTo(403);
        assertThat(person.put(
                                "/api/sessions/current/password",
                                null,
                                Map.of("old", "wrong", "chosen", "chosen-by-myself"))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("old");
        assertThat(person.put(
                                "/api/sessions/current/password",
                                null,
                                Map.of("old", "given-by-another", "chosen", "short"))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("password");
        assertThat(person.put(
                                "/api/sessions/current/password",
                                null,
                                Map.of("old", "given-by-another", "chosen", "chosen-by-myself"))
                        .status())
                .isEqualTo(200);
        assertThat(person.get("/api/docket").status()).isEqualTo(200);
    }

    @Test
    void aPasswordIsMeasuredInWhatTheHashTakes() {
        Map<String, String> person =
                Map.of("name", "long", "displayName", "Long", "role", "READER", "password", "ø".repeat(40));
        LucidServer.Answer answer = SERVER.administrator().post("/api/accounts", person);
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.json().path("field").asString()).isEqualTo("password");
    }

    @Test
    void theSecondOfTwoWhoChangeAnAccountIsToldAndItsSessionsEnd() {
        LucidServer.Client administrator = SERVER.administrator();
        String version = administrator
                .post(
                        "/api/accounts",
                        Map.of(
                                "name",
                                "twice",
                                "displayName",
                                "Twice",
                                "role",
                                "READER",
                                "password",
                                "given-by-another"))
                .json()
                .path("version")
                .asString();
        LucidServer.Client person = SERVER.nobody();
        person.get("/api/sessions/current");
        person.post("/api/sessions", Map.of("name", "twice", "password", "given-by-another"));
        assertThat(administrator
                        .put("/api/accounts/twice", version, Map.of("displayName", "Twice", "role", "DESK"))
                        .status())
                .isEqualTo(200);
        LucidServer.Answer second =
                administrator.put("/api/accounts/twice", version, Map.of("displayName", "Twice", "role", "ANALYST"));
        assertThat(second.status()).isEqualTo(412);
        assertThat(second.text()).contains("somebody else changed twice meanwhile");
        assertThat(person.get("/api/sessions/current").json().has("login"))
                .as("signed in as what it was before")
                .isFalse();
        assertThat(administrator.delete("/api/accounts/twice").status()).isEqualTo(204);
        assertThat(administrator.delete("/api/accounts/k.strand").text()).contains("the only administrator");
    }

    @Test
    void anOperatorSeesItsOwnPopulationsOnly() {
        SERVER.populations(Examples.POPULATIONS);
        SERVER.machine()
                .documents(Map.of(
                        "n.json",
                        Examples.notice("AC-1", "1", "2.0"),
                        "h.jsonl",
                        Examples.hosts(Map.of("ac-ksk", "kiosk 1.0", "ac-off", "desktop 1.0", "ac-odd", "loan 1.0"))));
        SERVER.administrator()
                .post(
                        "/api/accounts",
                        Map.of(
                                "name",
                                "op",
                                "displayName",
                                "Op",
                                "role",
                                "OPERATOR",
                                "populations",
                                List.of("desktops"),
                                "password",
                                "given-by-another"));
        LucidServer.Client operator = SERVER.nobody();
        operator.get("/api/sessions/current");
        operator.post("/api/sessions", Map.of("name", "op", "password", "given-by-another"));
        operator.put(
                "/api/sessions/current/password",
                null,
                Map.of("old", "given-by-another", "chosen", "chosen-by-myself"));
        assertThat(operator.get("/api/carriers/AC-1").json().path("columns").toString())
                .contains("desktops")
                .doesNotContain("kiosks", "none");
        assertThat(operator.get("/api/carriers/AC-1/hosts").text())
                .contains("ac-off")
                .doesNotContain("ac-ksk", "ac-odd");
        assertThat(operator.get("/api/carriers/AC-1/hosts?population=kiosks").text())
                .doesNotContain("ac-ksk");
        assertThat(operator.get("/api/carriers/AC-1/hosts.csv").text()).doesNotContain("ac-ksk", "ac-odd");
        assertThat(operator.get("/api/carriers").json().path("hosts").asInt()).isEqualTo(1);
        assertThat(operator.get("/api/populations").text())
                .contains("Office desktops")
                .doesNotContain("Ticket kiosks", "ac-odd");
    }

    @Test
    void aHostsTokenReportsThatHostOnlyAndExpires() {
        LucidServer.Client administrator = SERVER.administrator();
        String token = administrator
                .post("/api/tokens", Map.of("name", "own", "scope", "HOST", "host", "ac-own", "days", 30))
                .json()
                .path("token")
                .asString();
        assertThat(SERVER.withToken(token)
                        .report(Examples.host("ac-own", "kiosk", "1.0", Instant.now())
                                .getBytes(StandardCharsets.UTF_8))
                        .status())
                .isEqualTo(200);
        LucidServer.Answer other = SERVER.withToken(token)
                .report(Examples.host("ac-other", "kiosk", "1.0", Instant.now()).getBytes(StandardCharsets.UTF_8));
        assertThat(other.status()).isEqualTo(403);
        assertThat(other.text()).contains("may report ac-own only, not ac-other");
        assertThat(administrator
                        .post("/api/tokens", Map.of("name", "nobodys", "scope", "HOST"))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("host");
        String brief = administrator
                .post("/api/tokens", Map.of("name", "brief", "scope", "REPORT", "days", 1))
                .json()
                .path("token")
                .asString();
        assertThat(SERVER.withToken(brief).get("/api/clock").status()).isEqualTo(200);
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 25));
        assertThat(SERVER.withToken(brief).get("/api/clock").status()).isEqualTo(401);
    }

    @Test
    void aWrongPasswordIsRefusedAndTellsNothing() {
        LucidServer.Client client = SERVER.nobody();
        client.get("/api/sessions/current");
        LucidServer.Answer wrong = client.post("/api/sessions", Map.of("name", "m.aldane", "password", "guess"));
        LucidServer.Answer unknown = client.post("/api/sessions", Map.of("name", "x", "password", "guess"));
        assertThat(wrong.status()).isEqualTo(401);
        assertThat(unknown.text()).isEqualTo(wrong.text());
        assertThat(client.get("/api/sessions/current").json().has("login")).isFalse();
    }

    @Test
    void everyAnswerSaysHowABrowserMayUseIt() {
        LucidServer.Answer answer = SERVER.analyst().get("/api/docket");
        assertThat(answer.headers().firstValue("Referrer-Policy")).contains("no-referrer");
        assertThat(answer.headers().firstValue("X-Frame-Options")).contains("DENY");
        assertThat(answer.headers().firstValue("Permissions-Policy")).isPresent();
        assertThat(answer.headers().firstValue("Cache-Control"))
                .hasValueSatisfying(value -> assertThat(value).contains("no-cache"));
    }

    @Test
    void aRequestWithoutTheForgeryTokenIsRefused() {
        LucidServer.Client client = SERVER.nobody();
        assertThat(client.post("/api/sessions", Map.of("name", "m.aldane", "password", "skerry-line"))
                        .status())
                .isEqualTo(403);
    }

    @Test
    void signingOutEndsTheSession() {
        LucidServer.Client client = SERVER.analyst();
        assertThat(client.get("/api/docket").status()).isEqualTo(200);
        assertThat(client.delete("/api/sessions/current").status()).isEqualTo(204);
        assertThat(client.get("/api/docket").status()).isEqualTo(401);
    }

    @Test
    void peopleAndTokensAreMadeAndRevokedAndRecorded() {
        LucidServer.Client administrator = SERVER.administrator();
        assertThat(administrator
                        .post(
                                "/api/accounts",
                                Map.of(
                                        "name",
                                        "o.new",
                                        "displayName",
                                        "O. New",
                                        "role",
                                        "READER",
                                        "password",
                                        "skerry-line"))
                        .status())
                .isEqualTo(201);
        assertThat(SERVER.person("o.new")
                        .get("/api/sessions/current")
                        .json()
                        .path("displayName")
                        .asString())
                .isEqualTo("O. New");
        assertThat(administrator
                        .post(
                                "/api/accounts",
                                Map.of(
                                        "name",
                                        "o.new",
                                        "displayName",
                                        "O. New",
                                        "role",
                                        "READER",
                                        "password",
                                        "skerry-line"))
                        .status())
                .isEqualTo(409);
        assertThat(administrator
                        .post(
                                "/api/accounts",
                                Map.of("name", "p", "displayName", "P", "role", "READER", "password", "short"))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("password");
        String token = administrator
                .post("/api/tokens", Map.of("name", "ship", "scope", "REPORT"))
                .json()
                .path("token")
                .asString();
        assertThat(SERVER.withToken(token).get("/api/clock").status()).isEqualTo(200);
        assertThat(administrator.delete("/api/tokens/ship").status()).isEqualTo(204);
        assertThat(SERVER.withToken(token).get("/api/clock").status()).isEqualTo(401);
        assertThat(administrator.get("/api/record?kind=ACCESS").text())
                .contains("The token ship was revoked.", "O. New (o.new) was added as reader.")
                .doesNotContain(token);
    }

    @Test
    void pagesComeWithAStrictPolicyAndEveryPlaceHasItsAddress() {
        for (String place : new String[] {
            "/", "/docket", "/cases/LNT-1", "/carriers/X?population=a", "/populations", "/hosts/a-1", "/record"
        }) {
            LucidServer.Answer page = SERVER.nobody().get(place);
            assertThat(page.text()).as(place).contains("<div id=\"root\">");
            assertThat(page.headers().firstValue("Content-Security-Policy"))
                    .as(place)
                    .hasValueSatisfying(policy -> assertThat(policy)
                            .contains("default-src 'self'", "frame-ancestors 'none'")
                            .doesNotContain("script-src", "unsafe-eval"));
            assertThat(page.headers().firstValue("X-Content-Type-Options")).contains("nosniff");
        }
    }
}
