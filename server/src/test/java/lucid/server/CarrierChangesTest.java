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

/** What became of all updates between two kept days. */
class CarrierChangesTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static LocalDate first;

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

    private static void nextDay() {
        assertThat(SERVER.machine()
                        .post("/api/clock/advances", Map.of("hours", 24))
                        .status())
                .isEqualTo(200);
    }

    /**
     * Of four kiosks two have the update on the first day; on the second a third one has got it, a new one comes with
     * it and another update is read; on the third the first one has lost it, and the second is retired.
     */
    @BeforeAll
    static void threeDays() {
        SERVER.populations(Examples.POPULATIONS);
        SERVER.machine().documents(Map.of("n.json", Examples.notice("CH-1", "1", "2.0")));
        report("ksk-1", "kiosk", "2.0");
        report("ksk-2", "kiosk", "2.0");
        report("ksk-3", "kiosk", "1.0");
        report("off-1", "desktop", "1.0");
        first = LocalDate.ofInstant(now(), ZoneOffset.UTC);
        assertThat(changes("").path("days")).as("nothing was kept").isEmpty();
        nextDay();
        assertThat(changes("").path("rows")).as("one day is no difference").isEmpty();
        report("ksk-3", "kiosk", "2.0");
        report("ksk-4", "kiosk", "2.0");
        SERVER.machine().documents(Map.of("n.json", Examples.notice("CH-2", "1", "1.5")));
        nextDay();
        report("ksk-1", "kiosk", "1.0");
        assertThat(SERVER.analyst()
                        .post("/api/hosts/ksk-2/retirement", Map.of("reason", "scrapped"))
                        .status())
                .isEqualTo(201);
        nextDay();
    }

    private static JsonNode changes(String query) {
        return SERVER.reader().get("/api/carriers/changes" + query).json();
    }

    private static String days(int from, int to) {
        return "?from=" + first.plusDays(from) + "&to=" + first.plusDays(to);
    }

    private static String became(JsonNode cell) {
        return "+" + cell.path("gained").asInt() + " -" + cell.path("lost").asInt() + " new "
                + cell.path("joined").asInt();
    }

    private static JsonNode row(String query, String update) {
        return changes(query)
                .path("rows")
                .valueStream()
                .filter(row -> row.path("id").asString().equals(update))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void eachKindOfChangeIsToldByPopulation() {
        JsonNode row = row(days(0, 2), "CH-1");
        assertThat(became(row.path("all"))).isEqualTo("+1 -1 new 1");
        assertThat(row.path("left").asInt()).isEqualTo(1);
        JsonNode page = changes(days(0, 2));
        int kiosks = page.path("columns")
                .valueStream()
                .map(column -> column.path("id").asString())
                .toList()
                .indexOf("kiosks");
        assertThat(became(row.path("cells").get(kiosks))).isEqualTo("+1 -1 new 1");
        assertThat(page.path("joined").asInt()).isEqualTo(1);
        assertThat(page.path("left").asInt()).isEqualTo(1);
        assertThat(became(row(days(0, 1), "CH-1").path("all"))).isEqualTo("+1 -0 new 1");
        assertThat(became(row(days(1, 2), "CH-1").path("all"))).isEqualTo("+0 -1 new 0");
    }

    @Test
    void whatWasReadInBetweenSaysSo() {
        assertThat(row(days(0, 2), "CH-2").path("readSince").asBoolean()).isTrue();
        assertThat(row(days(0, 2), "CH-1").path("readSince").asBoolean()).isFalse();
        assertThat(changes(days(0, 2) + "&find=CH-2").path("rows")).hasSize(1);
    }

    @Test
    void withoutDaysItIsTheWeekUntilTheLastKeptOne() {
        JsonNode page = changes("");
        assertThat(page.path("from").asString()).isEqualTo(first.toString());
        assertThat(page.path("to").asString()).isEqualTo(first.plusDays(2).toString());
        assertThat(page.path("days")).hasSize(3);
        assertThat(SERVER.reader()
                        .get("/api/carriers/changes.json" + days(0, 2))
                        .json()
                        .valueStream()
                        .filter(line -> line.path("update").asString().equals("CH-1"))
                        .map(line -> line.path("population").asString() + " "
                                + line.path("gained").asInt()))
                .contains("Ticket kiosks 1");
        assertThat(SERVER.reader()
                        .get("/api/carriers/changes.csv" + days(0, 2))
                        .text()
                        .lines())
                .anyMatch(line -> line.startsWith("CH-1,") && line.contains("Ticket kiosks,1,1,1,,"))
                .anyMatch(line -> line.startsWith("CH-1,") && line.contains(",0,0,0,1," + first));
    }

    @Test
    void daysThatWereNotKeptOrAreTheWrongWayRoundAreRefusedInWords() {
        assertThat(changes("?from=" + first.minusDays(3)).path("detail").asString())
                .contains("was not kept on " + first.minusDays(3), "3 days from " + first);
        assertThat(changes(days(2, 1)).path("field").asString()).isEqualTo("to");
        assertThat(SERVER.reader().get("/api/carriers/changes?from=yesterday").status())
                .isEqualTo(400);
    }

    @Test
    void anOperatorSeesWhatBecameOfTheOwnHostsAlone() {
        JsonNode own = SERVER.person("b.tove")
                .get("/api/carriers/changes" + days(0, 2))
                .json();
        assertThat(own.path("rows")).isEmpty();
        assertThat(own.has("left")).isFalse();
        assertThat(own.path("joined").asInt()).isZero();
        assertThat(SERVER.person("b.tove")
                        .get("/api/carriers/changes?suggestion=BLOCK")
                        .status())
                .isEqualTo(422);
    }

    @Test
    void itIsTheSameAsWhatTheHistoryOfOneUpdateTells() {
        JsonNode told = SERVER.reader()
                .get("/api/carriers/CH-1/difference" + days(0, 2))
                .json()
                .path("became");
        assertThat(told.valueStream()
                        .filter(one -> !one.path("what").asString().equals("KEPT"))
                        .map(one -> one.path("what").asString() + " "
                                + one.path("hosts").path("count").asInt()))
                .containsExactlyInAnyOrderElementsOf(List.of("GAINED 1", "JOINED 1", "LOST 1", "LEFT 1"));
    }
}
