package lucid.formats;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Trait;
import lucid.core.update.Advisory;
import lucid.core.update.AffectedRange;
import lucid.core.update.ProductMappings;
import lucid.core.update.Retraction;
import lucid.formats.document.Content;
import lucid.formats.document.CvssVectors;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.TraitRow;
import lucid.formats.table.HostTableReader;
import org.assertj.core.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** OSV, CycloneDX, and tables of hosts. */
class OtherFormatsTest {

    private static final Instant RECEIVED = Instant.parse("2026-11-24T09:00:00Z");

    private static ReadDocument read(String text) {
        return read(text, Map.of());
    }

    private static ReadDocument read(String text, Map<String, String> columns) {
        return Documents.read(
                text.getBytes(StandardCharsets.UTF_8),
                new ReadingHints(Optional.empty(), Optional.empty(), columns, ProductMappings.NONE, RECEIVED));
    }

    private static List<Problem> refusal(String text, Map<String, String> columns) {
        return Assertions.catchThrowableOfType(RefusedDocumentException.class, () -> read(text, columns))
                .problems();
    }

    // ---- OSV

    private static final String OSV = """
            {"schema_version": "1.6.0", "id": "FSA-12", "modified": "2026-11-20T10:00:00Z", "published": "2026-11-19T10:00:00Z", "aliases": ["CVE-2026-9000012", "X-1"],
             "summary": "Overrun", "details": "In short.", "severity": [{"type": "CVSS_V3", "score": "CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H"}],
             "affected": [
               {"package": {"ecosystem": "Fathom:31", "name": "libtls", "purl": "pkg:deb/fathom/libtls?arch=source&distro=fathom-31"},
                "ranges": [{"type": "ECOSYSTEM", "events": [{"introduced": "0"}, {"fixed": "3.2.9-1"}]}, {"type": "GIT", "events": [{"introduced": "abc"}]}], "versions": ["3.2.8-1"]},
               {"package": {"ecosystem": "Cistern", "name": "cistern", "purl": "pkg:generic/cistern"},
                "ranges": [{"type": "SEMVER", "events": [{"introduced": "8.0"}, {"fixed": "8.7"}, {"introduced": "9.0"}, {"last_affected": "9.3"}]}]},
               {"package": {"ecosystem": "Cistern", "name": "viewer", "purl": "pkg:generic/viewer"}, "versions": ["1.0", "1.2"]},
               {"package": {"ecosystem": "Nowhere", "name": "nameless"}}],
             "references": [{"type": "ADVISORY", "url": "https://fathom.example/FSA-12"}]}
            """;

    private static Advisory advisory(String text) {
        return ((Content.OfAdvisories) read(text).content()).advisories().get(0);
    }

    @Test
    void readsAnOsvAdvisory() {
        Advisory advisory = advisory(OSV);
        assertThat(read(OSV).format()).isEqualTo(Format.OSV);
        assertThat(advisory.revision()).isEqualTo("2026.11.20.10.0.0");
        assertThat(advisory.vulnerabilities()).singleElement().satisfies(v -> {
            assertThat(v.id()).isEqualTo("CVE-2026-9000012");
            assertThat(v.baseScore()).contains(9.8);
        });
        assertThat(advisory.fixes())
                .extracting(f -> f.build().toString())
                .containsExactly(
                        "pkg:deb/fathom/libtls on fathom-31 for source", "pkg:generic/cistern", "pkg:generic/viewer");
        assertThat(advisory.fixes().get(0).tracks()).containsExactly(AffectedRange.below("3.2.9-1"));
        assertThat(advisory.fixes().get(1).tracks())
                .containsExactly(
                        AffectedRange.between("8.0", "8.7"),
                        new AffectedRange(Optional.of("9.0"), Optional.of("9.3"), true));
        assertThat(advisory.fixes().get(2).tracks())
                .containsExactly(AffectedRange.only("1.0"), AffectedRange.only("1.2"));
        assertThat(read(OSV).problems()).singleElement().satisfies(p -> assertThat(p.place())
                .isEqualTo("/affected/3/package"));
    }

    @Test
    void aWithdrawnOsvAdvisoryIsWithdrawn() {
        assertThat(advisory(OSV.replace("\"summary\"", "\"withdrawn\": \"2026-11-21T00:00:00Z\", \"summary\""))
                        .retraction())
                .map(Retraction::type)
                .contains(Retraction.Type.WITHDRAWN);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "2026-11-20T10:00:00Z|soon|/modified|no instant",
            })
    void refusesAnOsvAdvisoryWithPlace(String part, String instead, String place, String reason) {
        assertThat(OSV).contains(part);
        assertThat(refusal(OSV.replace(part, instead.replace("''", "")), Map.of()))
                .first()
                .satisfies(p -> {
                    assertThat(p.place()).isEqualTo(place);
                    assertThat(p.reason()).contains(reason);
                });
    }

    @ParameterizedTest
    @CsvSource({
        "AV:N/AC:L/Au:N/C:C/I:C/A:C, 10.0",
        "CVSS:3.0/AV:L/AC:L/PR:L/UI:N/S:U/C:H/I:H/A:H, 7.8",
        "CVSS:3.1/AV:P/AC:H/PR:H/UI:R/S:U/C:L/I:N/A:N, 1.6",
        "CVSS:4.0/AV:N/AC:L/AT:N/PR:N/UI:N/VC:H/VI:H/VA:H/SC:N/SI:N/SA:N, 9.3"
    })
    void baseScoresOfEveryVersion(String vector, double score) {
        assertThat(CvssVectors.baseScore(vector)).isEqualTo(score);
    }

    // ---- CycloneDX

    private static final String CYCLONEDX = """
            {"bomFormat": "CycloneDX", "specVersion": "1.5", "metadata": {"timestamp": "2026-11-24T05:00:00Z", "component": {"type": "device", "name": "yard-01",
               "properties": [{"name": "lucid:trait:site", "value": "fell"}, {"name": "lucid:trait:memory_gb", "value": "16"}, {"name": "other", "value": "x"}]}},
             "components": [{"type": "operating-system", "name": "Fathom OS", "version": "31"},
               {"type": "library", "name": "libtls", "version": "3.2.8-1", "purl": "pkg:deb/fathom/libtls@3.2.8-1?arch=amd64&distro=fathom-31",
                "components": [{"type": "library", "name": "inner", "version": "1.0", "purl": "pkg:generic/inner"}]},
               {"type": "file", "name": "readme"}, {"type": "library", "name": "odd", "version": "x.y", "purl": "pkg:generic/odd"}]}
            """;

    @Test
    void readsTheComponentsOfOneHost() {
        ReadDocument document = read(CYCLONEDX);
        HostReport report = ((Content.OfInventory) document.content()).reports().get(0);
        assertThat(report.name()).isEqualTo(new HostName("yard-01"));
        assertThat(report.platform()).isEqualTo("Fathom OS 31");
        assertThat(report.traits())
                .isEqualTo(Map.of("site", new Trait.Text("fell"), "memory_gb", new Trait.Number(16)));
        assertThat(report.products())
                .extracting(p -> p.build().product().name() + " " + p.version())
                .containsExactly("libtls 3.2.8-1", "inner 1.0");
        assertThat(document.problems()).extracting(Problem::place).containsExactly("/components/3", "/components/2");
        assertThat(refusal(CYCLONEDX.replace("operating-system", "library"), Map.of()))
                .first()
                .satisfies(p -> assertThat(p.reason()).contains("what platform"));
        assertThat(refusal(CYCLONEDX.replace("2026-11-24T05:00:00Z", "now"), Map.of()))
                .extracting(Problem::place)
                .containsExactly("/metadata/timestamp");
    }

    // ---- Tables of hosts

    private static final String TABLE = """
            Host name;Site;Memory (GB);On call;Note
            ksk-001;fell;16;yes;"a; b"
            ksk-002;north ness;8;no;
            ;fell;8;no;
            ksk-001;fell;16;yes;again
            ksk-003;fell
            ksk-004;fell;4;yes;
            """;

    @Test
    void aTableWithoutPlatformAddsTraits() {
        ReadDocument document = read(TABLE, Map.of("Note", ""));
        assertThat(document.subject()).isEqualTo("3 hosts");
        List<TraitRow> rows = ((Content.OfTraits) document.content()).rows();
        assertThat(rows.get(0))
                .isEqualTo(new TraitRow(
                        new HostName("ksk-001"),
                        Map.of(
                                "site",
                                new Trait.Text("fell"),
                                "memory_gb",
                                new Trait.Number(16),
                                "on_call",
                                new Trait.Truth(true))));
        assertThat(document.problems()).extracting(Problem::place).containsExactly("line 4", "line 5", "line 6");
        assertThat(document.problems().get(1).reason())
                .isEqualTo("ksk-001 stands in line 2 already; that row is taken");
        assertThat(document.problems().get(2).reason()).contains("2 cells").contains("5 columns");
    }

    @Test
    void aTableWithPlatformAndProductReports() {
        String table =
                "hostname,os,pkg:generic/lantern-desktop,last seen\nksk-1,Lantern Desktop 6,6.0.1101,2026-11-23 05:00\nksk-2,Lantern Desktop 6,six,\nksk-3,,6.0.1101,\nksk-4,Lantern Desktop 6,6.0.1107,\n";
        ReadDocument document = read(table);
        List<HostReport> reports = ((Content.OfInventory) document.content()).reports();
        assertThat(reports).extracting(HostReport::name).containsExactly(new HostName("ksk-1"), new HostName("ksk-4"));
        assertThat(reports).extracting(HostReport::at).containsExactly(Instant.parse("2026-11-23T05:00:00Z"), RECEIVED);
        assertThat(reports.get(0).products().get(0).version()).isEqualTo("6.0.1101");
        assertThat(document.problems())
                .extracting(Problem::reason)
                .satisfiesExactly(r -> assertThat(r).contains("'six' is no dotted version"), r -> assertThat(r)
                        .contains("platform of ksk-3 is missing"));
    }

    @Test
    void thePreviewShowsWhatWouldBeTakenAndKeepsNothingBack() {
        HostTableReader.Preview preview =
                Documents.preview(TABLE.getBytes(StandardCharsets.UTF_8), ReadingHints.none(RECEIVED));
        assertThat(preview.used())
                .containsExactly(
                        Map.entry("Host name", "host"),
                        Map.entry("Site", "trait site"),
                        Map.entry("Memory (GB)", "trait memory_gb"),
                        Map.entry("On call", "trait on_call"),
                        Map.entry("Note", "trait note"));
        assertThat(preview.types())
                .containsEntry("Memory (GB)", Trait.Type.NUMBER)
                .containsEntry("On call", Trait.Type.TRUTH)
                .containsEntry("Site", Trait.Type.TEXT);
        assertThat(preview.rows()).isEqualTo(6);
        assertThat(preview.hosts()).isEqualTo(3);
        assertThat(preview.wholeReports()).isFalse();
        assertThat(preview.problems()).hasSize(3);
        HostTableReader.Preview unmatched = HostTableReader.preview("a,b\n1,2\n", ReadingHints.none(RECEIVED));
        assertThat(unmatched.problems())
                .extracting(Problem::reason)
                .containsExactly("no column is the name of the host; say which one is");
    }

    @Test
    void wrongColumnsAreNamed() {
        assertThat(refusal(TABLE, Map.of("Room", "host")))
                .extracting(Problem::reason)
                .containsExactly("there is no column 'Room'");
        assertThat(refusal(TABLE, Map.of("Site", "place")))
                .extracting(Problem::place)
                .containsExactly("column Site");
        assertThat(refusal(TABLE, Map.of("Site", "host")))
                .extracting(Problem::reason)
                .first()
                .asString()
                .contains("'Host name' and 'Site' are taken for the same");
        assertThat(refusal("host,host\na,b\n", Map.of()))
                .extracting(Problem::reason)
                .containsExactly("two columns are headed 'host'");
        assertThat(refusal("host,site\n\"open,fell\n", Map.of())).isNotEmpty();
        assertThat(refusal("host,site\n", Map.of()))
                .extracting(Problem::reason)
                .containsExactly("there is no row below the headings");
    }

    @Test
    void whatIsInAContainerOrNotInstalledIsNotTheHosts() {
        String text = CYCLONEDX.replace("{\"type\": \"file\", \"name\": \"readme\"}", """
                {"type": "container", "name": "app", "purl": "pkg:oci/app@sha256%3Aab", "components": [
                   {"type": "operating-system", "name": "Tarn Linux", "version": "4"}, {"type": "library", "name": "tls", "version": "1", "purl": "pkg:generic/tls"}]},
                {"type": "library", "name": "tested", "version": "1", "purl": "pkg:generic/tested", "scope": "excluded"},
                {"type": "library", "name": "perhaps", "version": "1", "purl": "pkg:generic/perhaps", "scope": "optional"},
                {"type": "library", "name": "versionless", "purl": "pkg:generic/versionless"}""");
        ReadDocument document = read(text);
        HostReport report = ((Content.OfInventory) document.content()).reports().get(0);
        assertThat(report.platform()).isEqualTo("Fathom OS 31");
        assertThat(report.products())
                .extracting(product -> product.build().product().name())
                .containsExactly("libtls", "inner", "app");
        assertThat(document.problems())
                .extracting(Problem::reason)
                .anySatisfy(reason -> assertThat(reason).isEqualTo("left out: it has no version"))
                .anySatisfy(reason -> assertThat(reason).contains("that are excluded or optional are not installed"));
    }

    @Test
    void theSameInXmlIsTheSameHost() {
        ReadDocument xml = read("""
                <?xml version="1.0" encoding="UTF-8"?>
                <bom xmlns="http://cyclonedx.org/schema/bom/1.4" version="1">
                  <metadata><timestamp>2026-11-24T05:00:00Z</timestamp><component type="device"><name>yard-01</name>
                    <properties><property name="lucid:trait:site">fell</property><property name="lucid:trait:memory_gb">16</property><property name="other">x</property></properties></component></metadata>
                  <components>
                    <component type="operating-system"><name>Fathom OS</name><version>31</version></component>
                    <component type="library"><name>libtls</name><version>3.2.8-1</version><purl>pkg:deb/fathom/libtls@3.2.8-1?arch=amd64&amp;distro=fathom-31</purl>
                      <components><component type="library"><name>inner</name><version>1.0</version><purl>pkg:generic/inner</purl></component></components></component>
                    <component type="file"><name>readme</name></component>
                    <component type="library"><name>odd</name><version>x.y</version><purl>pkg:generic/odd</purl></component>
                  </components>
                </bom>""");
        assertThat(xml).isEqualTo(read(CYCLONEDX));
    }

    @Test
    void aDescribedOperatingSystemIsThePlatformIfAPropertyNamesTheHost() {
        String system = CYCLONEDX
                .replace(
                        "{\"type\": \"device\", \"name\": \"yard-01\"",
                        "{\"type\": \"operating-system\", \"name\": \"Tarn Linux\", \"version\": \"4\"")
                .replace("{\"type\": \"operating-system\", \"name\": \"Fathom OS\", \"version\": \"31\"},", "");
        assertThat(refusal(system, Map.of())).singleElement().satisfies(problem -> assertThat(problem.reason())
                .contains("name the host in the property lucid:host"));
        HostReport report = ((Content.OfInventory) read(system.replace(
                                "{\"name\": \"other\"",
                                "{\"name\": \"lucid:host\", \"value\": \"yard-02\"}, {\"name\": \"other\""))
                        .content())
                .reports()
                .get(0);
        assertThat(report.name()).isEqualTo(new HostName("yard-02"));
        assertThat(report.platform()).isEqualTo("Tarn Linux 4");
    }
}
