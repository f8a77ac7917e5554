package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import lucid.server.LucidServer.Client;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

class HostsTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    @BeforeAll
    static void someHosts() {
        SERVER.populations(Examples.POPULATIONS.replace("\"tier\": 2,", "\"tier\": 2, \"supply\": \"mirror\","));
        SERVER.machine()
                .documents(Map.of(
                        "a.json", Examples.advisory("DSK-2", "2.0"), "b.json", Examples.notice("DSK-1", "1", "1.5")));
        report(Examples.hosts(
                Map.of("ksk-1", "kiosk 1.0", "ksk-2", "kiosk 2.0", "off-1", "desktop 1.0", "odd-1", "loan 2.0")));
        report(Examples.host("ksk-3", "kiosk", "2.0", Instant.now().minus(Duration.ofDays(9))));
        report(Examples.host("ksk-4", "kiosk", "2.0", Instant.now())
                .replace("\"traits\"", "\"supply\":\"vendor\",\"traits\""));
        report(Examples.host("his-1", "kiosk", "1.0", Instant.now().minus(Duration.ofHours(30))));
        report(Examples.host("his-1", "kiosk", "1.6", Instant.now().minus(Duration.ofHours(3)))
                .replace(
                        "{\"t\":\"end\",\"lines\":2}",
                        "{\"t\":\"outcome\",\"update\":\"DSK-2\",\"what\":\"failed\",\"at\":\""
                                + Instant.now().minus(Duration.ofHours(5))
                                + "\",\"code\":\"0x7\"}\n{\"t\":\"end\",\"lines\":3}"));
    }

    private static void report(String lines) {
        assertThat(SERVER.machine().report(lines.getBytes()).status()).isEqualTo(200);
    }

    private static List<String> names(String query) {
        return SERVER.reader()
                .get("/api/hosts" + query)
                .json()
                .path("hosts")
                .valueStream()
                .map(h -> h.path("name").asString())
                .toList();
    }

    /** Among the others it would change what the other tests count. */
    @Test
    void aRetiredHostCountsNowhereUntilItReportsAgain() {
        Client analyst = SERVER.analyst();
        report(Examples.host("gone-1", "kiosk", "1.0", Instant.now().minus(Duration.ofHours(2))));
        int all = analyst.get("/api/hosts").json().path("all").asInt();
        int missing = missing();
        assertThat(analyst.post("/api/hosts/gone-1/retirement", Map.of("reason", " "))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("reason");
        assertThat(analyst.post("/api/hosts/nobody/retirement", Map.of("reason", "scrapped"))
                        .status())
                .isEqualTo(404);
        String undo = analyst.post("/api/hosts/gone-1/retirement", Map.of("reason", "scrapped"))
                .json()
                .path("undo")
                .asString();
        assertThat(analyst.post("/api/hosts/gone-1/retirement", Map.of("reason", "scrapped"))
                        .status())
                .isEqualTo(409);
        assertThat(analyst.get("/api/hosts").json().path("all").asInt()).isEqualTo(all - 1);
        assertThat(missing()).isEqualTo(missing - 1);
        assertThat(names("?lacks=DSK-2")).doesNotContain("gone-1");
        assertThat(analyst.get("/api/hosts").json().path("retired").get(0).asString())
                .isEqualTo("gone-1");
        SERVER.restart();
        assertThat(missing()).as("also after a restart").isEqualTo(missing - 1);
        JsonNode page = SERVER.reader().get("/api/hosts/gone-1").json();
        assertThat(page.path("retirement").path("reason").asString())
                .as("its page stays")
                .isEqualTo("scrapped");

        assertThat(SERVER.analyst().delete(undo).status()).isEqualTo(204);
        assertThat(SERVER.analyst().delete(undo).status()).isEqualTo(409);
        assertThat(missing()).isEqualTo(missing);
        SERVER.analyst().post("/api/hosts/gone-1/retirement", Map.of("reason", "scrapped"));
        report(Examples.host("gone-1", "kiosk", "2.0", Instant.now()));
        assertThat(SERVER.reader().get("/api/hosts/gone-1").json().has("retirement"))
                .as("who reports is there")
                .isFalse();
        assertThat(missing()).isEqualTo(missing - 1);
        assertThat(SERVER.reader().get("/api/record?subject=gone-1").text())
                .contains(
                        "Retired the host gone-1: scrapped.",
                        "has reported again: it counts from now on",
                        "Brought the host gone-1 back");
        SERVER.analyst().post("/api/hosts/gone-1/retirement", Map.of("reason", "done with it"));
    }

    private static int missing() {
        return SERVER.reader()
                .get("/api/carriers/DSK-2")
                .json()
                .path("row")
                .path("fleet")
                .path("missing")
                .asInt();
    }

    @Test
    void hostsThatDifferSayHow() {
        JsonNode page = SERVER.reader().get("/api/hosts?differing=true").json();
        assertThat(names("?differing=true")).containsExactly("ksk-3", "ksk-4", "odd-1");
        assertThat(page.path("hosts").get(0).path("differences").toString()).contains("UNKNOWN");
        assertThat(page.path("hosts").get(1).path("differences").toString()).contains("ANOTHER_SUPPLY");
        assertThat(page.path("all").asInt()).isEqualTo(7);
        assertThat(page.path("ways").path("IN_NO_POPULATION").asInt()).isEqualTo(1);
        assertThat(names("?way=ANOTHER_SUPPLY")).containsExactly("ksk-4");
    }

    @Test
    void whoLacksWhatIsForcedDiffers() {
        Client analyst = SERVER.analyst();
        LocalDate until = LocalDate.now(ZoneOffset.UTC).plusDays(3);
        JsonNode given = analyst.post("/api/verdicts", Examples.verdict("DSK-2", "FORCE", "kiosks", until, "EXPOSED"))
                .json();
        assertThat(names("?way=LACKS_FORCED")).containsExactly("his-1", "ksk-1");
        assertThat(SERVER.reader().get("/api/hosts?way=LACKS_FORCED").text()).contains("\"updates\":[\"DSK-2\"]");
        analyst.delete(given.path("undo").asString());
        assertThat(names("?way=LACKS_FORCED")).isEmpty();
    }

    @Test
    void hostsAreFoundByWhatTheyLackHaveAndAre() {
        assertThat(names("?lacks=CVE-2026-9000001")).containsExactly("his-1", "ksk-1", "off-1");
        assertThat(names("?lacks=DSK-1&population=kiosks")).containsExactly("ksk-1");
        assertThat(names("?has=pkg:generic/desk@1.0")).containsExactly("ksk-1", "off-1");
        assertThat(names("?has=pkg:generic/desk@1.0.0"))
                .as("as its ordering compares")
                .containsExactly("ksk-1", "off-1");
        assertThat(names("?where=role%20%3D%20kiosk&find=-2")).containsExactly("ksk-2");
        assertThat(names("?population=none")).containsExactly("odd-1");
        JsonNode row = SERVER.reader()
                .get("/api/hosts?lacks=CVE-2026-9000001")
                .json()
                .path("hosts")
                .get(1);
        assertThat(row.path("lacks").get(0).path("id").asString()).isEqualTo("DSK-2");
        assertThat(row.path("lacks").get(0).path("holds").path("clause").asString())
                .isEqualTo("STANDING_RULE");
        assertThat(SERVER.reader().get("/api/hosts/hosts.csv?lacks=DSK-2").text())
                .contains("ksk-1,Lantern Desktop 6,Ticket kiosks")
                .contains("DSK-2 missing")
                .doesNotContain("ksk-2");
        assertThat(SERVER.reader()
                        .get("/api/hosts?lacks=CVE-2026-9999999")
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("lacks");
        assertThat(SERVER.reader()
                        .get("/api/hosts?where=role%20%3D")
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("where");
        assertThat(SERVER.reader()
                        .get("/api/hosts?has=desk")
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("has");
    }

    @Test
    void aHostTellsWhatItHasLacksAndWhatHappenedToIt() {
        JsonNode host = SERVER.reader().get("/api/hosts/his-1").json();
        assertThat(host.path("population").asString()).isEqualTo("Ticket kiosks");
        JsonNode lacking =
                SERVER.reader().get("/api/hosts/his-1/updates?lacking=true").json();
        JsonNode lacked = lacking.path("updates").get(0);
        assertThat(lacking.path("updates")).hasSize(lacking.path("lacking").intValue());
        JsonNode carried =
                SERVER.reader().get("/api/hosts/his-1/updates?lacking=false").json();
        assertThat(carried.path("updates")).hasSize(carried.path("carrying").intValue());
        assertThat(SERVER.reader()
                        .get("/api/hosts/his-1/updates?lacking=true&after="
                                + lacking.path("updates")
                                        .get(lacking.path("updates").size() - 1)
                                        .path("id")
                                        .asString())
                        .json()
                        .path("updates"))
                .as("nothing comes after the last")
                .isEmpty();
        assertThat(lacked.path("id").asString()).isEqualTo("DSK-2");
        assertThat(lacked.path("state").asString()).isEqualTo("FAILED");
        assertThat(lacked.path("chain").size()).isPositive();
        assertThat(lacked.path("versions").get(0).path("expected").asString()).isEqualTo("2.0");
        JsonNode product = host.path("products").get(0);
        assertThat(product.path("level").asString()).isEqualTo("Desk 1.5");
        assertThat(product.path("since").asString()).isNotEmpty();
        assertThat(host.path("changes").get(0).path("fromVersion").asString()).isEqualTo("1.0");
        assertThat(host.path("outcomes").get(0).path("code").asString()).isEqualTo("0x7");
        assertThat(host.path("traits").toString()).contains("spool_free_mb");
        assertThat(SERVER.reader().get("/api/hosts/nobody").status()).isEqualTo(404);
    }

    @Test
    void anOperatorSeesItsOwnHostsOnly() {
        SERVER.administrator()
                .post(
                        "/api/accounts",
                        Map.of(
                                "name",
                                "o.own",
                                "displayName",
                                "O. Own",
                                "role",
                                "OPERATOR",
                                "populations",
                                List.of("desktops"),
                                "password",
                                "skerry-line"));
        Client operator = SERVER.person("o.own");
        operator.get("/api/sessions/current");
        operator.put(
                "/api/sessions/current/password", null, Map.of("old", "skerry-line", "chosen", "chosen-by-myself"));
        JsonNode page = operator.get("/api/hosts").json();
        assertThat(page.path("hosts").valueStream().map(h -> h.path("name").asString()))
                .containsExactly("off-1");
        assertThat(page.path("ways").path("IN_NO_POPULATION").asInt()).isZero();
        assertThat(operator.get("/api/hosts/off-1").status()).isEqualTo(200);
        assertThat(operator.get("/api/hosts/ksk-1").status()).isEqualTo(404);
        assertThat(operator.get("/api/search?text=ksk").json()).isEmpty();
    }

    @Test
    void filtersAreEachPersonsOwn() {
        Client analyst = SERVER.analyst();
        analyst.get("/api/host-filters");
        assertThat(analyst.put(
                                "/api/host-filters/full%20spools",
                                null, Map.of("query", "show=ALL&where=spool_free_mb+%3C+300"))
                        .status())
                .isEqualTo(204);
        assertThat(analyst.get("/api/host-filters").text()).contains("full spools");
        assertThat(SERVER.reader().get("/api/host-filters").json()).isEmpty();
        assertThat(analyst.delete("/api/host-filters/full%20spools").status()).isEqualTo(204);
        assertThat(analyst.delete("/api/host-filters/full%20spools").status()).isEqualTo(404);
    }

    @Test
    void anythingIsFoundByAPartOfItsName() {
        assertThat(found("cve-2026-9000001")).startsWith("CVE CVE-2026-9000001");
        assertThat(found("ksk-1")).startsWith("HOST ksk-1");
        assertThat(found("dsk")).contains("UPDATE DSK-1", "UPDATE DSK-2");
        assertThat(found("desk")).contains("PRODUCT pkg:generic/desk", "POPULATION desktops");
        assertThat(found("desk 2"))
                .contains("PRODUCT pkg:generic/desk@2.0")
                .doesNotContain("PRODUCT pkg:generic/desk@1.0");
        assertThat(found("nothing like it")).isEmpty();
        assertThat(found("%20")).isEmpty();
        assertThat(SERVER.reader()
                        .get("/api/search?text=CVE-2026-9000001")
                        .json()
                        .get(0)
                        .path("hosts")
                        .asInt())
                .isGreaterThanOrEqualTo(2);
    }

    private static List<String> found(String text) {
        return SERVER.reader()
                .get("/api/search?text=" + text.replace(" ", "%20"))
                .json()
                .valueStream()
                .map(f -> f.path("type").asString() + " " + f.path("id").asString())
                .toList();
    }
}
