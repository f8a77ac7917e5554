package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Base64;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** A host that has just come is offered no upgrade on its first day. */
class FirstDayTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    FirstDayTest() {
        super(SERVER);
    }

    private String upgrade;

    @BeforeEach
    void anUpgradeThatIsForcedAndAHostThatComesAfterIt() {
        upgrade = "UP-" + update;
        assertThat(SERVER.machine()
                        .documents(Map.of(
                                "up.json", Examples.notice(upgrade, "1", "3.0").replace("\"bugfix\"", "\"upgrade\"")))
                        .text())
                .contains("ACCEPTED");
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 25));
        Map<String, Object> force = draft("FORCE", 5, "kiosks");
        force.put("update", upgrade);
        assertThat(SERVER.analyst().post("/api/verdicts", force).status()).isEqualTo(201);
        assertThat(SERVER.machine()
                        .documents(Map.of("h.jsonl", Examples.host("ksk-new", "kiosk", "1.0", now())))
                        .text())
                .contains("ACCEPTED");
    }

    private static Instant now() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private String clauseOn(String host) {
        JsonNode holds = SERVER.reader()
                .get("/api/cases/" + upgrade + "/rulings/" + host)
                .json()
                .path("holds");
        return holds.path("clause").asString() + " " + holds.path("effect").asString();
    }

    @Test
    void itWaitsForTheDayAfterAndIsOfferedThenLikeTheOthers() {
        assertThat(clauseOn("ksk-1")).isEqualTo("VERDICT OFFERED");
        assertThat(clauseOn("ksk-new")).isEqualTo("FIRST_DAY WITHHELD");
        String orders = SERVER.machine().get("/api/orders/ksk-new").text();
        assertThat(new String(Base64.getUrlDecoder().decode(orders.split("\\.")[1]), StandardCharsets.UTF_8))
                .contains("no upgrade is offered to a new host on its first day");
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 23));
        assertThat(clauseOn("ksk-new")).isEqualTo("FIRST_DAY WITHHELD");
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 2));
        assertThat(clauseOn("ksk-new")).isEqualTo("VERDICT OFFERED");
    }
}
