package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What keeps hosts from installing is told before a force is handed down, and once it is past due, host by host. */
class OverdueTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    OverdueTest() {
        super(SERVER);
    }

    private static void onAPaidLine(String host) {
        String lines = Examples.host(host, "kiosk", "1.0", Instant.now())
                .replace("\"traits\":{", "\"traits\":{\"paid_line\":true,");
        assertThat(lines).contains("paid_line");
        assertThat(SERVER.machine()
                        .report(lines.getBytes(StandardCharsets.UTF_8))
                        .status())
                .isEqualTo(200);
    }

    private static List<String> told(JsonNode parts) {
        List<String> told = new ArrayList<>();
        parts.forEach(one ->
                told.add(one.path("why").asString() + " " + one.path("hosts").path("names")));
        return told;
    }

    private JsonNode heard() {
        return SERVER.analyst().get("/api/cases/" + update + "/heard").json().path(0);
    }

    @Test
    void aPaidLineIsToldBeforeAndAfterItIsDue() {
        onAPaidLine("ksk-2");
        assertThat(SERVER.reader()
                        .get("/api/hosts/ksk-2")
                        .json()
                        .path("prevented")
                        .toString())
                .isEqualTo("{\"why\":\"PAID_LINE\",\"leastBattery\":40}");
        Map<String, Object> force = draft("FORCE", 0, "kiosks");
        assertThat(told(SERVER.analyst()
                        .post("/api/verdicts/preview", force)
                        .json()
                        .path(0)
                        .path("prevented")))
                .containsExactly("PAID_LINE [\"ksk-2\"]");
        assertThat(told(SERVER.analyst()
                        .post("/api/verdicts/preview", draft("BLOCK", 5, "kiosks"))
                        .json()
                        .path(0)
                        .path("prevented")))
                .as("what is withheld waits anyway")
                .isEmpty();
        assertThat(SERVER.analyst().post("/api/verdicts", force).status()).isEqualTo(201);
        assertThat(heard().path("overdue").isEmpty()).as("not due yet").isTrue();
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 30));
        assertThat(told(heard().path("overdue"))).containsExactly("NOT_REACHED [\"ksk-1\",\"ksk-2\"]");
        keeps("ksk-2", true);
        assertThat(told(heard().path("overdue"))).containsExactly("NOT_REACHED [\"ksk-1\"]", "PAID_LINE [\"ksk-2\"]");
        keeps("ksk-1", false);
        assertThat(told(heard().path("overdue")))
                .containsExactly("INSTALLS_NOTHING [\"ksk-1\"]", "PAID_LINE [\"ksk-2\"]");
        assertThat(told(SERVER.reader().get("/api/report/forced").json().path(0).path("overdue")))
                .containsExactly("INSTALLS_NOTHING [\"ksk-1\"]", "PAID_LINE [\"ksk-2\"]");
        assertThat(SERVER.analyst().get("/api/digest").text())
                .contains(": 1 set to install nothing, 1 on a paid line.");
        SERVER.populations(Examples.POPULATIONS.replace("\"tier\": 2", "\"tier\": 2, \"overPaidLine\": true"));
        assertThat(content(orders("ksk-2")).path("hours").path("overPaidLine").asBoolean())
                .isTrue();
        keeps("ksk-2", true);
        assertThat(told(heard().path("overdue"))).contains("NOT_KNOWN [\"ksk-2\"]");
        assertThat(SERVER.reader().get("/api/record").text()).contains("over a paid line from");
    }

    private static LucidServer.Answer orders(String host) {
        return SERVER.machine().get("/api/orders/" + host);
    }

    private static JsonNode content(LucidServer.Answer told) {
        return new JsonMapper()
                .readTree(Base64.getUrlDecoder().decode(told.text().split("\\.")[1]));
    }

    /** A host says that its orders are in force. */
    private static void keeps(String host, boolean installs) {
        LucidServer.Answer told = orders(host);
        Map<String, Object> receipt = Map.of(
                "serial", content(told).path("serial").asLong(),
                "tag", told.headers().firstValue("ETag").orElseThrow().replace("\"", ""),
                "state", "IN_FORCE",
                "installs", installs,
                "reporter", "test",
                "notInForce", List.of(),
                "problems", List.of());
        assertThat(SERVER.machine()
                        .postList("/api/order-receipts", List.of(Map.of("host", host, "receipt", receipt)))
                        .status())
                .isEqualTo(204);
    }
}
