package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URLEncoder;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Whatever is sent, the answer is in words, and nobody's page breaks. */
class HostileTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    // ---- identifiers of any legal spelling have an address

    @ParameterizedTest
    @ValueSource(
            strings = {
                "HST/1",
                "HST;2",
                "HST%3",
                "HST\\\\4",
                "HST?5",
                "HST#6",
                "HST 7",
                "HST+8",
                "HST%2F9",
                "HST&10",
                "HST..11",
                "../HST/12",
                "HST:\u03a9\u6e2f-13",
                "\ud83d\udea2 HST 14",
                "HST//15",
                "<b>HST</b>16"
            })
    void anUpdateOfAnyNameIsOpenedAndJudged(String id) {
        String spelled = id.replace("\\\\", "\\");
        assertThat(SERVER.machine()
                        .documents(Map.of("n.json", Examples.notice(id, "1", "2.0")))
                        .text())
                .contains("ACCEPTED");
        LucidServer.Client analyst = SERVER.analyst();
        assertThat(analyst.get("/api/cases/" + encoded(spelled))
                        .json()
                        .path("update")
                        .path("id")
                        .asString())
                .isEqualTo(spelled);
        assertThat(analyst.get("/api/carriers/" + encoded(spelled)).status()).isEqualTo(200);
        assertThat(analyst.get("/api/carriers/" + encoded(spelled) + "/hosts.csv")
                        .status())
                .isEqualTo(200);
        assertThat(analyst.get("/api/record?subject=" + encoded(spelled)).json().path("entries"))
                .isNotEmpty();
        assertThat(analyst.get("/api/docket").status()).isEqualTo(200);
        assertThat(analyst.get("/cases/" + encoded(spelled)).text())
                .as("the page of its place")
                .contains("<div id=\"root\">");
    }

    @ParameterizedTest
    @ValueSource(strings = {"host/1", "host;2", "host%3", "host\\\\4", "host 5", "ho\u00f8st-6"})
    void aHostOfAnyNameIsOpened(String name) {
        String spelled = name.replace("\\\\", "\\");
        assertThat(SERVER.machine()
                        .report(Examples.host(name, "kiosk", "1.0", Instant.now())
                                .getBytes(StandardCharsets.UTF_8))
                        .status())
                .isEqualTo(200);
        assertThat(SERVER.reader()
                        .get("/api/hosts/" + encoded(spelled))
                        .json()
                        .path("name")
                        .asString())
                .isEqualTo(spelled);
    }

    // ---- documents and forms

    @Test
    void aFileNameIsShownAsFarAsItCanBe() {
        String odd = "a\u202eb\u0007.json";
        LucidServer.Answer answer = SERVER.machine().documents(Map.of(odd, Examples.notice("HST-NAME", "1", "2.0")));
        assertThat(answer.status()).isEqualTo(200);
        assertThat(answer.json().get(0).path("name").asString()).isEqualTo("a\ufffdb\ufffd.json");
        assertThat(SERVER.analyst()
                        .send(
                                "POST",
                                "/api/documents",
                                "multipart/form-data; boundary=part",
                                BodyPublishers.ofString(
                                        "--part\r\nContent-Disposition: form-data; name=\"files\"; filename=\"a\0b.json\"\r\n\r\n{}\r\n--part--\r\n"))
                        .status())
                .isLessThan(500);
        assertThat(SERVER.analyst()
                        .send("POST", "/api/documents", "multipart/form-data", BodyPublishers.ofString("no parts"))
                        .status())
                .isEqualTo(400);
        assertThat(SERVER.analyst()
                        .send(
                                "POST",
                                "/api/documents",
                                "multipart/form-data; boundary=part",
                                BodyPublishers.ofString("--part\r\nContent-Disp"))
                        .status())
                .isLessThan(500);
    }

    @Test
    void datesBeyondReasonAreRefusedEverywhere() {
        SERVER.machine().documents(Map.of("n.json", Examples.notice("HST-DATE", "1", "2.0")));
        for (String day : List.of("9999-12-31", "-0500-01-01", "1970-01-01", "+123456789-01-01", "tomorrow")) {
            LucidServer.Answer answer = SERVER.analyst()
                    .post(
                            "/api/verdicts/preview",
                            Map.of(
                                    "update",
                                    "HST-DATE",
                                    "revision",
                                    "1",
                                    "type",
                                    "BLOCK",
                                    "populations",
                                    List.of("kiosks"),
                                    "until",
                                    day));
            assertThat(answer.status()).as(day + answer.text()).isEqualTo(422);
            assertThat(answer.text()).contains("until");
        }
        String notice = Examples.notice("HST-DATE-2", "1", "2.0");
        for (String instant : List.of("9999-01-01T00:00:00Z", "0001-01-01T00:00:00Z")) {
            assertThat(SERVER.machine()
                            .documents(Map.of(
                                    "n.json",
                                    notice.replaceFirst(
                                            "\"published\": \"[^\"]+\"", "\"published\": \"" + instant + "\"")))
                            .text())
                    .contains("REJECTED")
                    .contains("1990 to 2100");
        }
        assertThat(SERVER.machine()
                        .report(Examples.host("hst-date", "kiosk", "1.0", Instant.parse("0500-01-01T00:00:00Z"))
                                .getBytes(StandardCharsets.UTF_8))
                        .text())
                .contains("1990 to 2100");
    }

    @Test
    void muchOfAnythingIsRefusedInWords() {
        SERVER.machine().documents(Map.of("n.json", Examples.notice("HST-MUCH", "1", "2.0")));
        LucidServer.Client analyst = SERVER.analyst();
        List<Long> many = new ArrayList<>();
        for (long i = 0; i < 5_000; i++) {
            many.add(i);
        }
        Map<String, Object> verdict = new LinkedHashMap<>(Map.of(
                "update",
                "HST-MUCH",
                "revision",
                "1",
                "type",
                "BLOCK",
                "populations",
                List.of("kiosks"),
                "until",
                "2026-12-14",
                "reasons",
                List.of("UNTESTED")));
        verdict.put("overrides", many);
        assertThat(analyst.post("/api/verdicts", verdict).json().path("field").asString())
                .isEqualTo("overrides");
        verdict.put("overrides", List.of());
        verdict.put("words", "w".repeat(9_000));
        assertThat(analyst.post("/api/verdicts", verdict).json().path("field").asString())
                .isEqualTo("words");
        assertThat(analyst.post(
                                "/api/not-affected-notes",
                                Map.of(
                                        "update",
                                        "HST-MUCH",
                                        "where",
                                        "name = '" + "x".repeat(9_000) + "'",
                                        "reason",
                                        "r"))
                        .status())
                .isBetween(400, 499);
        assertThat(SERVER.administrator()
                        .post(
                                "/api/feeds",
                                Map.of(
                                        "name",
                                        "ports",
                                        "kind",
                                        "DOCUMENT",
                                        "address",
                                        "http://vendor.example:99999/a",
                                        "everyMinutes",
                                        60))
                        .status())
                .isLessThan(500);
        assertThat(SERVER.analyst()
                        .post("/api/documents/imports", Map.of("address", "http://vendor.example:99999/a"))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("address");
    }

    @Test
    void aLineIsALine() {
        SERVER.machine().documents(Map.of("n.json", Examples.notice("HST-LINE", "1", "2.0")));
        LucidServer.Client analyst = SERVER.analyst();
        Map<String, Object> exception = new LinkedHashMap<>(Map.of(
                "update",
                "HST-LINE",
                "scope",
                "UPDATE",
                "hosts",
                "name = 'none'",
                "until",
                "2026-12-14",
                "reason",
                "r",
                "owner",
                "o",
                "measure",
                "m"));
        for (String field : List.of("reason", "owner", "measure")) {
            Map<String, Object> broken = new LinkedHashMap<>(exception);
            broken.put(field, "first\nsecond");
            LucidServer.Answer answer = analyst.post("/api/exceptions", broken);
            assertThat(answer.json().path("field").asString()).as(answer.text()).isEqualTo(field);
            assertThat(answer.text()).contains("must not hold line breaks");
        }
        assertThat(analyst.post(
                                "/api/not-affected-notes",
                                Map.of("update", "HST-LINE", "where", "name = 'none'", "reason", "first\nsecond"))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("reason");
    }

    // ---- every route, every field

    @Test
    void noRouteFailsOnAnythingThatIsSent() throws Exception {
        assertThat(HostileRequests.failures(SERVER.analyst(), SERVER.administrator()))
                .isEmpty();
        for (String page : List.of("/api/docket", "/api/carriers", "/api/hosts", "/api/documents")) {
            assertThat(SERVER.analyst().get(page).status()).as(page).isEqualTo(200);
        }
    }
}
