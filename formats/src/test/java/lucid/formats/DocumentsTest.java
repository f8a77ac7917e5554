package lucid.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.InstanceOfAssertFactories.type;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Trait;
import lucid.core.update.Advisory;
import lucid.core.update.AffectedRange;
import lucid.core.update.Kind;
import lucid.core.update.RestartNeed;
import lucid.core.update.UpdateNotice;
import org.assertj.core.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.json.JsonMapper;

class DocumentsTest {

    private static ReadDocument read(String text) {
        return Documents.read(text.getBytes(StandardCharsets.UTF_8));
    }

    private static List<Problem> refusal(String text) {
        return Assertions.catchThrowableOfType(RefusedDocumentException.class, () -> read(text)).problems();
    }

    // ---- CSAF

    private static final String CSAF = """
            {"document": {"csaf_version": "2.0", "category": "csaf_security_advisory", "title": "libtls: buffer overrun",
              "publisher": {"name": "Tarn", "category": "vendor", "namespace": "https://tarn.example"},
              "aggregate_severity": {"text": "Important"},
              "notes": [{"category": "legal_disclaimer", "text": "none"}, {"category": "summary", "text": "A crafted hello overruns a buffer."}],
              "references": [{"url": "https://tarn.example/TRN-2231", "summary": "advisory"}],
              "tracking": {"id": "TRN-2231", "status": "final", "version": "2", "initial_release_date": "2026-11-12T09:00:00Z", "current_release_date": "2026-11-13T10:00:00+01:00"}},
             "product_tree": {"branches": [{"category": "vendor", "name": "Tarn", "branches": [
                {"category": "product_version", "name": "3.2.9-1", "product": {"product_id": "new", "name": "libtls 3.2.9", "product_identification_helper": {"purl": "pkg:rpm/tarn/libtls@3.2.9-1?arch=x86_64"}}},
                {"category": "product_version_range", "name": "vers:generic/>=7.2.100|<7.2.140|>=7.2.500|<7.2.560", "product": {"product_id": "cistern", "name": "Cistern", "product_identification_helper": {"purl": "pkg:generic/cistern"}}},
                {"category": "product_version", "name": "x", "product": {"product_id": "nameless", "name": "A box without a package URL"}},
                {"category": "product_name", "name": "os", "product": {"product_id": "tarn4", "name": "Tarn Linux 4"}}]}],
              "relationships": [{"category": "default_component_of", "product_reference": "new", "relates_to_product_reference": "tarn4", "full_product_name": {"product_id": "new-on-tarn4", "name": "libtls of Tarn 4"}}]},
             "vulnerabilities": [{"cve": "CVE-2026-9000001", "title": "Overrun",
                "product_status": {"fixed": ["new-on-tarn4"], "known_affected": ["cistern", "nameless"]},
                "scores": [{"products": ["new"], "cvss_v3": {"version": "3.1", "baseScore": 9.8, "vectorString": "CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H"}}]}]}
            """;

    @Test
    void readsAnAdvisory() {
        ReadDocument document = read(CSAF);
        assertThat(document.format()).isEqualTo(Format.CSAF);
        assertThat(document.subject()).isEqualTo("TRN-2231");
        Advisory advisory = ((Content.OfAdvisory) document.content()).advisory();
        assertThat(advisory.summary()).isEqualTo("A crafted hello overruns a buffer.");
        assertThat(advisory.vendorRating()).contains("Important");
        assertThat(advisory.revised()).isEqualTo(Instant.parse("2026-11-13T09:00:00Z"));
        assertThat(advisory.vulnerabilities()).singleElement().satisfies(v -> {
            assertThat(v.baseScore()).contains(9.8);
            assertThat(v.vector()).hasValueSatisfying(vector -> assertThat(vector).startsWith("CVSS:3.1/AV:N"));
        });
        assertThat(advisory.fixes()).hasSize(2);
        assertThat(advisory.fixes().get(0).tracks()).containsExactly(AffectedRange.between("7.2.100", "7.2.140"), AffectedRange.between("7.2.500", "7.2.560"));
        assertThat(advisory.fixes().get(1).build()).hasToString("pkg:rpm/tarn/libtls for x86_64");
        assertThat(advisory.fixes().get(1).tracks()).containsExactly(AffectedRange.below("3.2.9-1"));
        assertThat(document.problems()).singleElement().satisfies(p -> {
            assertThat(p.place()).isEqualTo("/product_tree/branches/0/branches/2/product");
            assertThat(p.reason()).contains("without a package URL");
        });
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '\'', value = {
        "\"csaf_version\": \"2.0\"|\"csaf_version\": \"1.2\"|/document/csaf_version|only version 2.0",
        "\"id\": \"TRN-2231\"|\"id\": \" \"|/document/tracking/id|expected a text",
        "\"title\": \"libtls: buffer overrun\"|\"x\": 1|/document/title|missing",
        "\"version\": \"2\"|\"version\": \"two\"|/document/tracking/version|'two'",
        "2026-11-12T09:00:00Z|12 November|/document/tracking/initial_release_date|no instant",
        "[\"new-on-tarn4\"]|[\"absent\"]|/vulnerabilities/0/product_status/fixed/0|defines no product 'absent'",
        "[\"new-on-tarn4\"]|\"new\"|/vulnerabilities/0/product_status/fixed|expected a list",
        "pkg:rpm/tarn/libtls@3.2.9-1?arch=x86_64|libtls|/product_tree/branches/0/branches/0/product/product_identification_helper/purl|no package URL",
        "vers:generic/>=7.2.100|vers:generic/!=7.2.100|/product_tree/branches/0/branches/1/name|is not read",
        "7.2.500|7.2.120|/vulnerabilities/0/product_status/known_affected/0|reaches over",
        "CVE-2026-9000001|CVE-26-1|/vulnerabilities/0/cve|no CVE",
        "9.8|98|/vulnerabilities/0/scores/0/cvss_v3/baseScore|between 0.0 and 10.0",
        "https://tarn.example/TRN-2231|javascript:alert(1)|/document/references/0/url|no web address",
    })
    void refusesAnAdvisoryWithPlaceAndReason(String part, String instead, String place, String reason) {
        assertThat(CSAF).contains(part);
        assertThat(refusal(CSAF.replace(part, instead))).first().satisfies(p -> {
            assertThat(p.place()).isEqualTo(place);
            assertThat(p.reason()).contains(reason);
        });
    }

    @Test
    void anAffectedVersionWithoutAFixLacksWithNothingToInstall() {
        ReadDocument document = read(CSAF.replace("\"fixed\": [\"new-on-tarn4\"]", "\"last_affected\": [\"new\"]"));
        assertThat(((Content.OfAdvisory) document.content()).advisory().fixes().get(1).tracks()).containsExactly(AffectedRange.upTo("3.2.9-1"));
    }

    // ---- Update notice

    private static final String NOTICE = """
            {"format": "update-notice-1", "id": "LNT-1107", "title": "Lantern Desktop 6.0.1107", "vendor": "Lantern", "revision": "1",
             "published": "2026-11-12T09:00:00Z", "kind": "cumulative", "sizeBytes": 680000000, "restart": "host", "removableUntil": "2026-12-12",
             "supersedes": ["LNT-1104"], "platforms": ["Lantern Desktop 6"],
             "fixes": [{"product": "pkg:generic/lantern-desktop", "affected": [{"introduced": "6.0", "fixed": "6.0.1107"}]}]}
            """;

    @Test
    void readsANotice() {
        UpdateNotice notice = ((Content.OfNotice) read(NOTICE).content()).notice();
        assertThat(notice.kind()).isEqualTo(Kind.CUMULATIVE);
        assertThat(notice.restart()).isEqualTo(RestartNeed.HOST);
        assertThat(notice.sizeBytes()).contains(680_000_000L);
        assertThat(notice.fixes().get(0).tracks()).containsExactly(AffectedRange.between("6.0", "6.0.1107"));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
        "\"kind\": \"cumulative\"|\"kind\": \"huge\"|/kind", "\"id\": \"LNT-1107\",||''", "680000000|-1|/sizeBytes", "2026-12-12|2026-13-40|/removableUntil",
        "pkg:generic/lantern-desktop|pkg:generic/lantern-desktop@6|/fixes/0/product", "6.0.1107\"}]|5.0\"}]|/fixes/0/affected",
        "\"restart\": \"host\"|\"reboot\": \"host\"|''",
    })
    void refusesANoticeWithPlace(String part, String instead, String place) {
        assertThat(NOTICE).contains(part);
        assertThat(refusal(NOTICE.replace(part, instead == null ? "" : instead))).extracting(Problem::place).contains(place.replace("''", ""));
    }

    // ---- Host inventory

    private static final String INVENTORY = """
            {"t":"host","host":"ksk-001","platform":"Lantern Desktop 6","at":"2026-11-24T05:00:00Z","lastStart":"2026-11-20T05:00:00Z","supply":"mirror","traits":{"reader":"R2","spool_free_mb":120,"fingerprint":true}}
            {"t":"product","purl":"pkg:generic/lantern-desktop","version":"6.0.1101"}
            {"t":"product","purl":"pkg:generic/card-reader","version":"4.1"}
            {"t":"end","lines":3}
            """;

    private static List<HostReport> reports(ReadDocument document) {
        return ((Content.OfInventory) document.content()).reports();
    }

    @Test
    void readsHosts() {
        ReadDocument document = read(INVENTORY + "\n" + INVENTORY.replace("ksk-001", "ksk-002"));
        assertThat(document.subject()).isEqualTo("2 hosts");
        assertThat(reports(document)).extracting(HostReport::name).containsExactly("ksk-001", "ksk-002");
        HostReport host = reports(document).get(0);
        assertThat(host.traits()).containsEntry("reader", new Trait.Text("R2")).containsEntry("spool_free_mb", new Trait.Number(120)).containsEntry("fingerprint", new Trait.Truth(true));
        assertThat(host.products()).hasSize(2);
        assertThat(host.supply()).contains("mirror");
    }

    @Test
    void keepsTheGoodHostsAndNamesTheOthers() {
        String cutOff = INVENTORY.lines().limit(2).reduce("", (a, b) -> a + b + "\n");
        ReadDocument document = read(cutOff + INVENTORY.replace("ksk-001", "ksk-002") + INVENTORY.replace("ksk-001", "ksk-003").replace("\"lines\":3", "\"lines\":4"));
        assertThat(reports(document)).extracting(HostReport::name).containsExactly("ksk-002");
        assertThat(document.problems()).extracting(Problem::place).containsExactly("line 3", "line 10 /lines");
        assertThat(document.problems().get(0).reason()).contains("ksk-001").contains("cut off");
        assertThat(document.problems().get(1).reason()).contains("ksk-003 has 3 lines").contains("counts 4");
    }

    @Test
    void leavesOutASingleBadProduct() {
        ReadDocument document = read(INVENTORY.replace("\"4.1\"", "\"4.x\""));
        assertThat(reports(document).get(0).products()).hasSize(1);
        assertThat(document.problems()).singleElement().satisfies(p -> {
            assertThat(p.place()).isEqualTo("line 3 /version");
            assertThat(p.reason()).contains("'4.x' is no dotted version");
        });
    }

    @Test
    void aNumberThatWouldFillTheMemoryIsRefused() {
        assertThat(refusal(INVENTORY.replace(":120", ":1e999999999"))).extracting(Problem::place).containsExactly("line 1 /traits/spool_free_mb");
        assertThat(reports(read(INVENTORY.replace(":120", ":0.1234567890123456789"))).get(0).traits().get("spool_free_mb")).hasToString("0.1234567890123456789");
    }

    @Test
    void refusesAnInventoryWithoutASingleWholeHost() {
        assertThat(refusal(INVENTORY.replace("{\"t\":\"end\",\"lines\":3}\n", ""))).singleElement()
                .satisfies(p -> assertThat(p.reason()).contains("cut off: the document ends"));
        assertThat(refusal(INVENTORY.replace("2026-11-24T05", "yesterday"))).extracting(Problem::place).containsExactly("line 1 /at");
        assertThat(reports(read(INVENTORY.replace("2026-11-24T05", "yesterday") + INVENTORY))).as("the next host is read again").hasSize(1);
        assertThat(refusal(INVENTORY.lines().skip(1).limit(1).reduce("", String::concat))).extracting(Problem::reason).containsExactly("this product belongs to no host");
        assertThat(reports(read(INVENTORY + INVENTORY))).as("the same host twice").hasSize(1);
    }

    @Test
    void everyLineOfAGoodInventoryAgreesWithTheSchema() {
        Schemas schema = Schemas.named("inventory-line-1");
        INVENTORY.lines().forEach(line -> assertThat(schema.problems(new JsonMapper().readTree(line))).as(line).isEmpty());
        assertThat(schema.problems(new JsonMapper().readTree("{\"t\":\"product\",\"purl\":\"pkg:generic/x\"}"))).isNotEmpty();
    }

    // ---- Populations

    private static final String POPULATIONS = """
            {"format": "populations-1", "fleetRule": {"otherwise": "never"}, "populations": [
              {"id": "bench", "name": "Proving bench", "predicate": "role = bench", "tier": 4, "rule": {"otherwise": 0}},
              {"id": "kiosks", "name": "Ticket kiosks", "predicate": "role=kiosk and spool_free_mb>=1", "includes": ["ksk-9"], "tier": 2, "owner": "Ada", "protected": ["ksk-1"],
               "timeZone": "Europe/Oslo", "checkInHours": 4, "rule": {"lines": [{"kinds": ["security"], "ratings": ["critical"], "offerAfterDays": 2}], "otherwise": 14}}]}
            """;

    @Test
    void readsPopulations() {
        Ladder ladder = ((Content.OfPopulations) read(POPULATIONS).content()).ladder();
        assertThat(ladder.populations()).hasSize(2).element(1).satisfies(p -> {
            assertThat(p.predicate()).hasToString("role = kiosk and spool_free_mb ≥ 1");
            assertThat(p.rhythm()).contains(Duration.ofHours(4));
            assertThat(p.rule().otherwise().delay()).contains(Duration.ofDays(14));
        });
        assertThat(ladder.fleetRule().otherwise().delay()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
        "role = bench|role bench|/populations/0/predicate|at character 6", "\"tier\": 4|\"tier\": 9|/populations/0/tier|4", "Europe/Oslo|Europe/Nowhere|/populations/1/timeZone|Nowhere",
        "\"id\": \"bench\"|\"id\": \"kiosks\"|/populations|two populations", "\"otherwise\": 0|\"otherwise\": \"soon\"|/populations/0/rule/otherwise|",
    })
    void refusesPopulationsWithPlace(String part, String instead, String place, String reason) {
        assertThat(POPULATIONS).contains(part);
        assertThat(refusal(POPULATIONS.replace(part, instead))).anySatisfy(p -> {
            assertThat(p.place()).isEqualTo(place);
            assertThat(p.reason()).contains(reason == null ? "" : reason);
        });
    }

    // ---- Whatever comes

    @Test
    void refusesWhatIsNoKnownDocument() {
        assertThat(Stream.of("", " ", "{}", "[1]", "null", "{\"a\":", "hello", "{\"a\":1}{\"b\":2}", "{\"a\":1,\"a\":2}", "[".repeat(5_000),
                "{\"document\":{\"csaf_version\":\"2.0\"}}", "{\"document\":{\"csaf_version\":2}}", "{\"format\":\"update-notice-2\"}", "{\"format\":\"populations-1\",\"populations\":3}",
                "{\"t\":\"host\"}", "{\"t\":1}", "{\"t\":\"end\",\"lines\":0}", "\"" + "x".repeat(3_000_000) + "\"").toList())
                .allSatisfy(text -> assertThat(refusal(text)).isNotEmpty().allSatisfy(p -> assertThat(p.reason()).isNotBlank()));
        assertThatThrownBy(() -> Documents.read(new byte[] {(byte) 0xff, (byte) 0xfe, 'a', 0})).isInstanceOf(RefusedDocumentException.class).hasMessageContaining("UTF-8");
        assertThatThrownBy(() -> Documents.read(new byte[Documents.LONGEST + 1])).hasMessageContaining("longer than 64 MB");
    }

    @Test
    void namesTheLimitThatIsPassed() {
        assertThat(refusal("[".repeat(200))).singleElement().satisfies(p -> assertThat(p.reason()).contains("100 levels deep"));
    }

    @Test
    void aByteOrderMarkIsPassedOver() {
        assertThat(read("\uFEFF" + NOTICE).content()).asInstanceOf(type(Content.OfNotice.class)).isNotNull();
    }
}
