package lucid.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.GZIPOutputStream;
import lucid.core.evidence.ExploitScores;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.VexStatement;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.formats.document.CvssVectors;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.Schemas;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** The formats in which evidence comes. */
class EvidenceFormatsTest {

    private static final Instant RECEIVED = Instant.parse("2026-11-24T09:00:00Z");

    private static ReadDocument read(String text) {
        return Documents.read(text.getBytes(StandardCharsets.UTF_8), ReadingHints.none(RECEIVED));
    }

    @Test
    void probabilitiesComePlainOrCompressedWithModelAndDay() throws IOException {
        String csv =
                "#model_version:v2026.03.01,score_date:2026-11-23T00:00:00+0000\ncve,epss,percentile\nCVE-2026-9000002,0.97123,0.999\nCVE-2026-9000001,0.00042,0.05\n";
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(bytes)) {
            gzip.write(csv.getBytes(StandardCharsets.UTF_8));
        }
        for (ReadDocument document :
                List.of(read(csv), Documents.read(bytes.toByteArray(), ReadingHints.none(RECEIVED)))) {
            assertThat(document.format()).isEqualTo(Format.EXPLOIT_SCORES);
            assertThat(document.subject()).isEqualTo("2 vulnerabilities of 2026-11-23");
            ExploitScores scores = ((Content.OfScores) document.content()).scores();
            assertThat(scores.model()).isEqualTo("v2026.03.01");
            assertThat(scores.scored()).isEqualTo(LocalDate.of(2026, 11, 23));
            assertThat(scores.of("CVE-2026-9000002")).get().satisfies(score -> {
                assertThat(score.probability()).isEqualTo(0.97123);
                assertThat(score.read()).isEqualTo(RECEIVED);
            });
            assertThat(scores.of("CVE-2026-9000001"))
                    .get()
                    .extracting(s -> s.probability())
                    .isEqualTo(0.00042);
            assertThat(scores.of("CVE-2026-9000003")).isEmpty();
            assertThat(scores.of("no CVE")).isEmpty();
        }
    }

    @Test
    void aRowThatIsWrongIsLeftOutAndNamed() {
        ReadDocument document = read(
                "cve,epss,percentile\nCVE-2026-9000001,0.5,0.9\nCVE-2026-9000002,1.5,0.9\nOTHER-1,0.1,0.1\nCVE-2026-9000003,many,0.1\nCVE-2026-9000004,0.1\n");
        assertThat(((Content.OfScores) document.content()).scores().size()).isEqualTo(1);
        assertThat(((Content.OfScores) document.content()).scores().scored()).isEqualTo(LocalDate.of(2026, 11, 24));
        assertThat(document.problems())
                .extracting(Problem::place)
                .containsExactly("line 3", "line 4", "line 5", "line 6");
        assertThatThrownBy(() -> read("cve,epss,percentile\nnothing,1,1\n"))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("no row of it could be read");
        assertThatThrownBy(() -> read("cve,epss\nCVE-2026-9000001,0.5\n"))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("'percentile' is missing");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "#model_version:v1,score_date:2031-01-01T00:00:00+0000@cve,epss,percentile@CVE-2026-9000001,0.5,0.9@ | line 1: 2031-01-01 is still to come",
                "#model_version:v1,score_date:2026-11-23T00:00:00+0000@cve,score@CVE-2026-9000001,0.5@ | the column 'epss' is missing",
                "#model_version:v1,score_date:2026-11-23T00:00:00+0000@ | the column 'cve' is missing",
                "#model_version:v1,score_date:2026-02-30T00:00:00+0000@cve,epss,percentile@CVE-2026-9000001,0.5,0.9@ | line 1: '2026-02-30' is no day",
            })
    void aTableThatCannotBeSaysWhy(String table, String reason) {
        assertThatThrownBy(() -> read(table.replace('@', '\n')))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining(reason);
    }

    @Test
    void rowsBeforeAQuotationMarkThatIsNotClosedAreKept() {
        ReadDocument document = read(
                "cve,epss,percentile\nCVE-2026-9000001,0.5,0.9\nCVE-2026-9000002,\"0.1\nCVE-2026-9000003,0.1,0.2\n");
        assertThat(((Content.OfScores) document.content()).scores().size()).isEqualTo(1);
        assertThat(document.problems()).singleElement().satisfies(problem -> assertThat(problem.reason())
                .contains("a quotation mark is not closed"));
    }

    @Test
    void aCatalogueOfExploitedVulnerabilities() {
        ReadDocument document = read("""
                {"title": "Exploited", "catalogVersion": "2026.11.24", "dateReleased": "2026-11-24T00:00:00Z", "count": 2, "vulnerabilities": [
                  {"cveID": "CVE-2026-9000001", "vendorProject": "Tarn", "product": "libtls", "vulnerabilityName": "Tarn libtls code execution", "dateAdded": "2026-11-23",
                   "shortDescription": "Seen on harbours", "requiredAction": "Update.", "dueDate": "2026-12-14", "knownRansomwareCampaignUse": "Known"},
                  {"cveID": "CVE-2026-9000002", "dateAdded": "2026-11-23", "vulnerabilityName": "", "requiredAction": " ", "dueDate": "2026-12-14"},
                  {"cveID": "not a CVE", "dateAdded": "2026-11-23"}, {"cveID": "CVE-2026-9000003", "dateAdded": "2026-11-23", "dueDate": "soon"}]}""");
        assertThat(((Content.OfExploited) document.content()).listed().get(1)).satisfies(listed -> {
            assertThat(listed.asked()).isEmpty();
            assertThat(listed.due()).contains(LocalDate.of(2026, 12, 14));
            assertThat(listed.ransomware()).isFalse();
        });
        assertThat(((Content.OfExploited) document.content()).listed().subList(0, 1))
                .containsExactly(new KnownExploited(
                        "CVE-2026-9000001",
                        LocalDate.of(2026, 11, 23),
                        "Tarn libtls code execution. Seen on harbours",
                        "Update.",
                        Optional.of(LocalDate.of(2026, 12, 14)),
                        true,
                        RECEIVED));
        assertThat(((Content.OfExploited) document.content()).listed()).hasSize(3);
        assertThat(document.problems())
                .extracting(Problem::place)
                .containsExactly("/vulnerabilities/2/cveID", "/vulnerabilities/3/dueDate");
    }

    @Test
    void openVexStatements() {
        ReadDocument document = read("""
                {"@context": "https://openvex.dev/ns/v0.2.0", "@id": "https://fathom.example/vex/1", "author": "Fathom", "timestamp": "2026-11-20T08:00:00Z", "version": 1, "statements": [
                  {"vulnerability": {"name": "CVE-2026-9000001"}, "products": [{"@id": "pkg:deb/fathom/libtls@3.2.9-1"}, {"@id": "a product without a package URL"}],
                   "status": "not_affected", "justification": "vulnerable_code_not_present"},
                  {"vulnerability": "CVE-2026-9000002", "products": ["pkg:rpm/tarn/libtls"], "status": "under_investigation", "timestamp": "2026-11-21T08:00:00Z"},
                  {"vulnerability": "CVE-2026-9000003", "products": ["pkg:rpm/tarn/libtls"], "status": "perhaps"}]}""");
        List<VexStatement> statements = ((Content.OfStatements) document.content()).statements();
        assertThat(statements).hasSize(2);
        assertThat(statements.get(0)).satisfies(s -> {
            assertThat(s.status()).isEqualTo(VexStatement.Status.NOT_AFFECTED);
            assertThat(s.product().product().purl()).isEqualTo("pkg:deb/fathom/libtls");
            assertThat(s.version()).contains("3.2.9-1");
            assertThat(s.justification()).isEqualTo("vulnerable code not present");
            assertThat(s.at()).isEqualTo("2026-11-20T08:00:00Z");
        });
        assertThat(statements.get(1).at()).isEqualTo("2026-11-21T08:00:00Z");
        assertThat(document.problems())
                .extracting(Problem::place)
                .containsExactly("/statements/0/products/1/@id", "/statements/2/status");
    }

    @Test
    void openVexAliasesAndUpdatesCountAndWhatSaysNothingIsNamed() {
        ReadDocument document = read("""
                {"@context": "https://openvex.dev/ns/v0.2.0", "@id": "https://fathom.example/vex/2", "author": "Fathom", "timestamp": "2026-11-20T08:00:00Z", "last_updated": "2026-11-21T08:00:00Z", "version": 2, "statements": [
                  {"vulnerability": {"name": "FSA-12", "aliases": ["CVE-2026-9000012"]}, "products": [{"@id": "pkg:deb/fathom/libtls"}], "status": "fixed"},
                  {"vulnerability": {"name": "CVE-2026-9000013"}, "products": [{"@id": "pkg:deb/fathom/libtls"}], "status": "not_affected"},
                  {"vulnerability": {"name": "CVE-2026-9000014"}, "status": "affected"}]}""");
        assertThat(((Content.OfStatements) document.content()).statements())
                .extracting(s -> s.vulnerability() + " " + s.at())
                .containsExactly(
                        "FSA-12 2026-11-21T08:00:00Z",
                        "CVE-2026-9000012 2026-11-21T08:00:00Z",
                        "CVE-2026-9000013 2026-11-21T08:00:00Z");
        assertThat(document.problems())
                .extracting(Problem::reason)
                .satisfiesExactly(
                        reason -> assertThat(reason).contains("without saying why"),
                        reason -> assertThat(reason).contains("it names no product"));
    }

    @Test
    void ourKnownIssues() {
        ReadDocument document = read("""
                {"format": "known-issues-1", "source": "Lantern", "issues": [{"id": "KI-1", "updates": ["LNT-1107"], "fixedBy": ["LNT-1114"], "text": "Stops at 28 %.", "state": "worked around",
                  "class": "refused", "hosts": "reader = R2 and spool_free_mb < 300"}]}""");
        assertThat(((Content.OfIssues) document.content()).issues())
                .singleElement()
                .satisfies(issue -> {
                    assertThat(issue.state()).isEqualTo(KnownIssue.State.WORKED_AROUND);
                    assertThat(issue.failureClass()).contains(FailureClass.REFUSED);
                    assertThat(issue.hosts()).get().hasToString("reader = R2 and spool_free_mb < 300");
                    assertThat(issue.since()).isEqualTo(RECEIVED);
                });
    }

    @Test
    void ourFailureReports() {
        ReadDocument document = read("""
                {"format": "failure-reports-1", "source": "Piers", "reports": [
                  {"id": "7", "update": "LNT-1107", "code": "0x1107-28", "class": "down", "hosts": ["ksk-1", "ksk-1", "ksk-2"], "others": 4, "where": "reader = R2", "at": "2026-11-20T08:00:00+01:00"},
                  {"id": "8", "update": "LNT-1107", "others": 1}]}""");
        List<FailureReport> reports = ((Content.OfReports) document.content()).reports();
        assertThat(reports).extracting(FailureReport::id).containsExactly("Piers/7", "Piers/8");
        assertThat(reports.get(0).hosts()).containsExactly(new HostName("ksk-1"), new HostName("ksk-2"));
        assertThat(reports.get(0).at()).isEqualTo("2026-11-20T07:00:00Z");
        assertThat(reports.get(1).failureClass()).isEqualTo(FailureClass.DEGRADED);
        assertThat(reports.get(1).at()).isEqualTo(RECEIVED);
    }

    @Test
    void whatIsGoodInAListIsKeptAndWhatWasTakenBackIsNamed() {
        ReadDocument issues = read("""
                {"format": "known-issues-1", "source": "Lantern", "issues": [{"id": "1", "updates": ["A"], "text": "t", "state": "open"}, {"id": "2", "updates": [], "text": "t", "state": "shut"},
                  {"id": "3", "updates": ["A"], "text": "t", "state": "open", "hosts": "reader = = R2"}, {"id": "4", "updates": ["A"], "text": "t", "state": "open", "at": "2031-01-01T00:00:00Z"},
                  {"id": "5", "updates": ["A"], "text": "t", "state": "open", "withdrawn": true}, {"id": "10", "updates": ["A"], "text": "t", "state": "fixed", "at": "2026-11-24T10:00:00Z"}]}""");
        Content.OfIssues told = (Content.OfIssues) issues.content();
        assertThat(told.issues()).extracting(KnownIssue::id).containsExactly("1", "10");
        assertThat(told.issues().get(1).changed())
                .as("a clock that is an hour ahead")
                .isEqualTo(RECEIVED);
        assertThat(told.withdrawn()).containsExactly("5");
        assertThat(issues.problems())
                .extracting(Problem::place)
                .containsExactlyInAnyOrder("/issues/1/updates", "/issues/1/state", "/issues/2/hosts", "/issues/3/at");
        assertThat(issues.update()).contains(new UpdateId("A"));

        ReadDocument reports = read("""
                {"format": "failure-reports-1", "source": "Piers", "reports": [{"id": "7", "update": "LNT-1107", "withdrawn": true}, {"id": "8", "update": "LNT-1107"}]}""");
        assertThat(((Content.OfReports) reports.content()).withdrawn())
                .containsExactly(Map.entry("Piers/7", new UpdateId("LNT-1107")));
        assertThat(reports.subject()).isEqualTo("LNT-1107, taken back");
        assertThat(reports.problems()).extracting(Problem::place).containsExactly("/reports/1");
        assertThatThrownBy(
                        () -> read(
                                "{\"format\": \"known-issues-1\", \"issues\": [{\"id\": \"1\", \"updates\": [\"A\"], \"text\": \"t\", \"state\": \"open\"}]}"))
                .as("wrong outside the list")
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("source");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{\"format\": \"failure-reports-1\", \"source\": \"P\", \"reports\": [{\"id\": \"7\", \"update\": \"L\"}]} | /reports/0 | names hosts, or tells how many",
                "{\"format\": \"failure-reports-1\", \"source\": \"P\", \"reports\": [{\"id\": \"7\", \"update\": \"L\", \"others\": -1}]} | /reports/0/others | at least 0",
                "{\"format\": \"known-issues-1\", \"source\": \"P\\u202e\", \"issues\": [{\"id\": \"7\", \"updates\": [\"L\"], \"text\": \"t\", \"state\": \"open\"}]} | /source | turn the direction",
                "{\"format\": \"known-issues-1\", \"source\": \"P\", \"issues\": [{\"id\": \"7\", \"updates\": [\"L\"], \"text\": \"t\", \"state\": \"shut\"}]} | /issues/0/state | none of open",
                "{\"format\": \"known-issues-1\", \"source\": \"P\", \"issues\": [{\"id\": \"7\", \"updates\": [\"L\"], \"text\": \"t\", \"state\": \"open\", \"hosts\": \"reader =\"}]} | /issues/0/hosts | expected a value",
            })
    void aFaultIsToldWithItsPlace(String document, String place, String reason) {
        assertThatThrownBy(() -> read(document))
                .isInstanceOfSatisfying(RefusedDocumentException.class, refused -> assertThat(refused.problems())
                        .anySatisfy(problem -> {
                            assertThat(problem.place()).isEqualTo(place);
                            assertThat(problem.reason()).containsIgnoringCase(reason);
                        }));
    }

    @ParameterizedTest
    @ValueSource(strings = {"known-issues-1", "failure-reports-1"})
    void theSchemasShip(String name) {
        assertThat(Schemas.text(name)).isPresent();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "AV:N/AC:L/Au:N/C:P/I:P/A:P | 7.5",
                "CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H | 9.8",
                "CVSS:4.0/AV:N/AC:L/AT:N/PR:N/UI:N/VC:H/VI:H/VA:H/SC:N/SI:N/SA:N | 9.3",
            })
    void vectorsOfAllVersionsHaveABaseScore(String vector, double base) {
        assertThat(CvssVectors.baseScore(vector)).isEqualTo(base);
        assertThatThrownBy(() -> CvssVectors.baseScore(vector + "/XX:Y:Z"))
                .isInstanceOf(IllegalArgumentException.class);
    }
}
