package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.rometools.rome.feed.synd.SyndEntry;
import com.rometools.rome.feed.synd.SyndFeed;
import com.rometools.rome.io.FeedException;
import com.rometools.rome.io.SyndFeedInput;
import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import lucid.core.fleet.HostReport;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/**
 * What is told to others: the record as a feed, statements about vulnerabilities, an inventory, a verdict on one page.
 */
class TellingTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    TellingTest() {
        super(SERVER);
    }

    @Test
    void aFeedReaderReadsTheRecord() throws FeedException {
        assertThat(SERVER.analyst()
                        .post(
                                "/api/acknowledgements",
                                Map.of("updates", List.of(update), "populations", List.of("kiosks")))
                        .status())
                .isLessThan(500);
        String address = SERVER.person("j.fenn")
                .post("/api/addresses/FEED", Map.of())
                .json()
                .path("path")
                .asString();
        LucidServer.Answer answer = SERVER.nobody().get(address);
        assertThat(answer.status()).isEqualTo(200);
        SyndFeed feed = new SyndFeedInput().build(new StringReader(answer.text()));
        JsonNode newest =
                SERVER.reader().get("/api/record").json().path("entries").get(0);
        SyndEntry entry = feed.getEntries().get(0);
        assertThat(entry.getAuthor()).isEqualTo(newest.path("author").asString());
        assertThat(entry.getContents().get(0).getValue())
                .isEqualTo(newest.path("sentence").asString());
        assertThat(entry.getUpdatedDate().toInstant().getEpochSecond())
                .isEqualTo(Instant.parse(newest.path("at").asString()).getEpochSecond());
        assertThat(feed.getEntries().stream().map(SyndEntry::getUri).distinct()).hasSameSizeAs(feed.getEntries());
        String key = address.substring(address.indexOf('?'));
        assertThat(SERVER.nobody().get("/api/calendar" + key).status())
                .as("it opens nothing else")
                .isEqualTo(403);
        assertThat(SERVER.nobody().get("/api/record" + key).status()).isEqualTo(403);
    }

    @Test
    void theRecordIsNarrowedByPersonDayAndText() {
        SERVER.analyst().post("/api/verdicts", draft("BLOCK", 5, "kiosks"), "If-Match", "*");
        String person = SERVER.reader()
                .get("/api/record?kind=VERDICT")
                .json()
                .path("entries")
                .get(0)
                .path("author")
                .asString();
        assertThat(person).startsWith("M. Aldane");
        String today = inDays(0).toString();
        String asked = "/api/record?text=" + update + "&person=" + person.replace(" ", "%20") + "&from=" + today;
        assertThat(SERVER.reader().get(asked + "&to=" + today).json().path("entries"))
                .hasSize(1);
        assertThat(SERVER.reader().get(asked + "&to=" + inDays(-1)).json().path("entries"))
                .isEmpty();
        assertThat(SERVER.reader().get("/api/record?text=100%25_").json().path("entries"))
                .isEmpty();
        assertThat(SERVER.reader().get("/api/record?person=nobody").json().path("entries"))
                .isEmpty();
        assertThat(SERVER.reader()
                        .get("/api/record/entries.json?text=" + update)
                        .json()
                        .valueStream()
                        .map(entry -> entry.path("subject").asString()))
                .contains(update);
        assertThat(SERVER.reader().get("/api/record").json().path("people").toString())
                .contains(person);
    }

    private String note(String hosts, String reason) {
        SERVER.machine()
                .documents(Map.of(
                        "a.json",
                        Examples.advisory(update + "-V", "2.0").replace("CVE-2026-9000001", "CVE-2026-9000077")));
        assertThat(SERVER.analyst()
                        .post(
                                "/api/not-affected-notes",
                                Map.of("update", update + "-V", "where", hosts, "reason", reason),
                                "If-Match",
                                "*")
                        .status())
                .isEqualTo(201);
        return update + "-V";
    }

    /** Our own readers check the schemas and the mandatory tests; a second validator reads it in the browser tests. */
    @Test
    void notesAreToldAsStatementsOfTheNamedHostsAlone() {
        String id = note("name in (ksk-1, ksk-2)", "The print service is switched off.");
        String csaf = SERVER.reader().get("/api/cases/" + id + "/csaf-vex").text();
        ReadDocument read = Documents.read(csaf.getBytes(StandardCharsets.UTF_8), ReadingHints.none(Instant.now()));
        assertThat(read.problems()).isEmpty();
        JsonNode statement = SERVER.reader()
                .get("/api/cases/" + id + "/csaf-vex")
                .json()
                .path("vulnerabilities")
                .get(0);
        assertThat(statement.path("cve").asString()).isEqualTo("CVE-2026-9000077");
        assertThat(statement.path("product_status").path("known_not_affected")).hasSize(2);
        assertThat(csaf).contains("desk 1.0 on ksk-1").doesNotContain("off-1");
        JsonNode open = SERVER.reader().get("/api/cases/" + id + "/openvex").json();
        JsonNode told = open.path("statements").get(0);
        assertThat(told.path("status").asString()).isEqualTo("not_affected");
        assertThat(told.path("impact_statement").asString())
                .isEqualTo("The print service is switched off. (hosts where name in (ksk-1, ksk-2))");
        assertThat(told.path("products").valueStream().map(product -> product.path("@id")
                        .asString()))
                .containsExactly("urn:lucid-verdict:host:ksk-1", "urn:lucid-verdict:host:ksk-2");
        assertThat(SERVER.reader().get("/api/cases/" + update + "/openvex").status())
                .isEqualTo(404);
    }

    /** The schema of the standard is asked in the browser tests, where a library for it can be had. */
    @Test
    void theInventoryOfAHostIsReadBackAsItIs() {
        byte[] inventory =
                SERVER.reader().get("/api/hosts/ksk-1/cyclonedx").text().getBytes(StandardCharsets.UTF_8);
        ReadDocument read = Documents.read(inventory, ReadingHints.none(Instant.now()));
        assertThat(read.problems()).isEmpty();
        HostReport report = ((Content.OfInventory) read.content()).reports().get(0);
        assertThat(report.name().value()).isEqualTo("ksk-1");
        assertThat(report.products())
                .extracting(product -> product.build() + " " + product.version())
                .containsExactly("pkg:generic/desk 1.0");
        assertThat(report.traits().get("role")).hasToString("kiosk");
        assertThat(SERVER.reader().get("/api/hosts/nobody/cyclonedx").status()).isEqualTo(404);
    }

    @Test
    void aSheetKeepsHowTheCaseStoodAndSaysWhatThenHappened() {
        Map<String, Object> draft = draft("FORCE", 3, "kiosks");
        JsonNode made =
                SERVER.analyst().post("/api/verdicts", draft, "If-Match", "*").json();
        long number = made.path("verdicts").get(0).path("number").asLong();
        JsonNode sheet =
                SERVER.reader().get("/api/verdicts/" + number + "/sheet").json();
        assertThat(sheet.path("stood").path("foreseen").path("decided").asInt()).isEqualTo(2);
        assertThat(sheet.path("stood").path("stood").path("cues").valueStream().map(cue -> cue.path("type")
                        .asString()))
                .containsExactlyElementsOf(UNTOUCHED);
        assertThat(sheet.path("stood")
                        .path("stood")
                        .path("weighed")
                        .path("lacking")
                        .asInt())
                .isEqualTo(2);
        assertThat(sheet.path("became").path("states").path("missing").asInt()).isEqualTo(2);
        SERVER.machine()
                .report(Examples.host("ksk-1", "kiosk", "2.0", Instant.now()).getBytes());
        SERVER.restart();
        JsonNode later =
                SERVER.reader().get("/api/verdicts/" + number + "/sheet").json();
        assertThat(later.path("stood")).isEqualTo(sheet.path("stood"));
        assertThat(later.path("became").path("have").asInt()).isEqualTo(1);
        assertThat(later.path("since").get(0).path("sentence").asString()).startsWith("Forced " + update);
        assertThat(SERVER.reader().get("/api/verdicts/9999/sheet").status()).isEqualTo(404);
        JsonNode forced = SERVER.reader()
                .get("/api/report/forced")
                .json()
                .valueStream()
                .filter(one -> one.path("number").asLong() == number)
                .findFirst()
                .orElseThrow();
        assertThat(forced.path("hosts").asInt()).isEqualTo(2);
        assertThat(forced.path("have").asInt()).isEqualTo(1);
        SERVER.machine()
                .report(Examples.host("ksk-1", "kiosk", "1.0", Instant.now()).getBytes());
    }

    @Test
    void whatIsWithheldIsToldByReasonAndByOwner() {
        SERVER.analyst().post("/api/verdicts", draft("BLOCK", 5, "kiosks"), "If-Match", "*");
        JsonNode view = SERVER.reader().get("/api/report/withheld").json();
        JsonNode row = view.path("rows")
                .valueStream()
                .filter(one -> one.path("about").asString().equals(update))
                .findFirst()
                .orElseThrow();
        assertThat(row.path("hosts").asInt()).isEqualTo(2);
        assertThat(row.path("owner").asString()).isEqualTo("M. Aldane");
        assertThat(view.path("byReason").toString()).contains("UNTESTED");
        assertThat(view.path("byOwner").toString()).contains("M. Aldane");
        assertThat(SERVER.reader().get("/api/report/withheld.csv").text()).contains(update);
    }

    @Test
    void whatIsExploitedIsToldWithItsPublicDueDay() {
        String id = note("name = ksk-2", "not used");
        SERVER.machine()
                .documents(
                        Map.of(
                                "k.json",
                                "{\"catalogVersion\":\"1\",\"vulnerabilities\":[{\"cveID\":\"CVE-2026-9000077\",\"dateAdded\":\"2026-11-20\",\"requiredAction\":\"Apply the update.\",\"dueDate\":\"2026-11-21\",\"knownRansomwareCampaignUse\":\"Known\"}]}"));
        JsonNode row = SERVER.reader().get("/api/report/exploited").json().get(0);
        assertThat(row.path("cve").asString()).isEqualTo("CVE-2026-9000077");
        assertThat(row.path("daysLeft").asInt()).isNegative();
        assertThat(row.path("closing").toString()).contains(id);
        assertThat(row.path("notAffected").asInt()).isEqualTo(1);
        assertThat(row.path("open").path("names").toString()).contains("ksk-1").doesNotContain("ksk-2");
        assertThat(SERVER.reader().get("/api/report/exploited.csv").text()).contains("CVE-2026-9000077,2026-11-20");
    }
}
