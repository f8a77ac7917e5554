package lucid.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.InstanceOfAssertFactories.type;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.PackageLists;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.TargetRelease;
import lucid.core.fleet.Timing;
import lucid.core.fleet.Trait;
import lucid.core.fleet.WeekSpan;
import lucid.core.update.AffectedRange;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.Product;
import lucid.core.update.Rating;
import lucid.core.update.Removable;
import lucid.core.update.Requirement;
import lucid.core.update.RestartNeed;
import lucid.core.update.UpdateNotice;
import lucid.formats.document.Content;
import lucid.formats.document.Limits;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.Schemas;
import lucid.formats.populations.PopulationsWriter;
import org.assertj.core.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.json.JsonMapper;

class DocumentsTest {

    private static ReadDocument read(String text) {
        return Documents.read(text.getBytes(StandardCharsets.UTF_8), ReadingHints.none(Instant.EPOCH));
    }

    private static List<Problem> refusal(String text) {
        return Assertions.catchThrowableOfType(RefusedDocumentException.class, () -> read(text))
                .problems();
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
        assertThat(notice.restart()).contains(RestartNeed.HOST);
        assertThat(notice.sizeBytes()).contains(680_000_000L);
        assertThat(notice.removable().until()).contains(LocalDate.of(2026, 12, 12));
        assertThat(((Content.OfNotice)
                                read(NOTICE.replace("2026-12-12", "never")).content())
                        .notice()
                        .removable())
                .isEqualTo(Removable.until(Removable.NEVER));
        assertThat(((Content.OfNotice)
                                read(NOTICE.replace("\"removableUntil\": \"2026-12-12\"", "\"removableDays\": 10"))
                                        .content())
                        .notice()
                        .removable())
                .isEqualTo(new Removable(Optional.empty(), Optional.of(10)));
        assertThat(notice.fixes().get(0).tracks()).containsExactly(AffectedRange.between("6.0", "6.0.1107"));
    }

    private static String requiring(String... requirements) {
        return NOTICE.replace("\"fixes\":", "\"requires\": [" + String.join(",", requirements) + "], \"fixes\":");
    }

    @Test
    void readsWhatAHostMustHave() {
        UpdateNotice notice = ((Content.OfNotice) read(requiring(
                                "{\"product\": \"pkg:generic/lantern-loader\", \"atLeast\": \"2.10\"}",
                                "{\"product\": \"pkg:generic/lantern-keys\"}",
                                "{\"trait\": \"model\", \"oneOf\": [\"K2\", \"K3\"]}",
                                "{\"trait\": \"root_free_mb\", \"atLeast\": 4096}"))
                        .content())
                .notice();
        assertThat(notice.requires())
                .containsExactly(
                        new Requirement.OfProduct(new Product("pkg:generic/lantern-loader"), Optional.of("2.10")),
                        new Requirement.OfProduct(new Product("pkg:generic/lantern-keys"), Optional.empty()),
                        new Requirement.OneOf("model", List.of("K2", "K3")),
                        new Requirement.AtLeast("root_free_mb", 4096));
        assertThat(notice.requires())
                .extracting(Requirement::words)
                .containsExactly(
                        "lantern-loader 2.10 or later", "lantern-keys", "model K2 or K3", "root_free_mb 4096 or more");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{}|/requires/0|say a 'product'",
                "{\"trait\": \"model\"}|/requires/0|say a 'product'",
                "{\"trait\": \"model\", \"oneOf\": []}|/requires/0/oneOf|has at least one entry",
                "{\"trait\": \"model\", \"atLeast\": \"2\"}|/requires/0/atLeast|expected a number",
                "{\"product\": \"pkg:generic/x\", \"atLeast\": 2}|/requires/0/atLeast|expected a text",
                "{\"product\": \"pkg:generic/x\", \"atLeast\": \"new one\"}|/requires/0/atLeast|is no dotted version",
                "{\"product\": \"pkg:generic/x@2\"}|/requires/0/product|a product has no version; it belongs into 'atLeast'",
                "{\"product\": \"pkg:generic/x\", \"trait\": \"model\"}|/requires/0|say a 'product'",
            })
    void refusesWhatCannotBeRequired(String requirement, String place, String reason) {
        assertThat(refusal(requiring(requirement))).singleElement().satisfies(problem -> {
            assertThat(problem.place()).isEqualTo(place);
            assertThat(problem.reason()).contains(reason);
        });
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "\"kind\": \"cumulative\"|\"kind\": \"huge\"|/kind",
                "\"id\": \"LNT-1107\",||''",
                "680000000|-1|/sizeBytes",
                "2026-12-12|2026-13-40|/removableUntil",
                "pkg:generic/lantern-desktop|pkg:generic/lantern-desktop@6|/fixes/0/product",
                "6.0.1107\"}]|5.0\"}]|/fixes/0/affected",
                "\"restart\": \"host\"|\"reboot\": \"host\"|''",
            })
    void refusesANoticeWithPlace(String part, String instead, String place) {
        assertThat(NOTICE).contains(part);
        assertThat(refusal(NOTICE.replace(part, instead == null ? "" : instead)))
                .extracting(Problem::place)
                .contains(place.replace("''", ""));
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
        assertThat(reports(document))
                .extracting(HostReport::name)
                .containsExactly(new HostName("ksk-001"), new HostName("ksk-002"));
        HostReport host = reports(document).get(0);
        assertThat(host.traits())
                .containsEntry("reader", new Trait.Text("R2"))
                .containsEntry("spool_free_mb", new Trait.Number(120))
                .containsEntry("fingerprint", new Trait.Truth(true));
        assertThat(host.products()).hasSize(2);
        assertThat(host.supply()).contains("mirror");
    }

    @Test
    void readsWhatTheSourcesOfEachHostHave() {
        String first = INVENTORY
                .replace("\"supply\"", "\"listsAt\":\"2026-11-23T05:00:00Z\",\"supply\"")
                .replace("\"4.1\"", "\"4.1\",\"origin\":\"http://quay.example\"")
                .replace("{\"t\":\"end\",\"lines\":3}", """
                        {"t":"available","purl":"pkg:generic/card-reader","version":"4.2","source":"reader","sourceVersion":"4.2-1","candidate":true}
                        {"t":"available","purl":"pkg:generic/card-reader","version":"5.0","candidate":false}
                        {"t":"end","lines":5}""");
        List<HostReport> reports = reports(read(first + INVENTORY.replace("ksk-001", "ksk-002")));
        PackageLists lists = reports.get(0).lists().orElseThrow();
        assertThat(lists.fetched()).isEqualTo(Instant.parse("2026-11-23T05:00:00Z"));
        assertThat(lists.cameFrom()).isEqualTo(Map.of("http://quay.example", 1));
        assertThat(lists.newer())
                .extracting(newer -> newer.product().version() + " of "
                        + newer.product().sourceVersion() + (newer.candidate() ? ", candidate" : ""))
                .containsExactly("4.2 of 4.2-1, candidate", "5.0 of 5.0");
        assertThat(reports.get(1).lists()).as("the next host tells nothing").isEmpty();
    }

    @Test
    void readsWhatHappenedWithUpdatesInsideAHostsLinesAndByItself() {
        String outcome = """
                {"t":"outcome","update":"LNT-1107","revision":"1","what":"failed","at":"2026-11-24T04:00:00Z","code":"0x7e","class":"refused"}
                """;
        String alone =
                "{\"t\":\"outcome\",\"host\":\"ksk-009\",\"update\":\"LNT-1107\",\"what\":\"installed\",\"at\":\"2026-11-24T06:00:00Z\"}\n";
        Content.OfInventory inventory = (Content.OfInventory)
                read(INVENTORY.replace("{\"t\":\"end\",\"lines\":3}", outcome + "{\"t\":\"end\",\"lines\":4}") + alone)
                        .content();
        assertThat(inventory.reports().get(0).events()).singleElement().satisfies(event -> {
            assertThat(event.what()).isEqualTo(Outcome.What.FAILED);
            assertThat(event.code()).contains("0x7e");
            assertThat(event.failureClass()).contains(FailureClass.REFUSED);
        });
        assertThat(inventory.events()).singleElement().satisfies(events -> assertThat(events.host())
                .isEqualTo(new HostName("ksk-009")));
        assertThat(((Content.OfInventory) read(alone).content()).reports()).isEmpty();
        assertThat(refusal(alone.replace("installed", "vanished")))
                .extracting(Problem::reason)
                .first()
                .asString()
                .contains("'vanished' is none of [offered, downloaded");
        assertThat(refusal(alone.replace("\"host\":\"ksk-009\",", "")))
                .extracting(Problem::place)
                .containsExactly("line 1 /host");
    }

    @Test
    void keepsTheGoodHostsAndNamesTheOthers() {
        String cutOff = INVENTORY.lines().limit(2).reduce("", (a, b) -> a + b + "\n");
        ReadDocument document = read(cutOff
                + INVENTORY.replace("ksk-001", "ksk-002")
                + INVENTORY.replace("ksk-001", "ksk-003").replace("\"lines\":3", "\"lines\":4"));
        assertThat(reports(document)).extracting(HostReport::name).containsExactly(new HostName("ksk-002"));
        assertThat(document.problems()).extracting(Problem::place).containsExactly("line 3", "line 10 /lines");
        assertThat(document.problems().get(0).reason()).contains("ksk-001").contains("cut off");
        assertThat(document.problems().get(1).reason())
                .contains("ksk-003 has 3 lines")
                .contains("counts 4");
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
        assertThat(refusal(INVENTORY.replace(":120", ":1e999999999")))
                .extracting(Problem::place)
                .containsExactly("line 1 /traits/spool_free_mb");
        assertThat(reports(read(INVENTORY.replace(":120", ":0.1234567890123456789")))
                        .get(0)
                        .traits()
                        .get("spool_free_mb"))
                .hasToString("0.1234567890123456789");
    }

    @Test
    void refusesAnInventoryWithoutASingleWholeHost() {
        assertThat(refusal(INVENTORY.replace("{\"t\":\"end\",\"lines\":3}\n", "")))
                .singleElement()
                .satisfies(p -> assertThat(p.reason()).contains("cut off: the document ends"));
        assertThat(refusal(INVENTORY.replace("2026-11-24T05", "yesterday")))
                .extracting(Problem::place)
                .containsExactly("line 1 /at");
        assertThat(reports(read(INVENTORY.replace("2026-11-24T05", "yesterday") + INVENTORY)))
                .as("the next host is read again")
                .hasSize(1);
        assertThat(refusal(INVENTORY.lines().skip(1).limit(1).reduce("", String::concat)))
                .extracting(Problem::reason)
                .containsExactly("this product belongs to no host");
        assertThat(reports(read(INVENTORY + INVENTORY)))
                .as("the same host twice")
                .hasSize(1);
    }

    @Test
    void everyLineOfAGoodInventoryAgreesWithTheSchema() {
        Schemas schema = Schemas.named("inventory-line-1");
        INVENTORY.lines().forEach(line -> assertThat(schema.problems(new JsonMapper().readTree(line)))
                .as(line)
                .isEmpty());
        assertThat(schema.problems(new JsonMapper().readTree("{\"t\":\"product\",\"purl\":\"pkg:generic/x\"}")))
                .isNotEmpty();
    }

    // ---- Populations

    private static final String POPULATIONS = """
            {"format": "populations-1", "fleetRule": {"otherwise": "never"}, "populations": [
              {"id": "bench", "name": "Proving bench", "condition": "role = bench", "tier": 4, "rule": {"otherwise": 0}},
              {"id": "kiosks", "name": "Ticket kiosks", "condition": "role=kiosk and spool_free_mb>=1", "includes": ["ksk-9"], "tier": 2, "owner": "Ada", "protected": ["ksk-1"],
               "timeZone": "Europe/Oslo", "checkInHours": 4, "busyHours": ["Mon-Fri 6:00-23:00"], "windows": ["sun 02:00-05:00"], "dueHour": "12:00", "allowanceDays": 3,
               "start": "at shutdown", "earlyRestart": false, "leastBattery": 25, "overPaidLine": true,
               "staysAt": [{"product": "pkg:generic/lantern-desktop", "release": "6", "supportEnds": "2027-02-12"}],
               "rule": {"lines": [{"kinds": ["security"], "ratings": ["critical"], "offerAfterDays": 2, "dueAfterDays": 4}], "otherwise": 14}}]}
            """;

    @Test
    void readsPopulations() {
        Ladder ladder = ((Content.OfPopulations) read(POPULATIONS).content()).ladder();
        assertThat(ladder.populations()).hasSize(2).element(1).satisfies(p -> {
            assertThat(p.condition()).hasToString("role = kiosk and spool_free_mb ≥ 1");
            assertThat(p.rhythm()).contains(Duration.ofHours(4));
            assertThat(p.rule().otherwise().delay()).contains(Duration.ofDays(14));
            assertThat(p.rule().otherwise().deadline()).isEmpty();
            assertThat(p.rule().usualOffer(Kind.SECURITY, Rating.CRITICAL).deadline())
                    .contains(Duration.ofDays(4));
            assertThat(p.timing())
                    .isEqualTo(new Timing(
                            ZoneId.of("Europe/Oslo"),
                            Optional.of(Duration.ofHours(4)),
                            List.of(WeekSpan.parse("mon-fri 06:00-23:00")),
                            List.of(WeekSpan.parse("sun 02:00-05:00")),
                            Optional.of(LocalTime.NOON),
                            Duration.ofDays(3),
                            StartMode.AT_SHUTDOWN,
                            false,
                            new Restraint(25, true)));
        });
        assertThat(ladder.populations().get(1).staysAt())
                .containsExactly(new TargetRelease(
                        PackageReference.parse("pkg:generic/lantern-desktop")
                                .build()
                                .product(),
                        "6",
                        Optional.of(LocalDate.parse("2027-02-12"))));
        assertThat(ladder.populations().get(0).timing()).isEqualTo(Timing.ANY_TIME);
        assertThat(((Content.OfPopulations)
                                read(PopulationsWriter.write(ladder)).content())
                        .ladder())
                .as("written as it is read")
                .isEqualTo(ladder);
        assertThat(ladder.fleetRule().otherwise().delay()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "role = bench|role bench|/populations/0/condition|at character 6",
                "\"tier\": 4|\"tier\": 9|/populations/0/tier|4",
                "Europe/Oslo|Europe/Nowhere|/populations/1/timeZone|Nowhere",
                "\"id\": \"bench\"|\"id\": \"kiosks\"|/populations|two populations",
                "\"otherwise\": 0|\"otherwise\": \"soon\"|/populations/0/rule/otherwise|",
                "Mon-Fri 6:00|Moonday 6:00|/populations/1/busyHours/0|moonday",
                "\"12:00\"|\"noon\"|/populations/1/dueHour|",
                "at shutdown|at will|/populations/1/start|",
                "pkg:generic/lantern|lantern|/populations/1/staysAt/0/product|package URL",
                "\"release\": \"6\"|\"release\": \"six\"|/populations/1/staysAt/0/release|six",
                "2027-02-12|soon|/populations/1/staysAt/0/supportEnds|",
                "\"offerAfterDays\": 2|\"offerAfterDays\": \"never\"|/populations/1/rule/lines/0/dueAfterDays|never offered",
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
        assertThat(Stream.of(
                                "",
                                " ",
                                "{}",
                                "[1]",
                                "null",
                                "{\"a\":",
                                "hello",
                                "{\"a\":1}{\"b\":2}",
                                "{\"a\":1,\"a\":2}",
                                "[".repeat(5_000),
                                "{\"document\":{\"csaf_version\":\"2.0\"}}",
                                "{\"document\":{\"csaf_version\":2}}",
                                "{\"format\":\"update-notice-2\"}",
                                "{\"format\":\"populations-1\",\"populations\":3}",
                                "{\"t\":\"host\"}",
                                "{\"t\":1}",
                                "{\"t\":\"end\",\"lines\":0}",
                                "\"" + "x".repeat(3_000_000) + "\"")
                        .toList())
                .allSatisfy(text -> assertThat(refusal(text)).isNotEmpty().allSatisfy(p -> assertThat(p.reason())
                        .isNotBlank()));
        assertThatThrownBy(() ->
                        Documents.read(new byte[] {(byte) 0xff, (byte) 0xfe, 'a', 0}, ReadingHints.none(Instant.EPOCH)))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("UTF-8");
        assertThatThrownBy(
                        () -> Documents.read(new byte[Limits.LONGEST_DOCUMENT + 1], ReadingHints.none(Instant.EPOCH)))
                .hasMessageContaining("longer than 64 MB");
    }

    @Test
    void namesTheLimitThatIsPassed() {
        assertThat(refusal("[".repeat(200))).singleElement().satisfies(p -> assertThat(p.reason())
                .contains("100 levels deep"));
    }

    @Test
    void manySmallValuesDoNotFillTheMemory() {
        assertThat(refusal("[" + "0,".repeat(4_000_000) + "0]")).singleElement().satisfies(p -> assertThat(p.reason())
                .contains("at most 3000000 values"));
    }

    @Test
    void aByteOrderMarkIsPassedOver() {
        assertThat(read("\uFEFF" + NOTICE).content())
                .asInstanceOf(type(Content.OfNotice.class))
                .isNotNull();
    }
}
