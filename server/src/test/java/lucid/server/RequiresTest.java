package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.Base64;
import java.util.Map;
import lucid.server.LucidServer.Client;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * An update that requires something of its hosts: who cannot take it is told, on the case, the host and in its orders.
 */
class RequiresTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    RequiresTest() {
        super(SERVER);
    }

    private String upgrade;

    @BeforeEach
    void anUpgradeThatRequiresSpace() {
        upgrade = "UP-" + update;
        assertThat(SERVER.machine()
                        .documents(Map.of("up.json", requiring(upgrade, "3.0", "free_mb")))
                        .text())
                .contains("ACCEPTED");
        report("ksk-1", "\"free_mb\":100");
        report("ksk-2", "\"free_mb\":9000");
    }

    private static String requiring(String id, String fixed, String trait) {
        return Examples.notice(id, "1", fixed)
                .replace("\"fixes\"", "\"requires\": [{\"trait\": \"" + trait + "\", \"atLeast\": 4096}], \"fixes\"");
    }

    private static void report(String host, String trait) {
        assertThat(SERVER.machine()
                        .documents(Map.of(
                                "h.jsonl",
                                Examples.host(host, "kiosk", "1.0", Instant.now())
                                        .replace("\"spool_free_mb\"", trait + ",\"spool_free_mb\"")))
                        .text())
                .contains("ACCEPTED");
    }

    private JsonNode requires() {
        return SERVER.reader().get("/api/cases/" + upgrade).json().path("requires");
    }

    private static JsonNode named(JsonNode rows, String update) {
        return rows.valueStream()
                .filter(row -> row.path("id").asString().equals(update))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void whoCannotTakeItIsNamedWithWhatTheyLackAndWhatTheyCanTakeInstead() {
        JsonNode requires = requires();
        assertThat(requires.path("all").path(0).path("words").asString()).isEqualTo("free_mb 4096 or more");
        assertThat(requires.path("all").path(0).path("lack").path("names").toString())
                .isEqualTo("[\"ksk-1\"]");
        assertThat(requires.path("cannotTake").path("count").asInt()).isEqualTo(1);
        assertThat(requires.path("instead").path(0).path("update").asString()).isEqualTo(update);
        assertThat(SERVER.reader().get("/api/cases/" + update).json().has("requires"))
                .isFalse();
        JsonNode onHost =
                named(SERVER.reader().get("/api/hosts/ksk-1/updates").json().path("updates"), upgrade);
        assertThat(onHost.path("holds").path("clause").asString()).isEqualTo("CANNOT_TAKE");
        assertThat(onHost.path("lacks").toString()).isEqualTo("[\"free_mb 4096 or more\"]");

        SERVER.restart();
        assertThat(requires().path("cannotTake").path("names").toString()).isEqualTo("[\"ksk-1\"]");
    }

    @Test
    void aForceReachesThoseThatCanTakeIt() {
        Map<String, Object> force = draft("FORCE", 3, "kiosks");
        force.put("update", upgrade);
        JsonNode preview = SERVER.analyst().post("/api/verdicts/preview", force).json();
        assertThat(preview.toString()).contains("CANNOT_TAKE");
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", force)
                        .json()
                        .path("verdicts")
                        .path(0)
                        .path("hosts")
                        .asInt())
                .isEqualTo(1);
        String orders = SERVER.machine().get("/api/orders/ksk-1").text();
        String told = new String(Base64.getUrlDecoder().decode(orders.split("\\.")[1]));
        JsonNode order = new JsonMapper()
                .readTree(told)
                .path("orders")
                .valueStream()
                .filter(one -> one.path("update").asString().equals(upgrade))
                .findFirst()
                .orElseThrow();
        assertThat(order.path("effect").asString()).isEqualTo("WITHHELD");
        assertThat(order.path("reason").asString()).isEqualTo("this host lacks what it requires: free_mb 4096 or more");

        // It has made room: it is forced at once, and the case says so.
        report("ksk-1", "\"free_mb\":5000");
        assertThat(requires().path("cannotTake").path("count").asInt()).isZero();
        assertThat(SERVER.reader()
                        .get("/api/cases/" + upgrade + "/rulings/ksk-1")
                        .json()
                        .path("holds")
                        .path("verdict")
                        .asString())
                .isEqualTo("FORCE");
    }

    @Test
    void whatCannotBeRequiredIsRefusedWithItsPlace() {
        Client machine = SERVER.machine();
        assertThat(machine.documents(Map.of(
                                "odd.json",
                                Examples.notice("ODD-1", "1", "3.0")
                                        .replace("\"fixes\"", "\"requires\": [{\"trait\": \"model\"}], \"fixes\"")))
                        .text())
                .contains("REJECTED", "/requires/0", "say a 'product'");
    }
}
