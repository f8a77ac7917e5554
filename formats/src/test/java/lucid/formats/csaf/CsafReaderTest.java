package lucid.formats.csaf;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import lucid.core.update.Advisory;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Remedy;
import lucid.core.update.RestartNeed;
import lucid.core.update.Retraction;
import lucid.core.update.VendorStatement;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import org.assertj.core.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CsafReaderTest {

    private static ReadDocument read(String text) {
        return Documents.read(text.getBytes(StandardCharsets.UTF_8), ReadingHints.none(Instant.EPOCH));
    }

    private static List<Problem> refusal(String text) {
        return Assertions.catchThrowableOfType(RefusedDocumentException.class, () -> read(text))
                .problems();
    }

    private static Advisory advisory(ReadDocument document) {
        return ((Content.OfAdvisories) document.content()).advisories().get(0);
    }

    private static final String CSAF = """
            {"document": {"csaf_version": "2.0", "category": "csaf_security_advisory", "title": "libtls: buffer overrun",
              "publisher": {"name": "Tarn", "category": "vendor", "namespace": "https://tarn.example"},
              "aggregate_severity": {"text": "Important"},
              "notes": [{"category": "legal_disclaimer", "text": "none"}, {"category": "summary", "text": "A crafted hello overruns a buffer."}],
              "references": [{"url": "https://tarn.example/TRN-2231", "summary": "advisory"}],
              "tracking": {"id": "TRN-2231", "status": "final", "version": "2", "initial_release_date": "2026-11-12T09:00:00Z", "current_release_date": "2026-11-13T10:00:00+01:00", "revision_history": [{"number": "1", "date": "2026-11-12T08:59:00Z", "summary": "First."}, {"number": "2", "date": "2026-11-13T10:00:00+01:00", "summary": "Second."}]}},
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
        Advisory advisory = advisory(document);
        assertThat(advisory.summary()).isEqualTo("A crafted hello overruns a buffer.");
        assertThat(advisory.vendorRating()).contains("Important");
        assertThat(advisory.revised()).isEqualTo(Instant.parse("2026-11-13T09:00:00Z"));
        assertThat(advisory.vulnerabilities()).singleElement().satisfies(v -> {
            assertThat(v.baseScore()).contains(9.8);
            assertThat(v.vector())
                    .hasValueSatisfying(vector -> assertThat(vector).startsWith("CVSS:3.1/AV:N"));
        });
        assertThat(advisory.fixes()).hasSize(2);
        assertThat(advisory.fixes().get(0).tracks())
                .containsExactly(
                        AffectedRange.between("7.2.100", "7.2.140"), AffectedRange.between("7.2.500", "7.2.560"));
        assertThat(advisory.fixes().get(1).build()).hasToString("pkg:rpm/tarn/libtls on Tarn Linux 4 for x86_64");
        assertThat(advisory.fixes().get(1).tracks()).containsExactly(AffectedRange.below("3.2.9-1"));
        assertThat(document.problems()).singleElement().satisfies(p -> {
            assertThat(p.place()).isEqualTo("/product_tree/branches/0/branches/2/product");
            assertThat(p.reason()).contains("one product could not be read", "it has no package URL");
        });
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '\'',
            value = {
                "\"csaf_version\": \"2.0\"|\"csaf_version\": \"1.2\"|/document/csaf_version|only versions 2.0 and 2.1",
                "\"id\": \"TRN-2231\"|\"id\": \" \"|/document/tracking/id|expected a text",
                "\"title\": \"libtls: buffer overrun\"|\"x\": 1|/document/title|missing",
                "\"version\": \"2\"|\"version\": \"two\"|/document/tracking/version|'two'",
                "2026-11-12T09:00:00Z|12 November|/document/tracking/initial_release_date|no instant",
                "[\"new-on-tarn4\"]|[\"absent\"]|/vulnerabilities/0/product_status/fixed/0|defines no product 'absent'",
                "[\"new-on-tarn4\"]|\"new\"|/vulnerabilities/0/product_status/fixed|expected a list",
                "csaf_security_advisory|csaf_informational_advisory|/document/category|announces no update",
                "CVE-2026-9000001|CVE-26-1|/vulnerabilities/0/cve|no CVE",
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
        assertThat(advisory(document).fixes().get(1).tracks()).containsExactly(AffectedRange.upTo("3.2.9-1"));
    }

    // ---- The rest of the format

    /**
     * One vulnerability of lib 1.4 on two tracks, with all that a vendor can say of it; parts are replaced by the
     * tests.
     */
    private static final String WHOLE = """
            {"document": {"csaf_version": "2.0", "category": "csaf_security_advisory", "title": "lib", "publisher": {"name": "Tarn", "category": "vendor", "namespace": "https://tarn.example"},
              "notes": [{"category": "summary", "text": "What it is."}, {"category": "description", "title": "Reasoning for Withdrawal", "text": "It did not close the vulnerability."}],
              "tracking": {"id": "TRN-7", "status": "final", "version": "2.0.0", "initial_release_date": "2026-11-12T09:00:00Z", "current_release_date": "2026-11-13T10:00:00Z",
                "revision_history": [{"date": "2026-11-12T09:00:00Z", "number": "1.0.0", "summary": "First."}, {"date": "2026-11-13T10:00:00Z", "number": "2.0.0", "summary": "Tells the second track."}]}},
             "product_tree": {"branches": [{"category": "product_name", "name": "lib", "branches": [
                {"category": "product_version", "name": "1.4", "product": {"product_id": "a14", "name": "lib 1.4", "product_identification_helper": {"purl": "pkg:generic/lib"}}},
                {"category": "product_version", "name": "1.5", "product": {"product_id": "f15", "name": "lib 1.5", "product_identification_helper": {"purl": "pkg:generic/lib@1.5"}}},
                {"category": "product_version", "name": "2.1", "product": {"product_id": "a21", "name": "lib 2.1", "product_identification_helper": {"purl": "pkg:generic/lib@2.1"}}},
                {"category": "product_version", "name": "2.3", "product": {"product_id": "f23", "name": "lib 2.3", "product_identification_helper": {"purl": "pkg:generic/lib@2.3"}}},
                {"category": "product_version", "name": "8", "product": {"product_id": "u8", "name": "lib 8", "product_identification_helper": {"purl": "pkg:generic/lib@8"}}},
                {"category": "product_version", "name": "9", "product": {"product_id": "tools", "name": "lib tools 9", "product_identification_helper": {"cpe": "cpe:2.3:a:tarn:tools:9:*:*:*:*:*:*:*"}}}]}],
              "product_groups": [{"group_id": "all", "product_ids": ["a14", "a21"]}]},
             "vulnerabilities": [{"cve": "CVE-2026-9000007", "title": "Overrun",
                "product_status": {"fixed": ["f15", "f23"], "known_affected": ["a14", "a21"], "known_not_affected": ["tools"], "under_investigation": ["u8"], "recommended": ["f23"]},
                "flags": [{"label": "vulnerable_code_not_present", "product_ids": ["tools"]}],
                "threats": [{"category": "impact", "details": "Important", "group_ids": ["all"]}, {"category": "exploit_status", "details": "Seen in use."}],
                "remediations": [{"category": "vendor_fix", "details": "Install it.", "group_ids": ["all"], "restart_required": {"category": "system"}},
                  {"category": "workaround", "details": "Switch the feature off.", "product_ids": ["a14"]}],
                "scores": [{"products": ["a14"], "cvss_v2": {"version": "2.0", "baseScore": 10.0, "vectorString": "AV:N/AC:L/Au:N/C:C/I:C/A:C"}, "cvss_v3": {"version": "3.1", "baseScore": 8.1, "vectorString": "CVSS:3.1/AV:N/AC:H/PR:N/UI:N/S:U/C:H/I:H/A:H"}}]}]}
            """;

    @Test
    void everyPartOfTheFormatThatConcernsAnUpdateIsRead() {
        ReadDocument document = read(WHOLE);
        Advisory advisory = advisory(document);
        assertThat(document.problems()).isEmpty();
        assertThat(advisory.revisionWords()).isEqualTo("Tells the second track.");
        assertThat(advisory.vendorRating()).as("only the impact is rated").contains("Important");
        assertThat(advisory.restarts().ofAll()).contains(RestartNeed.HOST);
        assertThat(advisory.remedies())
                .containsExactly(
                        new Remedy("vendor fix", "Install it."), new Remedy("workaround", "Switch the feature off."));
        assertThat(advisory.retraction()).isEmpty();
        assertThat(advisory.vulnerabilities()).singleElement().satisfies(v -> {
            assertThat(v.baseScore()).as("the newer CVSS version").contains(8.1);
            assertThat(v.exploitation()).isEqualTo("Seen in use.");
        });
        assertThat(advisory.statements())
                .extracting(VendorStatement::type)
                .containsExactlyInAnyOrder(
                        VendorStatement.Type.NOT_AFFECTED,
                        VendorStatement.Type.UNDER_INVESTIGATION,
                        VendorStatement.Type.RECOMMENDED);
        assertThat(advisory.statements())
                .filteredOn(s -> s.type() == VendorStatement.Type.NOT_AFFECTED)
                .singleElement()
                .satisfies(s -> {
                    assertThat(s.product()).isEqualTo("lib tools 9");
                    assertThat(s.words()).isEqualTo("vulnerable code not present");
                });
    }

    @Test
    void severalFixedVersionsOfOneVulnerabilityAreTracks() {
        Fix fix = advisory(read(WHOLE)).fixes().get(0);
        assertThat(fix.tracks()).containsExactly(AffectedRange.below("1.5"), AffectedRange.between("2.1", "2.3"));
        assertThat(List.of("1.4", "1.5", "1.9", "2.1", "2.2", "2.3").stream().map(fix::standing))
                .containsExactly(
                        Fix.Standing.LACKS,
                        Fix.Standing.HAS,
                        Fix.Standing.HAS,
                        Fix.Standing.LACKS,
                        Fix.Standing.LACKS,
                        Fix.Standing.HAS);
        // Without an affected version in between, a later build of the first stream has its fix.
        Fix unclear = advisory(read(WHOLE.replace("[\"a14\", \"a21\"], \"known_not", "[\"a14\"], \"known_not")))
                .fixes()
                .get(0);
        assertThat(unclear.standing("1.5")).isEqualTo(Fix.Standing.HAS);
        assertThat(unclear.standing("1.6")).isEqualTo(Fix.Standing.HAS);
        assertThat(unclear.standing("2.0")).isEqualTo(Fix.Standing.LACKS);
    }

    @Test
    void aVexDocumentOfTheVendorIsRead() {
        Advisory advisory = advisory(read(WHOLE.replace("csaf_security_advisory", "csaf_vex")
                .replace("\"fixed\": [\"f15\", \"f23\"], \"known_affected\": [\"a14\", \"a21\"],", "")));
        assertThat(advisory.fixes()).isEmpty();
        assertThat(advisory.statements()).hasSize(3);
    }

    @Test
    void aWithdrawnAndASupersededAdvisoryAreKnownByTheirCategory() {
        assertThat(advisory(read(WHOLE.replace("csaf_security_advisory", "csaf_withdrawn")))
                        .retraction())
                .contains(new Retraction(Retraction.Type.WITHDRAWN, "It did not close the vulnerability."));
        assertThat(advisory(read(WHOLE.replace("csaf_security_advisory", "csaf_superseded")))
                        .retraction())
                .map(Retraction::type)
                .contains(Retraction.Type.SUPERSEDED);
    }

    @Test
    void aVulnerabilityWithoutCveKeepsItsOtherIdentifier() {
        Advisory advisory = advisory(read(WHOLE.replace(
                "\"cve\": \"CVE-2026-9000007\"", "\"ids\": [{\"system_name\": \"Tarn\", \"text\": \"TW-7\"}]")));
        assertThat(advisory.vulnerabilities()).singleElement().satisfies(v -> {
            assertThat(v.id()).isEqualTo("TW-7");
            assertThat(v.hasCve()).isFalse();
        });
    }

    @Test
    void aDraftIsNamed() {
        assertThat(read(WHOLE.replace("\"final\"", "\"draft\"")).problems())
                .singleElement()
                .satisfies(problem -> assertThat(problem.place()).isEqualTo("/document/tracking/status"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '\'',
            value = {
                "\"group_ids\": [\"all\"], \"restart_required\"|\"group_ids\": [\"none\"], \"restart_required\"|/vulnerabilities/0/remediations/0/group_ids/0|no product group 'none'",
                "[\"a14\"]}]|[\"a15\"]}]|/vulnerabilities/0/remediations/1/product_ids/0|defines no product 'a15'",
                "\"product_ids\": [\"a14\", \"a21\"]|\"product_ids\": [\"a99\"]|/product_tree/product_groups/0/product_ids/0|defines no product 'a99'",
            })
    void refusesWhatIsNotDefined(String part, String instead, String place, String reason) {
        assertThat(WHOLE).contains(part);
        assertThat(refusal(WHOLE.replace(part, instead))).first().satisfies(p -> {
            assertThat(p.place()).isEqualTo(place);
            assertThat(p.reason()).contains(reason);
        });
    }
}
