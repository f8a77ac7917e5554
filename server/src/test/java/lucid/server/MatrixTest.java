package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** Updates by populations: what is asked of them, both faces, days that were kept, and files. */
class MatrixTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static LocalDate firstDay;

    private static Instant now() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private static void report(String name, String role, String version) {
        assertThat(SERVER.machine()
                        .report(Examples.host(name, role, version, now()).getBytes())
                        .status())
                .isEqualTo(200);
    }

    /**
     * Two kiosks and a desktop; on the first day one kiosk has the update, on the second both; then a day of silence.
     */
    @BeforeAll
    static void someDays() {
        SERVER.populations(Examples.POPULATIONS.replace("\"tier\": 2", "\"tier\": 2, \"owner\": \"T. Brevik\""));
        SERVER.machine()
                .documents(Map.of(
                        "a.json", Examples.advisory("MX-1", "2.0"), "n.json", Examples.notice("MX-2", "1", "3.0")));
        report("ksk-1", "kiosk", "2.0");
        report("ksk-2", "kiosk", "1.0");
        report("off-1", "desktop", "1.0");
        firstDay = LocalDate.ofInstant(now(), ZoneOffset.UTC);
        advance(24);
        report("ksk-1", "kiosk", "2.0");
        report("ksk-2", "kiosk", "2.0");
        report("off-1", "desktop", "1.0");
        advance(24);
        report("ksk-1", "kiosk", "2.0");
        report("ksk-2", "kiosk", "2.0");
        report("off-1", "desktop", "1.0");
    }

    private static void advance(int hours) {
        assertThat(SERVER.machine()
                        .post("/api/clock/advances", Map.of("hours", hours))
                        .status())
                .isEqualTo(200);
    }

    private static JsonNode matrix(String query) {
        return SERVER.reader().get("/api/carriers" + query).json();
    }

    private static List<String> rows(String query) {
        return matrix(query)
                .path("rows")
                .valueStream()
                .map(row -> row.path("states").path("id").asString())
                .toList();
    }

    private static JsonNode row(String query, String id) {
        return matrix(query)
                .path("rows")
                .valueStream()
                .filter(row -> row.path("states").path("id").asString().equals(id))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void eachQuestionNarrowsTheRows() {
        assertThat(rows("")).containsExactlyInAnyOrder("MX-1", "MX-2");
        assertThat(rows("?rating=HIGH")).containsExactly("MX-1");
        assertThat(rows("?kind=BUGFIX")).containsExactly("MX-2");
        assertThat(rows("?vendor=Lantern")).containsExactly("MX-1");
        assertThat(rows("?find=9000001")).containsExactly("MX-1");
        assertThat(rows("?exploited=true")).isEmpty();
        assertThat(rows("?owner=T.+Brevik")).as("all kiosks have the other").containsExactly("MX-2");
        assertThat(rows("?owner=Nobody")).isEmpty();
        assertThat(matrix("").path("choices").path("owners").toString()).isEqualTo("[\"T. Brevik\"]");
        assertThat(rows("?population=kiosks&lacking=true")).containsExactly("MX-2");
        assertThat(rows("?age=1&rating=HIGH")).hasSize(1);
        assertThat(rows("?age=9")).isEmpty();
        assertThat(rows("?due=OVERDUE")).isEmpty();
        assertThat(rows("?sort=LACKING")).containsExactly("MX-2", "MX-1");
        assertThat(rows("?sort=RATING")).containsExactly("MX-1", "MX-2");
        assertThat(rows("?sort=NAME")).containsExactly("MX-1", "MX-2");
        JsonNode refused = matrix("?sort=UP");
        assertThat(refused.path("field").asString()).isEqualTo("sort");
        assertThat(refused.path("detail").asString())
                .startsWith("one of NEWEST, ")
                .endsWith(" is expected, not 'UP'");
    }

    @Test
    void talliesCountUpdatesAndHostsOnceForEachOfThem() {
        JsonNode tallies = matrix("").path("tallies");
        assertThat(tallies.get(0).path("rating").asString()).isEqualTo("HIGH");
        assertThat(tallies.get(0).path("updates").asInt()).isEqualTo(1);
        assertThat(tallies.get(0).path("missing").asInt()).isEqualTo(1);
        assertThat(tallies.get(1).path("rating").asString()).isEqualTo("UNRATED");
        assertThat(tallies.get(1).path("missing").asInt()).isEqualTo(3);
    }

    @Test
    void theOtherFaceSaysWhatIsInForceForThoseThatLackIt() {
        JsonNode desktops = row("?face=IN_FORCE", "MX-1").path("inForce").get(1);
        assertThat(desktops.path("withheld").asInt()).isEqualTo(1);
        assertThat(desktops.path("needsVerdict").asInt()).isEqualTo(1);
        assertThat(row("", "MX-1").path("inForce")).isEmpty();
        JsonNode kiosks = row("?face=IN_FORCE", "MX-2").path("inForce").get(0);
        assertThat(kiosks.path("withheld").asInt()).isEqualTo(2);
        assertThat(kiosks.path("needsVerdict").asInt()).isZero();
        assertThat(Instant.parse(kiosks.path("nextEnd").asString())).isAfter(now());
    }

    /** A day is as it was counted, whatever was reported since. */
    @Test
    void aPastDayIsAsItWasCountedThen() {
        JsonNode first = matrix("?on=" + firstDay);
        assertThat(first.path("day").path("day").asString()).isEqualTo(firstDay.toString());
        assertThat(first.path("hosts").asInt()).isEqualTo(3);
        JsonNode then = row("?on=" + firstDay, "MX-1").path("states");
        assertThat(then.path("cells").get(0).path("carries").asInt()).isEqualTo(1);
        assertThat(then.path("cells").get(0).path("missing").asInt()).isEqualTo(1);
        assertThat(then.path("cells").get(1).path("missing").asInt()).isEqualTo(1);
        JsonNode second = row("?on=" + firstDay.plusDays(1), "MX-1").path("states");
        assertThat(second.path("cells").get(0).path("carries").asInt()).isEqualTo(2);
        // On the second day nothing changed for it: it is not written again, and told all the same.
        assertThat(row("?on=" + firstDay.plusDays(1), "MX-2")
                        .path("states")
                        .path("fleet")
                        .path("missing")
                        .asInt())
                .isEqualTo(3);
        assertThat(matrix("").path("keptDays").get(0).asString()).isEqualTo(firstDay.toString());
        assertThat(matrix("?on=" + firstDay.minusDays(9)).path("field").asString())
                .isEqualTo("on");
        for (String never : new String[] {"%2B999999999-12-31", "-999999999-01-01", "0001-01-01", "yesterday"}) {
            assertThat(matrix("?on=" + never).path("field").asString())
                    .as(never)
                    .isEqualTo("on");
            assertThat(SERVER.reader().get("/api/record?from=" + never).status())
                    .as(never)
                    .isEqualTo(422);
            assertThat(SERVER.reader()
                            .get("/api/carriers/MX-1/past?on=" + never)
                            .status())
                    .as(never)
                    .isEqualTo(400);
        }
        assertThat(matrix("?on=" + LocalDate.ofInstant(now(), ZoneOffset.UTC))
                        .path("detail")
                        .asString())
                .contains("has not ended yet");
    }

    @Test
    void theCurveOfAnUpdateIsMadeOfTheDaysOnWhichSomethingChanged() {
        JsonNode curve = SERVER.reader().get("/api/carriers/MX-1/days").json();
        assertThat(curve.path("counted").valueStream().map(day -> day.path("day")
                        .asString()))
                .containsExactly(firstDay.toString(), firstDay.plusDays(1).toString());
        assertThat(curve.path("counted")
                        .get(0)
                        .path("populations")
                        .valueStream()
                        .filter(one -> one.path("id").asString().equals("kiosks"))
                        .findFirst()
                        .orElseThrow()
                        .path("states")
                        .path("carries")
                        .asInt())
                .isEqualTo(1);
        assertThat(curve.path("until").asString())
                .isEqualTo(firstDay.plusDays(1).toString());
        assertThat(SERVER.person("b.tove").get("/api/carriers/MX-1/days").text())
                .doesNotContain("kiosks");
    }

    @Test
    void anOperatorSeesItsOwnPopulationsAlsoOfPastDays() {
        for (String query : new String[] {"", "?on=" + firstDay}) {
            JsonNode own = SERVER.person("b.tove").get("/api/carriers" + query).json();
            assertThat(own.path("columns")).as(own.toString()).isEmpty();
            assertThat(own.path("tallies")).isEmpty();
        }
        assertThat(SERVER.person("b.tove").get("/api/carriers?suggestion=BLOCK").status())
                .isEqualTo(422);
    }

    @Test
    void filesHoldEverythingThatMatches() {
        List<String> csv = SERVER.reader()
                .get("/api/carriers/matrix.csv?rating=HIGH")
                .text()
                .lines()
                .toList();
        assertThat(csv).hasSize(3);
        assertThat(csv.get(1)).startsWith("MX-1,").contains("CVE-2026-9000001", "Ticket kiosks");
        JsonNode json =
                SERVER.reader().get("/api/carriers/matrix.json?rating=HIGH").json();
        assertThat(json).hasSize(2);
        assertThat(json.get(1).path("missing").asInt()).isEqualTo(1);
        assertThat(json.get(1).path("withheld").asInt()).isEqualTo(1);
        JsonNode then = SERVER.reader()
                .get("/api/carriers/matrix.json?rating=HIGH&on=" + firstDay)
                .json();
        assertThat(then.get(0).path("withheld").asString())
                .as("what was in force then was not counted")
                .isEmpty();
        List<String> missing = SERVER.reader()
                .get("/api/carriers/missing.csv?rating=HIGH")
                .text()
                .lines()
                .toList();
        assertThat(missing).hasSize(2);
        assertThat(missing.get(1)).startsWith("off-1,Office desktops,").contains("desk 1.0,desk 2.0,withheld");
        assertThat(SERVER.reader()
                        .get("/api/carriers/missing.csv?on=" + firstDay)
                        .status())
                .isEqualTo(422);
    }

    @Test
    void timeToCarryIsCountedFromTheKeptDays() {
        JsonNode view = SERVER.reader().get("/api/report/time-to-carry?days=30").json();
        JsonNode high = view.path("ratings")
                .valueStream()
                .filter(one -> one.path("rating").asString().equals("HIGH"))
                .findFirst()
                .orElseThrow();
        assertThat(view.path("countedSince").asString()).isEqualTo(firstDay.toString());
        JsonNode kiosks = high.path("cells").get(0);
        assertThat(kiosks.path("got").asInt()).isEqualTo(2);
        assertThat(kiosks.path("nineTenths").asInt()).isBetween(1, 2);
        JsonNode desktops = high.path("cells").get(1);
        assertThat(desktops.path("waiting").asInt()).isEqualTo(1);
        assertThat(desktops.path("half").isMissingNode()
                        || desktops.path("half").isNull())
                .isTrue();
        assertThat(high.path("target").asInt()).isEqualTo(30);
        assertThat(view.path("missed")).isEmpty();
    }

    @Test
    void aTargetThatIsMissedNamesTheUpdateAndThePopulation() {
        assertThat(SERVER.analyst()
                        .put("/api/report/carry-targets", null, Map.of("days", Map.of("HIGH", 0)))
                        .status())
                .isEqualTo(422);
        assertThat(SERVER.analyst()
                        .put("/api/report/carry-targets", null, Map.of("days", Map.of("HIGH", 1)))
                        .status())
                .isEqualTo(204);
        JsonNode missed =
                SERVER.reader().get("/api/report/time-to-carry?days=30").json().path("missed");
        assertThat(missed).hasSize(1);
        assertThat(missed.get(0).path("update").asString()).isEqualTo("MX-1");
        assertThat(missed.get(0).path("population").asString()).isEqualTo("desktops");
        assertThat(missed.get(0).path("withheld").asInt()).isEqualTo(1);
        assertThat(SERVER.reader().get("/api/report/missed-targets.csv?days=30").text())
                .contains("MX-1,");
        assertThat(SERVER.reader().get("/api/record").text())
                .contains("nine tenths of the hosts of a population are to carry an update: high within 1 days");
        assertThat(SERVER.analyst()
                        .put("/api/report/carry-targets", null, Map.of("days", Map.of("HIGH", 30)))
                        .status())
                .isEqualTo(204);
    }

    @Test
    void keptDaysOutliveARestart() {
        JsonNode before = row("?on=" + firstDay, "MX-1");
        SERVER.restart();
        // The clock of the demo begins anew.
        advance(48);
        assertThat(row("?on=" + firstDay, "MX-1")).isEqualTo(before);
    }
}
