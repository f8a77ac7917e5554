package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** What days without a word and the repair of a bad revision do to the evidence, as a case tells it. */
class TriesOverTimeTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static int number;

    private String update;
    private Instant now;

    @BeforeEach
    void anUpdateOfItsOwn() {
        SERVER.populations(Examples.POPULATIONS);
        update = "TOT-" + ++number;
        now = Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
        publish("1");
    }

    private void publish(String revision) {
        assertThat(SERVER.analyst()
                        .documents(Map.of("u.json", Examples.notice(update, revision, "2.0")))
                        .text())
                .doesNotContain("REJECTED");
    }

    private String host(int i) {
        return "d" + number + "-" + i;
    }

    private void lastHeardOf(int from, int to, String role, Duration ago) {
        tell(IntStream.range(from, to)
                .mapToObj(i -> Examples.host(host(i), role, "1.0", now.minus(ago)))
                .collect(Collectors.joining()));
    }

    private void outcomes(int from, int to, String revision, String what, Duration ago) {
        tell(IntStream.range(from, to)
                .mapToObj(i -> """
                        {"t":"outcome","host":"%s","update":"%s","revision":"%s","what":"%s","at":"%s"%s}
                        """.formatted(
                                host(i),
                                update,
                                revision,
                                what,
                                now.minus(ago),
                                what.equals("failed") ? ",\"code\":\"E-9\",\"class\":\"degraded\"" : ""))
                .collect(Collectors.joining()));
    }

    private void tell(String lines) {
        assertThat(SERVER.machine().documents(Map.of("h.jsonl", lines)).text()).doesNotContain("REJECTED");
    }

    private JsonNode tries(String of) {
        return SERVER.analyst().get("/api/cases/" + of).json().path("evidence").path("tries");
    }

    private String suggestion() {
        return SERVER.analyst()
                .get("/api/cases/" + update)
                .json()
                .findPath("suggestion")
                .path("type")
                .asString();
    }

    @Test
    void anOfficeThatIsSwitchedOffOverTheWeekendIsNoHarm() {
        lastHeardOf(0, 60, "desktop", Duration.ofHours(62));
        outcomes(0, 25, "1", "installed", Duration.ofHours(64));
        assertThat(tries(update).path("failed").path("count").intValue())
                .as("those without it are silent as well")
                .isZero();
        assertThat(tries(update).path("waiting").path("count").intValue()).isEqualTo(25);
        assertThat(suggestion()).isEqualTo("LEAVE_TO_RULE");

        // On Monday who does not have it comes back, who has it does not.
        lastHeardOf(25, 60, "desktop", Duration.ZERO);
        assertThat(tries(update).path("failed").path("count").intValue()).isEqualTo(25);
        assertThat(suggestion()).isEqualTo("BLOCK");
    }

    @Test
    void aBadRevisionThatIsRepairedIsNobodysUsualRate() {
        lastHeardOf(0, 150, "kiosk", Duration.ZERO);
        outcomes(0, 60, "1", "failed", Duration.ofHours(30));
        publish("2");
        outcomes(0, 150, "2", "installed", Duration.ofHours(26));
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24));
        String bad = update;
        anUpdateOfItsOwn();
        assertThat(tries(bad).path("usualTries").intValue())
                .as("its tries count for no other update, whatever its repair did")
                .isZero();
        assertThat(tries(update).path("usualRate").doubleValue()).isEqualTo(.003);
    }
}
