package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** What hosts tell of the sources from which they take their packages. */
class SourcesTest {

    /** After the update was published. */
    private static String fetched;

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    @BeforeAll
    static void kiosksOnTwoMirrors() {
        SERVER.populations(Examples.POPULATIONS.replace("\"tier\": 2,", "\"tier\": 2, \"supply\": \"http://one\","));
        SERVER.machine().documents(Map.of("a.json", Examples.notice("DSK-1", "1", "1.5")));
        fetched = Instant.now().truncatedTo(ChronoUnit.MILLIS).toString();
        report(onSource("ksk-1", "http://one", "http://one", "1.6"));
        report(onSource("ksk-2", "http://one", "http://other", "1.4"));
        report(onSource("ksk-3", "http://two", "http://two", "1.4"));
        report(Examples.host("ksk-4", "kiosk", "1.0", Instant.now()));
        report(onSource("ksk-5", "http://one", "http://one", "1.4").replace(fetched, "2026-11-20T05:00:00Z"));
    }

    private static String onSource(String name, String source, String origin, String available) {
        return Examples.host(name, "kiosk", "1.0", Instant.now())
                .replace("\"traits\"", "\"supply\":\"" + source + "\",\"listsAt\":\"" + fetched + "\",\"traits\"")
                .replace("\"version\":\"1.0\"", "\"version\":\"1.0\",\"origin\":\"" + origin + "\"")
                .replace(
                        "{\"t\":\"end\",\"lines\":2}",
                        "{\"t\":\"available\",\"purl\":\"pkg:generic/desk\",\"version\":\"" + available
                                + "\",\"candidate\":true}\n{\"t\":\"end\",\"lines\":3}");
    }

    private static void report(String lines) {
        assertThat(SERVER.machine().report(lines.getBytes()).text()).contains("\"problems\":[]");
    }

    private static void caseTellsWhereItIs() {
        JsonNode sources = SERVER.reader().get("/api/cases/DSK-1/sources").json();
        assertThat(sources.path("there").path("names").toString()).isEqualTo("[\"ksk-1\"]");
        assertThat(sources.path("notYet").findValuesAsString("source")).containsExactly("http://one", "http://two");
        assertThat(sources.path("notTold").path("names").toString()).isEqualTo("[\"ksk-4\"]");
        assertThat(sources.path("notFetched").path("names").toString()).isEqualTo("[\"ksk-5\"]");
    }

    @Test
    void aCaseTellsWhichHostsFindItOnTheirSourcesAlsoAfterARestart() {
        caseTellsWhereItIs();
        SERVER.restart();
        caseTellsWhereItIs();
        assertThat(SERVER.reader().get("/api/carriers/DSK-1/hosts.csv").text())
                .contains("on its sources")
                .containsPattern("ksk-1,.*,there,")
                .containsPattern("ksk-2,.*,not yet,")
                .containsPattern("ksk-4,.*,not told,")
                .containsPattern("ksk-5,.*,not fetched since,");
    }

    @Test
    void aForceNamesHostsThatCannotGetItYet() {
        JsonNode worded = SERVER.analyst()
                .post(
                        "/api/verdicts/preview",
                        Examples.verdict(
                                "DSK-1",
                                "FORCE",
                                "kiosks",
                                LocalDate.now(ZoneOffset.UTC).plusDays(9),
                                "UNTESTED"))
                .json()
                .get(0);
        assertThat(worded.path("notOnSources").path("names").toString()).isEqualTo("[\"ksk-2\",\"ksk-3\"]");
    }

    @Test
    void aHostTellsWhatItsPackageManagerKnows() {
        JsonNode host = SERVER.reader().get("/api/hosts/ksk-2").json();
        assertThat(host.path("lists").path("fetched").asString()).isEqualTo(fetched);
        JsonNode from = host.path("lists").path("cameFrom").get(0);
        assertThat(from.path("source").asString()).isEqualTo("http://other");
        assertThat(from.path("products").asInt()).isEqualTo(1);
        assertThat(from.path("expected").asBoolean(true)).isFalse();
        assertThat(host.path("products").get(0).path("candidate").asString()).isEqualTo("1.4");
        assertThat(host.path("differences").toString())
                .as("set to the right source, but what it has came from another")
                .contains("ANOTHER_SUPPLY");
        JsonNode lacked = SERVER.reader()
                .get("/api/hosts/ksk-2/updates?lacking=true")
                .json()
                .path("updates")
                .get(0);
        assertThat(lacked.path("onSources").asString()).isEqualTo("NOT_YET");
    }

    @Test
    void aVersionThatIsAvailableWithoutATimeOfItsListsIsRefused() {
        assertThat(SERVER.machine()
                        .report(onSource("ksk-9", "http://one", "http://one", "1.6")
                                .replace("\"listsAt\":\"" + fetched + "\",", "")
                                .getBytes())
                        .text())
                .contains("does not tell when it fetched its lists (listsAt)");
    }
}
