package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import java.util.zip.GZIPOutputStream;
import lucid.server.web.Digests;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

class IntakeTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static List<String> outcomes(LucidServer.Answer answer) {
        return StreamSupport.stream(answer.json().spliterator(), false)
                .map(r -> r.path("outcome").asString())
                .toList();
    }

    private static JsonNode document(String name) {
        JsonNode page = SERVER.reader().get("/api/documents").json();
        return StreamSupport.stream(page.path("documents").spliterator(), false)
                .filter(d -> d.path("name").asString().equals(name))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void keepsTheGoodOnesOfABatchAndNamesPlaceAndReasonOfTheOthers() {
        Map<String, String> batch = new LinkedHashMap<>();
        batch.put("a.json", Examples.notice("IN-1", "1", "2.0"));
        batch.put("b.json", Examples.notice("IN-2", "one", "2.0"));
        batch.put("c.json", "not json");
        batch.put("d.json", Examples.advisory("IN-3", "2.0"));
        assertThat(outcomes(SERVER.machine().documents(batch)))
                .containsExactly("ACCEPTED", "REJECTED", "REJECTED", "ACCEPTED");
        assertThat(document("b.json").path("problems").get(0).path("place").asString())
                .isEqualTo("/revision");
        assertThat(document("c.json").path("problems").get(0).path("place").asString())
                .isEqualTo("line 1, column 1");
        assertThat(SERVER.reader()
                        .get("/api/documents/"
                                + document("c.json").path("number").asLong() + "/content")
                        .text())
                .isEqualTo("not json");
        assertThat(SERVER.reader().get("/api/cases/IN-1").status()).isEqualTo(200);
        assertThat(SERVER.reader().get("/api/cases/IN-2").status()).isEqualTo(404);
    }

    @Test
    void otherContentUnderTheSameRevisionIsHeldUntilAPersonTakesIt() {
        String first = Examples.notice("IN-40", "2", "2.0");
        SERVER.machine().documents(Map.of("first.json", first));
        String second = first.replace("\"2.0\"", "\"2.5\"");
        JsonNode held =
                SERVER.machine().documents(Map.of("second.json", second)).json().get(0);
        assertThat(held.path("outcome").asString()).isEqualTo("REJECTED");
        assertThat(held.path("problems").get(0).path("reason").asString())
                .startsWith("revision 2 of IN-40 was read before with other content");
        assertThat(SERVER.reader().get("/api/cases/IN-40").text()).contains("\"end\":\"2.0\"");
        SERVER.analyst()
                .post("/api/documents/" + held.path("number").asLong() + "/retries", Map.of("columns", Map.of()));
        assertThat(SERVER.reader().get("/api/cases/IN-40").text()).contains("\"end\":\"2.5\"");
    }

    @Test
    void theSameDocumentTwiceAndAnOlderRevisionChangeNothing() {
        String second = Examples.notice("IN-4", "2", "2.0");
        assertThat(outcomes(SERVER.machine().documents(Map.of("n.json", second))))
                .containsExactly("ACCEPTED");
        assertThat(outcomes(SERVER.machine().documents(Map.of("n.json", second))))
                .containsExactly("DUPLICATE");
        assertThat(outcomes(SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-4", "1", "1.0")))))
                .containsExactly("STALE");
        assertThat(SERVER.reader()
                        .get("/api/cases/IN-4")
                        .json()
                        .path("update")
                        .path("revision")
                        .asString())
                .isEqualTo("2");
    }

    @Test
    void joinsAdvisoryAndNoticeAndRefusesOneThatContradicts() {
        assertThat(outcomes(SERVER.machine().documents(Map.of("a.json", Examples.advisory("IN-5", "3.0")))))
                .containsExactly("ACCEPTED");
        assertThat(SERVER.reader()
                        .get("/api/cases/IN-5")
                        .json()
                        .path("update")
                        .path("kind")
                        .asString())
                .isEqualTo("SECURITY");
        LucidServer.Answer contradiction =
                SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-5", "1", "4.0")));
        assertThat(outcomes(contradiction)).containsExactly("REJECTED");
        assertThat(contradiction.text()).contains("contradicts what is known of IN-5");
        assertThat(outcomes(SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-5", "1", "3.0")))))
                .containsExactly("ACCEPTED");
        assertThat(SERVER.reader()
                        .get("/api/cases/IN-5")
                        .json()
                        .path("update")
                        .path("kind")
                        .asString())
                .isEqualTo("BUGFIX");
    }

    @Test
    void hostReportsPlainAndCompressed() throws IOException {
        byte[] plain = Examples.host("in-host", "kiosk", "1.0", Instant.now()).getBytes(StandardCharsets.UTF_8);
        assertThat(SERVER.machine().report(plain).status()).isEqualTo(200);
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(bytes)) {
            gzip.write(Examples.host("in-host-2", "kiosk", "1.0", Instant.now()).getBytes(StandardCharsets.UTF_8));
        }
        assertThat(SERVER.machine().report(bytes.toByteArray()).status())
                .as("gzip without saying so")
                .isEqualTo(200);
        assertThat(SERVER.machine().compressedReport(bytes.toByteArray()).status())
                .isEqualTo(200);
        assertThat(SERVER.machine().compressedReport(plain).text()).contains("not whole gzip");
        assertThat(SERVER.machine()
                        .send(
                                "POST",
                                "/api/reports",
                                "application/x-ndjson",
                                BodyPublishers.ofString("{\"t\":\"host\"}"))
                        .status())
                .isEqualTo(422);
        assertThat(SERVER.machine()
                        .report(Examples.notice("IN-6", "1", "1.0").getBytes(StandardCharsets.UTF_8))
                        .text())
                .contains("only host inventories are taken here");
    }

    @Test
    void aReportFromTheFutureOrThePastIsNotBelieved() {
        assertThat(SERVER.machine()
                        .report(Examples.host(
                                        "in-clock",
                                        "kiosk",
                                        "1.0",
                                        Instant.now().plus(Duration.ofHours(5)))
                                .getBytes(StandardCharsets.UTF_8))
                        .text())
                .contains("still to come");
        Instant now = Instant.now();
        SERVER.machine().report(Examples.host("in-past", "kiosk", "2.0", now).getBytes(StandardCharsets.UTF_8));
        assertThat(SERVER.machine()
                        .report(Examples.host("in-past", "kiosk", "1.0", now.minusSeconds(60))
                                .getBytes(StandardCharsets.UTF_8))
                        .text())
                .contains("is older than");
    }

    @Test
    void everythingIsThereAfterARestart() {
        SERVER.populations(Examples.POPULATIONS);
        SERVER.machine()
                .documents(Map.of(
                        "n.json",
                        Examples.notice("IN-7", "1", "2.0"),
                        "h.jsonl",
                        Examples.hosts(Map.of("in-a", "kiosk 1.0", "in-b", "desktop 2.0"))));
        String carriers = SERVER.reader().get("/api/carriers/IN-7").text();
        String populations = SERVER.reader().get("/api/populations/document").text();
        String update = SERVER.reader().get("/api/cases/IN-7").text();
        SERVER.restart();
        assertThat(SERVER.reader().get("/api/carriers/IN-7").text()).isEqualTo(carriers);
        assertThat(SERVER.reader().get("/api/populations/document").text())
                .isEqualTo(populations)
                .contains("Ticket kiosks");
        assertThat(SERVER.reader().get("/api/cases/IN-7").text()).isEqualTo(update);
    }

    @Test
    void whatIsTooLongIsRefusedWithoutBeingReadWhole() throws IOException {
        byte[] block = new byte[1024 * 1024];
        Arrays.fill(block, (byte) ' ');
        ByteArrayOutputStream bomb = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(bomb)) {
            for (int i = 0; i < 400; i++) {
                gzip.write(block);
            }
        }
        assertThat(bomb.size()).as("400 MB in little").isLessThan(1024 * 1024);
        LucidServer.Answer answer = SERVER.machine().compressedReport(bomb.toByteArray());
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.text()).contains("expands to more than 64 MB");
    }

    private static final String UPDATEINFO = """
            <updates><update type="security"><id>%s</id><title>libtls</title><issued date="2026-11-12"/><severity>Critical</severity>
            <pkglist><collection><package name="libtls" version="3.2.9" release="1" arch="x86_64"/></collection></pkglist></update></updates>
            """;

    private static String rpmHost(String name, String namespace) {
        return Examples.host(name, "server", "1.0", Instant.now())
                .replace("pkg:generic/desk", "pkg:rpm/" + namespace + "/libtls?arch=x86_64");
    }

    @Test
    void aRefusedDocumentIsKeptAndTakenAfterWhatWasMissingIsTold() {
        SERVER.machine()
                .report((rpmHost("in-tarn", "tarn") + rpmHost("in-rill", "rill")).getBytes(StandardCharsets.UTF_8));
        LucidServer.Answer refused =
                SERVER.machine().documents(Map.of("try-updateinfo.xml", UPDATEINFO.formatted("IN-8")));
        assertThat(refused.text()).contains("REJECTED").contains("name the namespace");
        long number = refused.json().get(0).path("number").asLong();
        assertThat(SERVER.reader()
                        .get("/api/documents")
                        .json()
                        .path("namespaces")
                        .toString())
                .isEqualTo("[\"rill\",\"tarn\"]");
        assertThat(SERVER.analyst()
                        .post("/api/documents/" + number + "/retries", Map.of("namespace", "tarn"))
                        .text())
                .contains("ACCEPTED");
        assertThat(SERVER.analyst()
                        .post("/api/documents/" + number + "/retries", Map.of("namespace", "tarn"))
                        .status())
                .as("once")
                .isEqualTo(409);
        assertThat(document("try-updateinfo.xml").path("outcome").asString()).isEqualTo("ACCEPTED");
        assertThat(SERVER.reader().get("/api/carriers/IN-8/hosts").text())
                .contains("in-tarn")
                .doesNotContain("in-rill");
        String before = SERVER.reader().get("/api/cases/IN-8").text();
        SERVER.restart();
        assertThat(SERVER.reader().get("/api/cases/IN-8").text())
                .as("its namespace is kept with it")
                .isEqualTo(before);
    }

    @Test
    void anUpdateinfoBringsOnlyWhatIsNewAndKeepsTheGoodOnes() {
        String two = UPDATEINFO
                .formatted("IN-9")
                .replace(
                        "</updates>",
                        "<update><id>IN-10</id><issued date=\"2026-11-13\"/></update><update/></updates>");
        LucidServer.Answer first = SERVER.machine().documents(Map.of("u.xml", two), Map.of("namespace", "tarn"));
        assertThat(outcomes(first)).containsExactly("ACCEPTED");
        assertThat(first.json().get(0).path("subject").asString()).isEqualTo("2 updates");
        assertThat(first.json().get(0).path("problems").get(0).path("place").asString())
                .isEqualTo("/updates/update[3]");
        assertThat(outcomes(SERVER.machine().documents(Map.of("u.xml", two), Map.of("namespace", "tarn"))))
                .containsExactly("DUPLICATE");
        assertThat(outcomes(SERVER.machine().documents(Map.of("u.xml", two + " "), Map.of("namespace", "tarn"))))
                .as("the same updates in other bytes")
                .containsExactly("DUPLICATE");
        assertThat(SERVER.reader()
                        .get("/api/cases/IN-10")
                        .json()
                        .path("update")
                        .path("revisions")
                        .size())
                .isEqualTo(1);
    }

    @Test
    void theIndexOfARepositoryTellsWhetherTheUpdateinfoIsWhole() {
        String updateinfo = UPDATEINFO.formatted("IN-11");
        String index = "<repomd><data type=\"updateinfo\"><checksum type=\"sha256\">" + Digests.sha256(updateinfo)
                + "</checksum><location href=\"repodata/u11.xml\"/></data></repomd>";
        Map<String, String> altered = new LinkedHashMap<>(Map.of("repomd.xml", index));
        altered.put("u11.xml", updateinfo.replace("3.2.9", "3.2.8"));
        LucidServer.Answer refused = SERVER.machine().documents(altered, Map.of("namespace", "tarn"));
        assertThat(outcomes(refused)).containsExactly("ACCEPTED", "REJECTED");
        assertThat(refused.text()).contains("its SHA-256 is not the one that repomd.xml gives");
        Map<String, String> whole = new LinkedHashMap<>(Map.of("repomd.xml", index));
        whole.put("u11.xml", updateinfo);
        assertThat(outcomes(SERVER.machine().documents(whole, Map.of("namespace", "tarn"))))
                .containsExactly("ACCEPTED", "ACCEPTED");
        assertThat(SERVER.machine().documents(Map.of("repomd.xml", index)).text())
                .contains("bring both together");
    }

    @Test
    void theSameRequestAgainGetsTheSameAnswerAndChangesNothing() {
        Map<String, String> key = Map.of("Idempotency-Key", "import-1");
        LucidServer.Answer first = SERVER.machine().documents(Map.of("bad.json", "not json"), key);
        assertThat(SERVER.machine()
                        .documents(Map.of("bad.json", "not json"), key)
                        .text())
                .isEqualTo(first.text());
        assertThat(SERVER.machine()
                        .documents(Map.of("bad.json", "other"), key)
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("Idempotency-Key");
    }

    @Test
    void aTableAddsTraitsThatLastAndCountOnceAHostReports() {
        SERVER.machine()
                .report(Examples.host("in-table", "kiosk", "1.0", Instant.now()).getBytes(StandardCharsets.UTF_8));
        String table = "Machine,Landing,spool_free_mb\nin-table,fell,7\nin-later,north,8\nin-table,twice,9\n";
        LucidServer.Answer preview = SERVER.analyst().preview("table.csv", table);
        assertThat(preview.json().path("used").path("Landing").asString()).isEqualTo("trait landing");
        assertThat(preview.json().path("problems").size()).isEqualTo(1);
        LucidServer.Answer taken = SERVER.machine()
                .documents(Map.of("table.csv", table), Map.of("columns", "{\"Landing\":\"trait site\"}"));
        assertThat(outcomes(taken)).containsExactly("ACCEPTED");
        assertThat(taken.text()).contains("1 host has not reported yet");
        SERVER.machine()
                .report(Examples.host("in-later", "kiosk", "1.0", Instant.now()).getBytes(StandardCharsets.UTF_8));
        SERVER.machine()
                .report(Examples.host("in-table", "kiosk", "1.1", Instant.now()).getBytes(StandardCharsets.UTF_8));
        SERVER.restart();
        SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-12", "1", "2.0")));
        SERVER.populations("""
                {"format": "populations-1", "fleetRule": {"otherwise": 30}, "populations": [
                  {"id": "fell", "name": "Fell", "condition": "site = fell and spool_free_mb = 120", "tier": 2, "rule": {"otherwise": 5}},
                  {"id": "north", "name": "North", "condition": "site = north", "tier": 2, "rule": {"otherwise": 5}}]}
                """);
        assertThat(SERVER.reader()
                        .get("/api/carriers/IN-12/hosts?population=fell")
                        .text())
                .as("what the host measures itself counts first")
                .contains("in-table");
        assertThat(SERVER.reader()
                        .get("/api/carriers/IN-12/hosts?population=north")
                        .text())
                .contains("in-later");
    }

    @Test
    void whatHostsTellOfUpdatesIsKeptAndShown() {
        SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-13", "1", "2.0")));
        Instant now = Instant.now();
        SERVER.machine()
                .report(Examples.host("in-told", "kiosk", "1.0", now.minusSeconds(60))
                        .getBytes(StandardCharsets.UTF_8));
        String outcome =
                "{\"t\":\"outcome\",\"host\":\"%s\",\"update\":\"IN-13\",\"what\":\"failed\",\"at\":\"%s\",\"code\":\"E-9\",\"class\":\"refused\"}\n";
        assertThat(SERVER.machine()
                        .report(outcome.formatted("in-told", now).getBytes(StandardCharsets.UTF_8))
                        .status())
                .isEqualTo(200);
        assertThat(SERVER.machine()
                        .report(outcome.formatted("in-stranger", now).getBytes(StandardCharsets.UTF_8))
                        .text())
                .contains("has not reported itself before");
        assertThat(SERVER.machine()
                        .report(outcome.formatted("in-told", now.plusSeconds(9000))
                                .getBytes(StandardCharsets.UTF_8))
                        .text())
                .contains("still to come");
        SERVER.restart();
        JsonNode host = SERVER.reader()
                .get("/api/carriers/IN-13/hosts?state=FAILED")
                .json()
                .path("hosts")
                .get(0);
        assertThat(host.path("name").asString()).isEqualTo("in-told");
        assertThat(host.path("told").path("code").asString()).isEqualTo("E-9");
    }

    @Test
    void aHostInventoryOfAnotherFormatKeepsWhatItCannotTell() {
        Instant now = Instant.now();
        SERVER.machine()
                .report(Examples.host("in-bom", "kiosk", "1.0", now.minusSeconds(60))
                        .getBytes(StandardCharsets.UTF_8));
        String bom = """
                {"bomFormat": "CycloneDX", "specVersion": "1.5", "metadata": {"timestamp": "%s", "component": {"type": "device", "name": "in-bom"}},
                 "components": [{"type": "operating-system", "name": "Lantern Desktop", "version": "6"}, {"type": "application", "name": "desk", "version": "2.5", "purl": "pkg:generic/desk"}]}
                """.formatted(now);
        SERVER.populations(Examples.POPULATIONS);
        SERVER.machine().documents(Map.of("n.json", Examples.notice("IN-14", "1", "2.0")));
        assertThat(outcomes(SERVER.machine().documents(Map.of("bom.json", bom))))
                .containsExactly("ACCEPTED");
        JsonNode hosts = SERVER.reader()
                .get("/api/carriers/IN-14/hosts?population=kiosks&state=CARRIES")
                .json()
                .path("hosts");
        assertThat(hosts.toString())
                .as("it is a kiosk still")
                .contains("in-bom")
                .contains("2.5");
    }

    @Test
    void aDocumentIsFetchedFromAllowedPlacesOnly() throws IOException {
        HttpServer site = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        site.createContext("/a.json", exchange -> {
            byte[] body = Examples.notice("IN-15", "1", "2.0").getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(200, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        site.createContext("/to-localhost", exchange -> {
            exchange.getResponseHeaders()
                    .add("Location", "http://localhost:" + site.getAddress().getPort() + "/a.json");
            exchange.sendResponseHeaders(302, -1);
            exchange.close();
        });
        site.start();
        try {
            String address = "http://127.0.0.1:" + site.getAddress().getPort();
            assertThat(SERVER.analyst()
                            .post("/api/documents/imports", Map.of("address", address + "/a.json"))
                            .text())
                    .contains("not on the public internet");
            assertThat(SERVER.analyst()
                            .post("/api/documents/imports", Map.of("address", "file:///etc/passwd"))
                            .text())
                    .contains("is no web address");
            assertThat(SERVER.administrator()
                            .post("/api/allowed-hosts", Map.of("name", "127.0.0.1"))
                            .status())
                    .isEqualTo(201);
            assertThat(SERVER.analyst()
                            .post("/api/documents/imports", Map.of("address", address + "/to-localhost"))
                            .text())
                    .as("a redirect is checked as well")
                    .contains("localhost is not on the public internet");
            assertThat(SERVER.analyst()
                            .post("/api/documents/imports", Map.of("address", address + "/absent"))
                            .text())
                    .contains("answered 404");
            assertThat(SERVER.analyst()
                            .post("/api/documents/imports", Map.of("address", address + "/a.json"))
                            .text())
                    .contains("ACCEPTED");
            assertThat(SERVER.administrator()
                            .delete("/api/allowed-hosts/127.0.0.1")
                            .status())
                    .isEqualTo(204);
            assertThat(SERVER.analyst()
                            .post("/api/documents/imports", Map.of("address", address + "/a.json"))
                            .text())
                    .contains("not on the public internet");
        } finally {
            site.stop(0);
        }
    }

    @Test
    void schemasAreServed() {
        assertThat(SERVER.nobody()
                        .get("/api/schemas/update-notice-1")
                        .json()
                        .path("title")
                        .asString())
                .isEqualTo("Update notice, version 1");
        assertThat(SERVER.nobody().get("/api/schemas/..%2Fapplication").status())
                .isIn(400, 404);
    }

    @Test
    void aClockThatIsOffIsPutRightAndNamed() {
        Instant now = Instant.now();
        String ahead = DateTimeFormatter.RFC_1123_DATE_TIME.format(
                now.plus(Duration.ofHours(5)).atZone(ZoneOffset.UTC));
        LucidServer.Answer taken =
                SERVER.machine().report(Examples.host("clock-1", "kiosk", "1.0", now.plus(Duration.ofHours(5))), ahead);
        assertThat(taken.json().path("outcome").asString()).isEqualTo("ACCEPTED");
        assertThat(taken.text())
                .contains("its clock is 5 hours ahead; the instants of its report were put right by that");
        assertThat(Instant.parse(SERVER.reader()
                        .get("/api/hosts/clock-1")
                        .json()
                        .path("lastReport")
                        .asString()))
                .isBetween(now.minusSeconds(60), now.plusSeconds(60));
        assertThat(SERVER.machine()
                        .report(
                                Examples.host("clock-2", "kiosk", "1.0", now.plus(Duration.ofHours(5))),
                                DateTimeFormatter.RFC_1123_DATE_TIME.format(now.atZone(ZoneOffset.UTC)))
                        .text())
                .as("a clock that is right does not report what is to come")
                .contains("still to come");
        assertThat(SERVER.machine()
                        .report(Examples.host("clock-3", "kiosk", "1.0", now), "yesterday")
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("Date");
    }

    @Test
    void aReportOfNothingIsNotBelieved() {
        String whole = Examples.host("empty-1", "kiosk", "1.0", Instant.now().minusSeconds(60));
        assertThat(SERVER.machine().report(whole.getBytes()).status()).isEqualTo(200);
        String nothing = "{\"t\":\"host\",\"host\":\"empty-1\",\"platform\":\"Lantern Desktop 6\",\"at\":\""
                + Instant.now() + "\"}\n{\"t\":\"end\",\"lines\":1}\n";
        LucidServer.Answer refused = SERVER.machine().report(nothing.getBytes());
        assertThat(refused.status()).isEqualTo(422);
        assertThat(refused.text()).contains("names not one product, which cannot be");
        assertThat(SERVER.reader()
                        .get("/api/hosts/empty-1")
                        .json()
                        .path("products")
                        .size())
                .isEqualTo(1);
    }

    @Test
    void aChangeInTheLogIsAnOutcomeOfTheUpdatesThatItBrings() {
        SERVER.machine()
                .documents(Map.of(
                        "n.json",
                        Examples.notice("LOG-2", "1", "2.0"),
                        "m.json",
                        Examples.notice("LOG-3", "1", "3.0")));
        Instant at = Instant.now().minus(Duration.ofHours(2)).truncatedTo(ChronoUnit.SECONDS);
        String change =
                "{\"t\":\"change\",\"purl\":\"pkg:generic/desk\",\"what\":\"%s\",\"at\":\"%s\",\"from\":\"%s\",\"to\":\"%s\"%s}\n";
        String report = Examples.host("log-1", "kiosk", "2.0", Instant.now())
                .replace(
                        "{\"t\":\"end\",\"lines\":2}",
                        change.formatted("installed", at, "1.0", "2.0", "")
                                + change.formatted("failed", at, "2.0", "3.0", ",\"code\":\"dpkg: half-configured\"")
                                + "{\"t\":\"end\",\"lines\":4}");
        assertThat(SERVER.machine().report(report.getBytes()).json().path("problems"))
                .isEmpty();
        JsonNode host = SERVER.reader().get("/api/hosts/log-1").json();
        assertThat(host.path("outcomes")
                        .valueStream()
                        .filter(o -> o.path("update").asString().startsWith("LOG"))
                        .map(o -> o.path("what").asString() + " "
                                + o.path("update").asString() + " "
                                + o.path("at").asString()))
                .containsExactlyInAnyOrder("INSTALLED LOG-2 " + at, "FAILED LOG-3 " + at);
        assertThat(SERVER.reader()
                        .get("/api/hosts/log-1/updates")
                        .json()
                        .path("updates")
                        .valueStream()
                        .filter(u -> u.path("id").asString().equals("LOG-3"))
                        .findFirst()
                        .orElseThrow()
                        .path("state")
                        .asString())
                .isEqualTo("FAILED");
    }

    @Test
    void whatMayBeSharedWithFewerThanAreHereIsHeldUntilThatIsAllowed() {
        String red = Examples.advisory("IN-50", "2.0")
                .replace("\"title\"", "\"distribution\": {\"tlp\": {\"label\": \"RED\"}}, \"title\"");
        assertThat(outcomes(SERVER.machine().documents(Map.of("red.json", red))))
                .containsExactly("REJECTED");
        assertThat(SERVER.reader().get("/api/cases/IN-50").status()).isEqualTo(404);
        assertThat(document("red.json").path("problems").valueStream().map(problem -> problem.path("reason")
                        .asString()))
                .anyMatch(reason -> reason.contains("TLP:RED") && reason.contains("up to TLP:AMBER+STRICT"));
        String content = "/api/documents/" + document("red.json").path("number").asLong() + "/content";
        assertThat(SERVER.reader().get(content).status()).isEqualTo(403);
        assertThat(SERVER.analyst().get(content).status()).isEqualTo(403);
        assertThat(SERVER.administrator().get(content).status()).isEqualTo(200);
        assertThat(SERVER.administrator()
                        .put("/api/sharing-level", "*", Map.of("level", "RED"))
                        .status())
                .isEqualTo(200);
        assertThat(SERVER.analyst()
                        .post(
                                "/api/documents/"
                                        + document("red.json").path("number").asLong() + "/retries",
                                Map.of("columns", Map.of()))
                        .json()
                        .path("outcome")
                        .asString())
                .isEqualTo("ACCEPTED");
        JsonNode update = SERVER.reader().get("/api/cases/IN-50").json().path("update");
        assertThat(update.path("sharing").asString()).isEqualTo("RED");
        assertThat(update.path("fixes").get(0).path("from").get(0).path("place").asString())
                .isEqualTo("/product_tree/full_product_names/0");
        assertThat(SERVER.reader().get("/api/record").text()).contains("Documents may be shown here up to TLP:RED.");
    }

    @Test
    void whatIsAskedOfAnExploitedVulnerabilityStandsOnTheCase() {
        SERVER.machine()
                .documents(
                        Map.of(
                                "a.json",
                                Examples.advisory("IN-60", "2.0").replace("CVE-2026-9000001", "CVE-2026-9000060"),
                                "k.json",
                                "{\"catalogVersion\":\"1\",\"vulnerabilities\":[{\"cveID\":\"CVE-2026-9000060\",\"dateAdded\":\"2026-11-20\",\"requiredAction\":\"Apply the update.\",\"dueDate\":\"2026-12-11\",\"knownRansomwareCampaignUse\":\"Known\"}]}"));
        JsonNode listed = vulnerability("IN-60");
        assertThat(listed.path("due").asString()).isEqualTo("2026-12-11");
        assertThat(listed.path("asked").asString()).isEqualTo("Apply the update.");
        assertThat(listed.path("ransomware").asBoolean()).isTrue();
        SERVER.restart();
        assertThat(vulnerability("IN-60")).isEqualTo(listed);
    }

    private static JsonNode vulnerability(String update) {
        return SERVER.reader()
                .get("/api/cases/" + update)
                .json()
                .path("evidence")
                .path("vulnerabilities")
                .get(0);
    }
}
