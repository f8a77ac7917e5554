package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import lucid.server.LucidServer.Client;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What hosts are told, and how the clock waits for whoever plays them. */
class OrdersTest {

    private static final JsonMapper JSON = new JsonMapper();

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    @BeforeAll
    static void twoKiosks() {
        SERVER.populations(Examples.POPULATIONS.replace(
                "\"tier\": 2,", "\"tier\": 2, \"busyHours\": [\"daily 06:00-23:00\"], \"dueHour\": \"12:00\","));
        SERVER.machine().documents(Map.of("a.json", Examples.notice("DSK-1", "1", "1.5")));
        SERVER.machine()
                .report(Examples.hosts(Map.of("ksk-1", "kiosk 1.0", "ksk-2", "kiosk 1.0"))
                        .getBytes());
    }

    private static JsonNode orders(Client asks, String host) {
        return JSON.readTree(Base64.getUrlDecoder()
                .decode(asks.get("/api/orders/" + host).text().split("\\.")[1]));
    }

    private static String token(String host) {
        return SERVER.administrator()
                .post("/api/tokens", Map.of("name", "t-" + host, "scope", "HOST", "host", host))
                .json()
                .path("token")
                .asString();
    }

    @Test
    void aHostIsToldItsOwnAndOfNoOther() {
        Client host = SERVER.withToken(token("ksk-1"));
        JsonNode told = orders(host, "ksk-1");
        assertThat(told.path("host").asString()).isEqualTo("ksk-1");
        assertThat(told.at("/hours/busy/0").asString()).isEqualTo("daily 06:00-23:00");
        assertThat(told.at("/hours/dueHour").asString()).startsWith("12:00");
        assertThat(told.at("/orders/0/update").asString()).isEqualTo("DSK-1");
        assertThat(told.at("/orders/0/packages/0/purl").asString()).isEqualTo("pkg:generic/desk");
        assertThat(told.at("/orders/0/packages/0/version").asString()).isEqualTo("1.5");
        assertThat(host.get("/api/orders/ksk-2").status()).isEqualTo(404);
        assertThat(host.get("/api/orders/ksk-2").json().path("detail").asString())
                .isEqualTo("there is no host ksk-2");
    }

    /** What the advisory says of the kernel does not make a host restart that has its documentation only. */
    @Test
    void whatMustBeRestartedIsThatOfTheProductsThatTheHostHas() {
        SERVER.machine().documents(Map.of("kernel.json", """
                {"document": {"csaf_version": "2.0", "category": "csaf_base", "title": "A kernel", "publisher": {"name": "Fathom", "category": "vendor", "namespace": "https://fathom.example"},
                  "tracking": {"id": "KRN-1", "version": "1", "status": "final", "revision_history": [{"number": "1", "date": "2026-11-12T09:00:00Z", "summary": "First."}],
                    "initial_release_date": "2026-11-12T09:00:00Z", "current_release_date": "2026-11-12T09:00:00Z"}},
                 "product_tree": {"full_product_names": [
                   {"product_id": "K", "name": "kernel", "product_identification_helper": {"purl": "pkg:generic/kernel@31.5"}},
                   {"product_id": "D", "name": "docs", "product_identification_helper": {"purl": "pkg:generic/kernel-docs@31.5"}}]},
                 "vulnerabilities": [{"cve": "CVE-2026-9000009", "product_status": {"fixed": ["K", "D"]}, "remediations": [
                   {"category": "vendor_fix", "details": "a", "product_ids": ["K"], "restart_required": {"category": "machine"}},
                   {"category": "vendor_fix", "details": "b", "product_ids": ["D"], "restart_required": {"category": "none"}}]}]}
                """));
        for (String product : List.of("kernel", "kernel-docs")) {
            SERVER.machine()
                    .report(Examples.host("has-" + product, "desktop", "31.4", Instant.now())
                            .replace("pkg:generic/desk", "pkg:generic/" + product)
                            .getBytes());
        }
        SERVER.restart();
        assertThat(orders(SERVER.machine(), "has-kernel")
                        .at("/orders/0/restart")
                        .asString())
                .isEqualTo("HOST");
        assertThat(orders(SERVER.machine(), "has-kernel-docs")
                        .at("/orders/0/restart")
                        .asString())
                .isEqualTo("NONE");
        JsonNode update = SERVER.reader().get("/api/cases/KRN-1").json().path("update");
        assertThat(update.path("restart").asString()).as("the strongest of all").isEqualTo("HOST");
        assertThat(update.path("fixes").findValuesAsString("restart")).containsExactly("HOST", "NONE");
    }

    @Test
    void aForceAndItsTakingBackAreToldAtOnce() {
        LocalDate day = LocalDate.ofInstant(Instant.now(), ZoneOffset.UTC).plusDays(4);
        assertThat(orders(SERVER.machine(), "ksk-2").at("/orders/0/effect").asString())
                .isEqualTo("WITHHELD");
        JsonNode forced = SERVER.analyst()
                .post(
                        "/api/verdicts",
                        Map.of(
                                "update",
                                "DSK-1",
                                "revision",
                                "1",
                                "type",
                                "FORCE",
                                "populations",
                                List.of("kiosks"),
                                "until",
                                day.toString(),
                                "reasons",
                                List.of("EXPLOITED"),
                                "words",
                                "",
                                "allowanceDays",
                                2))
                .json();
        JsonNode order = orders(SERVER.machine(), "ksk-2").at("/orders/0");
        assertThat(order.path("effect").asString()).isEqualTo("OFFERED");
        assertThat(order.path("due").asString()).isEqualTo(day + "T12:00:00Z");
        assertThat(order.path("allowanceHours").asInt()).isEqualTo(48);
        SERVER.analyst().delete(forced.path("undo").asString());
        assertThat(orders(SERVER.machine(), "ksk-2").at("/orders/0/effect").asString())
                .isEqualTo("WITHHELD");
    }

    private static Instant clock() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private static JsonNode step() {
        return SERVER.machine().post("/api/clock/steps", Map.of()).json();
    }

    private static Duration since(Instant before) {
        return Duration.between(before, clock());
    }

    @Test
    void theClockGoesStepByStepWhereSomebodyPlaysTheHostsAndStopsWhereToldTo() {
        Client analyst = SERVER.analyst();
        assertThat(step().path("journey").isMissingNode()).isTrue();
        Instant before = clock();
        assertThat(analyst.post("/api/clock/advances", Map.of("hours", 24))
                        .json()
                        .at("/journey/to")
                        .asString())
                .isNotEmpty();
        assertThat(since(before)).as("it waits for the player").isLessThan(Duration.ofMinutes(30));
        step();
        step();
        assertThat(since(before)).isBetween(Duration.ofHours(2), Duration.ofHours(3));
        assertThat(analyst.delete("/api/clock/advances").status()).isEqualTo(204);
        assertThat(step().path("journey").isMissingNode()).isTrue();
        assertThat(since(before)).as("it stands where it was stopped").isLessThan(Duration.ofHours(3));

        Instant again = clock();
        analyst.post("/api/clock/advances", Map.of("hours", 3));
        analyst.post("/api/clock/advances", Map.of("hours", 2));
        for (int i = 0; i < 5; i++) {
            assertThat(step().path("journey").isObject())
                    .as("its hosts live through this step yet")
                    .isTrue();
        }
        assertThat(since(again)).as("there").isGreaterThanOrEqualTo(Duration.ofHours(5));
        assertThat(step().path("journey").isMissingNode())
                .as("and they have lived through it")
                .isTrue();
        assertThat(since(again)).isBetween(Duration.ofHours(5).minusMinutes(1), Duration.ofHours(6));
    }
}
