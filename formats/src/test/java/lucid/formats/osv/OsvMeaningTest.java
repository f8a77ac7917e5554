package lucid.formats.osv;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.Advisory;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.ProductMapping;
import lucid.core.update.ProductMappings;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What legal documents of the Open Source Vulnerability format mean. */
class OsvMeaningTest {

    private static ReadDocument read(String affected, ProductMapping... mappings) {
        return Documents.read(
                """
                {"schema_version": "1.6.0", "id": "FSA-12", "modified": "2026-11-20T10:00:00Z", "summary": "Overrun",
                 "references": [{"type": "WEB", "url": "git://fathom.example/x"}],
                 "affected": [%s]}""".formatted(affected).getBytes(StandardCharsets.UTF_8),
                new ReadingHints(
                        Optional.empty(),
                        Optional.empty(),
                        Map.of(),
                        new ProductMappings(List.of(mappings)),
                        Instant.EPOCH));
    }

    private static Advisory advisory(String affected, ProductMapping... mappings) {
        return ((Content.OfAdvisories) read(affected, mappings).content())
                .advisories()
                .get(0);
    }

    private static Fix cistern(String events, String others) {
        return advisory(
                        "{\"package\": {\"ecosystem\": \"Cistern\", \"name\": \"cistern\", \"purl\": \"pkg:generic/cistern\"}, \"ranges\": [{\"type\": \"SEMVER\", \"events\": ["
                                + events + "]}]" + others + "}")
                .fixes()
                .get(0);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{\"fixed\": \"1.4\"}, {\"introduced\": \"1.0\"}|[[1.0, 1.4)]",
                "{\"introduced\": \"1.0\"}, {\"introduced\": \"1.2\"}, {\"fixed\": \"1.4\"}|[[1.0, 1.4)]",
                "{\"introduced\": \"2.0\"}, {\"fixed\": \"2.3\"}, {\"introduced\": \"0\"}, {\"fixed\": \"1.4\"}|[[lowest, 1.4), [2.0, 2.3)]",
                "{\"introduced\": \"1.0\"}, {\"limit\": \"2.0\"}|[[1.0, 2.0)]",
                "{\"introduced\": \"1.0\"}, {\"fixed\": \"3.0\"}, {\"limit\": \"2.0\"}|[[1.0, 2.0)]",
                "{\"introduced\": \"1.0\"}, {\"last_affected\": \"1.9\"}, {\"limit\": \"2.0\"}|[[1.0, 1.9]]",
                "{\"introduced\": \"1.0\"}, {\"limit\": \"*\"}|[[1.0, no end)]",
            })
    void eventsStandInAnyOrder(String events, String ranges) {
        assertThat(cistern(events, "").tracks()).hasToString(ranges);
    }

    @Test
    void versionsBesideRangesAreAffectedToo() {
        assertThat(cistern("{\"introduced\": \"1.0\"}, {\"fixed\": \"1.4\"}", ", \"versions\": [\"1.2\", \"2.1\"]")
                        .tracks())
                .containsExactly(AffectedRange.between("1.0", "1.4"), AffectedRange.only("2.1"));
    }

    @Test
    void aDistributionsAdvisoryIsOfItsSourcePackagesOnThatRelease() {
        Fix fix = advisory(
                        "{\"package\": {\"ecosystem\": \"Debian:12\", \"name\": \"openssl\"}, \"ranges\": [{\"type\": \"ECOSYSTEM\", \"events\": [{\"introduced\": \"0\"}, {\"fixed\": \"3.0.9-1\"}]}]}")
                .fixes()
                .get(0);
        assertThat(fix.build()).hasToString("pkg:deb/debian/openssl on 12 for source");
        assertThat(fix.tracks()).containsExactly(AffectedRange.below("3.0.9-1"));
    }

    @ParameterizedTest
    @CsvSource({
        "Maven, org.tarn:tls, pkg:maven/org.tarn/tls",
        "npm, @tarn/tls, pkg:npm/%40tarn/tls",
        "Go, tarn.example/tls, pkg:golang/tarn.example/tls",
        "crates.io, tls, pkg:cargo/tls",
    })
    void ecosystemsOfTheSchemaHavePackageUrls(String ecosystem, String name, String purl) {
        Fix fix = advisory(
                        "{\"package\": {\"ecosystem\": \"" + ecosystem + "\", \"name\": \"" + name
                                + "\"}, \"ranges\": [{\"type\": \"SEMVER\", \"events\": [{\"introduced\": \"0\"}, {\"fixed\": \"1.2.3\"}]}]}")
                .fixes()
                .get(0);
        assertThat(fix.build()).hasToString(purl);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{\"package\": {\"ecosystem\": \"Nowhere:1\", \"name\": \"tls\"}, \"versions\": [\"1.0\"]}|not mapped",
                "{\"package\": {\"ecosystem\": \"PyPI\", \"name\": \"tls\"}, \"versions\": [\"1.0\"]}|cannot be ordered",
                "{\"package\": {\"ecosystem\": \"Alpine:v3.20\", \"name\": \"tls\", \"purl\": \"pkg:apk/alpine/tls\"}, \"ranges\": [{\"type\": \"ECOSYSTEM\", \"events\": [{\"introduced\": \"0\"}, {\"fixed\": \"2.0-r10\"}]}]}|cannot be ordered",
                "{\"package\": {\"ecosystem\": \"Cistern\", \"name\": \"tls\", \"purl\": \"pkg:generic/tls\"}, \"ranges\": [{\"type\": \"GIT\", \"repo\": \"x\", \"events\": [{\"introduced\": \"0\"}]}]}|commits instead of versions",
                "{\"package\": {\"ecosystem\": \"Cistern\", \"name\": \"tls\", \"purl\": \"pkg:generic/tls\"}, \"versions\": [\"one\"]}|'one' is no dotted version",
                "{\"package\": {\"ecosystem\": \"Cistern\", \"name\": \"tls\", \"purl\": \"tls\"}, \"versions\": [\"1.0\"]}|no package URL",
                "{\"versions\": [\"1.0\"]}|not mapped",
            })
    void whatCannotBeToldIsNotRead(String affected, String reason) {
        assertThat(advisory(affected).fixes()).isEmpty();
        assertThat(advisory(affected).unread()).singleElement().satisfies(unread -> assertThat(unread.reason())
                .contains(reason));
        assertThat(read(affected).problems()).singleElement().satisfies(problem -> assertThat(problem.reason())
                .startsWith("one product could not be read"));
    }

    @Test
    void aMappingIsKnownByTheEcosystem() {
        ProductMapping tls = new ProductMapping(
                1,
                "Nowhere",
                ProductMapping.How.NAME,
                "tls",
                Optional.of(new ProductMapping.Target("pkg:deb/fathom/tls?arch=source")));
        assertThat(advisory(
                                "{\"package\": {\"ecosystem\": \"Nowhere:1\", \"name\": \"tls\"}, \"versions\": [\"1.0\"]}",
                                tls)
                        .fixes())
                .singleElement()
                .satisfies(fix -> assertThat(fix.build()).hasToString("pkg:deb/fathom/tls on 1 for source"));
    }

    @Test
    void theWorstOfSeveralSeveritiesCountsAndAnInvalidOneIsNamed() {
        String affected =
                "{\"package\": {\"ecosystem\": \"Cistern\", \"name\": \"c\", \"purl\": \"pkg:generic/c\"}, \"versions\": [\"1.0\"], \"severity\": [{\"type\": \"CVSS_V3\", \"score\": \"CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:N/I:N/A:L\"}, {\"type\": \"CVSS_V3\", \"score\": \"CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H\"}, {\"type\": \"CVSS_V3\", \"score\": \"CVSS:3.1/AV:Q\"}, {\"type\": \"Words\", \"score\": \"high\"}]}";
        assertThat(advisory(affected).vulnerabilities()).singleElement().satisfies(v -> assertThat(v.baseScore())
                .contains(9.8));
        assertThat(read(affected).problems())
                .extracting(Problem::place)
                .containsExactly("/affected/0/severity/2/score");
    }
}
