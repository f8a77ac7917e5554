package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** Who carried an update on a past day, and who has got it since. */
class PastTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final Instant NOW = Instant.now();

    private static Instant ago(double days) {
        return NOW.minus(Duration.ofMinutes((long) (days * 24 * 60)));
    }

    private static LocalDate day(int daysAgo) {
        return LocalDate.now(ZoneOffset.UTC).minusDays(daysAgo);
    }

    private static void report(String name, String role, String version, double daysAgo) {
        assertThat(SERVER.machine()
                        .report(Examples.host(name, role, version, ago(daysAgo)).getBytes())
                        .status())
                .isEqualTo(200);
    }

    @BeforeAll
    static void tenDays() {
        SERVER.populations(Examples.POPULATIONS);
        SERVER.machine().documents(Map.of("n.json", Examples.notice("PA-1", "1", "2.0")));
        report("kept", "kiosk", "2.0", 10);
        report("gained", "kiosk", "1.0", 10);
        report("lost", "desktop", "2.0", 10);
        report("left", "desktop", "2.0", 10);
        report("silent", "kiosk", "1.0", 10);
        report("never", "kiosk", "1.0", 10);
        report("kept", "kiosk", "2.1", 8);
        report("kept", "kiosk", "2.1", 6.2);
        report("gained", "kiosk", "1.0", 6.2);
        report("lost", "desktop", "2.0", 6.2);
        report("left", "desktop", "2.0", 6.2);
        report("never", "kiosk", "1.0", 6.2);
        report("gained", "kiosk", "2.0", 3);
        report("joined", "kiosk", "2.0", 2);
        report("lost", "desktop", "1.0", 1.5);
        for (String name : new String[] {"kept", "gained", "joined"}) {
            report(name, "kiosk", "2.0", 0.01);
        }
        report("silent", "kiosk", "2.0", 0.01);
        report("never", "kiosk", "1.0", 0.01);
        report("lost", "desktop", "1.0", 0.01);
        assertThat(SERVER.analyst()
                        .post("/api/hosts/left/retirement", Map.of("reason", "scrapped"))
                        .status())
                .isLessThan(300);
    }

    private static Map<String, String> states(JsonNode hosts) {
        Map<String, String> states = new TreeMap<>();
        hosts.path("hosts")
                .forEach(host -> states.put(
                        host.path("name").asString(), host.path("state").asString()));
        return states;
    }

    @Test
    void statesAreThoseOfThatDay() {
        JsonNode then = SERVER.reader()
                .get("/api/carriers/PA-1/past/hosts?on=" + day(6))
                .json();
        assertThat(states(then))
                .as("joined was not there, left still was, and nobody knew of the silent one")
                .containsExactlyInAnyOrderEntriesOf(Map.of(
                        "kept", "CARRIES",
                        "gained", "MISSING",
                        "lost", "CARRIES",
                        "left", "CARRIES",
                        "never", "MISSING",
                        "silent", "UNKNOWN"));
        JsonNode counts =
                SERVER.reader().get("/api/carriers/PA-1/past?on=" + day(6)).json();
        assertThat(counts.path("hosts").asInt()).isEqualTo(6);
        assertThat(counts.path("row").path("fleet").path("carries").asInt()).isEqualTo(3);
        assertThat(then.path("hosts")
                        .valueStream()
                        .filter(host -> host.path("name").asString().equals("gained"))
                        .map(host -> host.path("versions").get(0).path("found").asString()))
                .containsExactly("1.0");
        assertThat(states(SERVER.reader()
                        .get("/api/carriers/PA-1/past/hosts?on=" + day(0))
                        .json()))
                .as("today is now")
                .containsEntry("gained", "CARRIES")
                .doesNotContainKey("left");
        assertThat(SERVER.reader().get("/api/carriers/PA-1/past?on=" + day(-1)).text())
                .contains("still to come");
        assertThat(SERVER.reader()
                        .get("/api/carriers/PA-1/past/hosts.csv?state=CARRIES&on=" + day(6))
                        .text()
                        .lines())
                .hasSize(4);
    }

    @Test
    void theDifferenceTellsWhoHasGotItSince() {
        JsonNode difference = SERVER.reader()
                .get("/api/carriers/PA-1/difference?from=" + day(6))
                .json();
        Map<String, String> became = new TreeMap<>();
        difference.path("became").forEach(one -> one.path("hosts")
                .path("names")
                .forEach(name -> became.put(name.asString(), one.path("what").asString())));
        assertThat(became)
                .containsExactlyInAnyOrderEntriesOf(Map.of(
                        "kept", "KEPT",
                        "gained", "GAINED",
                        "silent", "GAINED",
                        "lost", "LOST",
                        "left", "LEFT",
                        "joined", "JOINED"));
        assertThat(difference.path("had").asInt()).isEqualTo(3);
        assertThat(difference.path("has").asInt()).isEqualTo(4);
        assertThat(difference
                        .path("became")
                        .get(0)
                        .path("byPopulation")
                        .get(0)
                        .path("hosts")
                        .asInt())
                .isEqualTo(2);
        String csv = SERVER.reader()
                .get("/api/carriers/PA-1/difference.csv?from=" + day(6))
                .text();
        assertThat(csv.lines()).hasSize(7);
        assertThat(csv)
                .contains("gained,Ticket kiosks,gained,missing,desk 1.0,carries,desk 2.0,")
                .contains("joined,Ticket kiosks,joined,not there,,carries,desk 2.0,");
        assertThat(SERVER.reader()
                        .get("/api/carriers/PA-1/difference?from=" + day(3) + "&to=" + day(6))
                        .text())
                .contains("the later day comes after the earlier one");
    }

    @Test
    void anOperatorSeesThePastOfItsOwnHostsAlone() {
        assertThat(states(SERVER.person("b.tove")
                        .get("/api/carriers/PA-1/past/hosts?on=" + day(6))
                        .json()))
                .isEmpty();
    }
}
