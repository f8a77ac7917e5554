package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import lucid.server.LucidServer.Answer;
import lucid.server.LucidServer.Client;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

class PopulationsTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final JsonMapper JSON = new JsonMapper();

    @BeforeAll
    static void someHosts() {
        SERVER.populations(Examples.POPULATIONS);
        SERVER.machine().documents(Map.of("n.json", Examples.notice("POP-1", "1", "2.0")));
        SERVER.machine()
                .report(Examples.hosts(Map.of(
                                "ksk-1",
                                "kiosk 1.0",
                                "ksk-2",
                                "kiosk 1.0",
                                "off-1",
                                "desktop 1.0",
                                "odd-1",
                                "loan 1.0"))
                        .getBytes());
    }

    private static String document() {
        return SERVER.analyst().get("/api/populations/document").text();
    }

    private static Map<String, ?> map(String document) {
        return JSON.readValue(document, Map.class);
    }

    private static String version() {
        return SERVER.analyst().get("/api/populations").json().path("version").asString();
    }

    @Test
    void aChangeIsPreviewedSavedRecordedAndTakenBack() {
        Client analyst = SERVER.analyst();
        analyst.post(
                "/api/verdicts",
                Examples.verdict("POP-1", "BLOCK", "kiosks", LocalDate.parse("2027-01-31"), "UNTESTED"));
        String before = document();
        String changed = before.replace(
                "\"condition\" : \"role = kiosk\"",
                "\"condition\" : \"role = kiosk\", \"includes\": [\"odd-1\", \"ksk-9\"], \"excludes\": [\"ksk-2\"]");
        JsonNode preview =
                analyst.post("/api/populations/preview", map(changed)).json();
        assertThat(preview.path("moves").toString()).contains("ksk-2", "odd-1").doesNotContain("off-1");
        assertThat(preview.path("verdicts").get(0).path("gains").path("names").toString())
                .isEqualTo("[\"odd-1\"]");
        assertThat(preview.path("verdicts").get(0).path("loses").path("names").toString())
                .isEqualTo("[\"ksk-2\"]");
        assertThat(preview.path("warnings").toString()).contains("Ticket kiosks names ksk-9, which has not reported.");
        assertThat(document()).as("nothing is saved unseen").isEqualTo(before);

        String version = version();
        assertThat(analyst.put("/api/populations", version, map(changed)).status())
                .isEqualTo(200);
        assertThat(analyst.get("/api/populations")
                        .json()
                        .path("populations")
                        .get(0)
                        .path("includes")
                        .toString())
                .isEqualTo("[\"ksk-9\",\"odd-1\"]");
        assertThat(analyst.get("/api/record?kind=POPULATIONS").text())
                .contains(
                        "Populations: changed Ticket kiosks: hosts by name from none to ksk-9, odd-1, hosts left out by name from none to ksk-2; hosts moved: 1 from Ticket kiosks to none, 1 from none to Ticket kiosks.");
        Answer stale = analyst.put("/api/populations", version, map(before));
        assertThat(stale.status()).isEqualTo(412);
        assertThat(stale.text()).contains("somebody else changed the populations meanwhile");

        JsonNode versions = analyst.get("/api/populations/versions").json();
        assertThat(versions.get(0).path("author").asString()).isEqualTo("M. Aldane");
        assertThat(analyst.put("/api/populations", version(), map(before)).status())
                .isEqualTo(200);
        assertThat(document()).isEqualTo(before);
        assertThat(analyst.get("/api/populations/versions").json()).hasSize(versions.size() + 1);
    }

    @Test
    void aSavedLadderIsTakenBackAtTheAddressThatTheAnswerTellsUnlessSomebodyChangedItSince() {
        Client analyst = SERVER.analyst();
        String before = document();
        String seen = version();
        Map<String, ?> changed = map(before.replace("\"role = kiosk\"", "\"role = nothing\""));
        Answer saved =
                analyst.send("PUT", "/api/populations", changed, "If-Match", seen, "Idempotency-Key", "ladder-1");
        assertThat(saved.json().path("version").asString()).isEqualTo(version());
        assertThat(saved.json().path("moved").intValue()).isPositive();
        Answer again =
                analyst.send("PUT", "/api/populations", changed, "If-Match", seen, "Idempotency-Key", "ladder-1");
        assertThat(again.text()).as("sent again, the answer is the same").isEqualTo(saved.text());

        String undo = saved.json().path("undo").asString();
        JsonNode preview = analyst.get(undo + "/revocation").json();
        assertThat(preview.isArray()).isTrue();
        assertThat(document()).as("nothing is taken back yet").isNotEqualTo(before);
        assertThat(analyst.delete(undo).status()).isEqualTo(204);
        assertThat(document()).isEqualTo(before);
        assertThat(analyst.get("/api/record?kind=POPULATIONS").text())
                .contains(
                        "Took back the change of populations: changed Ticket kiosks: condition from role = nothing to role = kiosk");
        Answer late = analyst.delete(undo);
        assertThat(late.status()).isEqualTo(409);
        assertThat(late.text()).contains("the populations were changed since; nothing was taken back");
    }

    @Test
    void hoursArePreviewedWithWhatTheyMeanAndHold() {
        Client analyst = SERVER.analyst();
        SERVER.machine().documents(Map.of("n2.json", Examples.notice("POP-2", "1", "2.0")));
        String before = document();
        String hours = before.replace(
                "\"condition\" : \"role = kiosk\"",
                "\"condition\" : \"role = kiosk\", \"busyHours\": [\"daily 00:00-24:00\"], \"dueHour\": \"12:00\"");
        JsonNode preview = analyst.post("/api/populations/preview", map(hours)).json();
        JsonNode timing = preview.path("populations").get(0).path("timing");
        assertThat(timing.path("week")).hasSize(7);
        assertThat(timing.path("week").get(6).get(47).asString()).isEqualTo("BUSY");
        assertThat(timing.path("nextAllowed")).isEmpty();
        assertThat(preview.path("warnings").toString())
                .contains("Ticket kiosks is busy around the clock: nothing is installed there before it is due.");
        Answer wrong = analyst.post("/api/populations/preview", map(hours.replace("daily 00:00", "someday 00:00")));
        assertThat(wrong.status()).isEqualTo(422);
        assertThat(wrong.text()).contains("/populations/0/busyHours/0", "someday");

        assertThat(analyst.put("/api/populations", version(), map(hours)).status())
                .isEqualTo(200);
        JsonNode forced = analyst.post(
                        "/api/verdicts/preview",
                        Map.of(
                                "update",
                                "POP-2",
                                "revision",
                                "1",
                                "type",
                                "FORCE",
                                "populations",
                                List.of("kiosks"),
                                "until",
                                LocalDate.parse(analyst.get("/api/clock")
                                                .json()
                                                .path("now")
                                                .asString()
                                                .substring(0, 10))
                                        .plusDays(3)
                                        .toString(),
                                "reasons",
                                List.of("EXPOSED")))
                .json()
                .get(0)
                .path("forecast");
        assertThat(forced.path("inBusyHours").path("names").toString()).isEqualTo("[\"ksk-1\",\"ksk-2\"]");
        assertThat(forced.path("late").path("count").intValue()).isZero();
        JsonNode curve = forced.path("curve");
        assertThat(curve.get(curve.size() - 1).path("hosts").intValue()).isEqualTo(2);
        assertThat(analyst.put("/api/populations", version(), map(before)).status())
                .isEqualTo(200);
    }

    @Test
    void whatIsSavedIsThereAfterARestart() {
        String changed = document().replace("Office desktops", "Desktops of the office");
        assertThat(SERVER.analyst().put("/api/populations", "*", map(changed)).status())
                .isEqualTo(200);
        SERVER.restart();
        assertThat(document()).isEqualTo(changed);
        SERVER.analyst()
                .put("/api/populations", null, map(changed.replace("Desktops of the office", "Office desktops")));
    }

    @Test
    void faultsNameThePlace() {
        Client analyst = SERVER.analyst();
        JsonNode condition = analyst.post(
                        "/api/populations/preview", map(document().replace("role = desktop", "role ==")))
                .json();
        assertThat(condition.path("field").asString()).isEqualTo("/populations/1/condition");
        assertThat(condition.path("detail").asString()).contains("at character");
        JsonNode type = analyst.post(
                        "/api/populations/preview", map(document().replace("role = desktop", "spool_free_mb = low")))
                .json();
        assertThat(type.path("field").asString()).isEqualTo("/populations/1/condition");
        JsonNode tier = analyst.post(
                        "/api/populations/preview", map(document().replace("\"tier\" : 3", "\"tier\" : 7")))
                .json();
        assertThat(tier.path("field").asString()).isEqualTo("/populations/1/tier");
        JsonNode both = analyst.post(
                        "/api/populations/preview",
                        map(document()
                                .replace("\"tier\" : 3", "\"tier\" : 3, \"includes\": [\"a\"], \"excludes\": [\"a\"]")))
                .json();
        assertThat(both.path("detail").asString()).contains("desktops both includes and excludes a");
        assertThat(analyst.post("/api/populations/preview", Map.of("format", "update-notice-1"))
                        .status())
                .isEqualTo(422);
    }

    @Test
    void populationsArePromotedToAReleaseOneAfterTheOther() {
        Client analyst = SERVER.analyst();
        // On the first day of its hosts no upgrade would be offered.
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 25));
        SERVER.machine()
                .documents(
                        Map.of("u.json", Examples.notice("POP-UP", "1", "2.0").replace("\"bugfix\"", "\"upgrade\"")));
        String plain = document();
        String rule = "\"otherwise\" : 5";
        String staying = plain.replace(
                        "\"condition\" : \"role = kiosk\"",
                        "\"condition\" : \"role = kiosk\", \"staysAt\": [{\"product\": \"pkg:generic/desk\", \"release\": \"1\", \"supportEnds\": \"2020-01-31\"}]")
                .replace(rule, "\"otherwise\" : 0");
        JsonNode preview =
                analyst.post("/api/populations/preview", map(staying)).json();
        assertThat(preview.path("warnings").toString()).contains("whose support has ended on Fri 31 Jan 2020");
        assertThat(preview.path("offers").valueStream())
                .filteredOn(one -> one.path("update").asString().equals("POP-UP"))
                .as("the upgrade is not offered at once, nor later: they stay at release 1")
                .singleElement()
                .satisfies(one -> {
                    assertThat(one.path("offered").path("count").asInt()).isZero();
                    assertThat(one.path("offersEnd").path("names").toString()).contains("ksk-1");
                });
        assertThat(analyst.put("/api/populations", version(), map(staying)).status())
                .isEqualTo(200);
        assertThat(analyst.get("/api/cases/POP-UP/rulings/ksk-1").text()).contains("TARGET_RELEASE");
        JsonNode kiosks =
                analyst.get("/api/populations").json().path("populations").path(0);
        assertThat(kiosks.path("staysAt").path(0).path("at").path("names").toString())
                .contains("ksk-1", "ksk-2");
        String promoted = document().replace("\"release\" : \"1\"", "\"release\" : \"2\"");
        JsonNode promotion =
                analyst.post("/api/populations/preview", map(promoted)).json();
        assertThat(promotion.path("offers").path(0).path("update").asString()).isEqualTo("POP-UP");
        assertThat(promotion
                        .path("offers")
                        .path(0)
                        .path("offered")
                        .path("names")
                        .toString())
                .contains("ksk-1")
                .doesNotContain("off-1");
        assertThat(analyst.put("/api/populations", version(), map(promoted)).status())
                .isEqualTo(200);
        assertThat(analyst.get("/api/cases/POP-UP/rulings/ksk-1")
                        .json()
                        .path("holds")
                        .path("effect")
                        .asString())
                .isEqualTo("OFFERED");
        assertThat(analyst.put("/api/populations", version(), map(plain)).status())
                .isEqualTo(200);
    }
}
