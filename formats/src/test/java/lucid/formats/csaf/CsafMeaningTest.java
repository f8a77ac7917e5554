package lucid.formats.csaf;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import lucid.core.update.Advisory;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.ProductMapping;
import lucid.core.update.ProductMappings;
import lucid.core.update.ReferenceLink;
import lucid.core.update.RestartNeed;
import lucid.core.update.Restarts;
import lucid.core.update.SharingLevel;
import lucid.core.update.UnreadProduct;
import lucid.core.update.VendorStatement;
import lucid.formats.Documents;
import lucid.formats.Explanation;
import lucid.formats.document.Content;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import org.assertj.core.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What legal documents mean, and what is named where they break a rule of the standard. */
class CsafMeaningTest {

    private static final String RANGE = "product_version_range";
    private static final String VERSION = "product_version";

    private static String document(String tree, String vulnerabilities) {
        return """
                {"document": {"csaf_version": "2.0", "category": "csaf_security_advisory", "title": "libtls", "publisher": {"name": "Tarn"},
                  "tracking": {"id": "TRN-1", "status": "final", "version": "1", "initial_release_date": "2026-11-12T09:00:00Z", "current_release_date": "2026-11-12T09:00:00Z",
                    "revision_history": [{"date": "2026-11-12T09:00:00Z", "number": "1", "summary": "First."}]}},
                 "product_tree": {%s},
                 "vulnerabilities": [%s]}
                """.formatted(tree, vulnerabilities);
    }

    private static String branch(String category, String name, String id, String purl) {
        return """
                {"category": "%s", "name": "%s", "product": {"product_id": "%s", "name": "%s"%s}}""".formatted(
                        category,
                        name,
                        id,
                        "product " + id,
                        purl.isEmpty() ? "" : ", \"product_identification_helper\": {\"purl\": \"" + purl + "\"}");
    }

    private static String branches(String... branches) {
        return "\"branches\": [" + String.join(",", branches) + "]";
    }

    private static String vulnerability(String status, String... others) {
        return "{\"cve\": \"CVE-2026-9000001\", \"product_status\": {" + status + "}"
                + String.join(
                        "", List.of(others).stream().map(other -> ", " + other).toList()) + "}";
    }

    private static ReadDocument read(String text, ProductMapping... mappings) {
        return Documents.read(
                text.getBytes(StandardCharsets.UTF_8),
                new ReadingHints(
                        Optional.empty(),
                        Optional.empty(),
                        Map.of(),
                        new ProductMappings(List.of(mappings)),
                        Instant.EPOCH));
    }

    private static Advisory advisory(String text, ProductMapping... mappings) {
        return ((Content.OfAdvisories) read(text, mappings).content())
                .advisories()
                .get(0);
    }

    /** Without what the schema says of documents that are as short as these. */
    private static List<String> reasons(String text) {
        return read(text).problems().stream()
                .map(Problem::reason)
                .filter(reason -> !reason.startsWith("schema: "))
                .toList();
    }

    // ---- Products

    private static final String NAMELESS = document(
            branches("{\"category\": \"product_name\", \"name\": \"Cistern\", \"branches\": ["
                    + branch(RANGE, "vers:generic/<8.7", "before", "") + "," + branch(VERSION, "8.7", "fixed", "")
                    + "]}"),
            vulnerability("\"known_affected\": [\"before\"], \"fixed\": [\"fixed\"]"));

    private static final ProductMapping CISTERN = new ProductMapping(
            1,
            "tarn",
            ProductMapping.How.NAME,
            "cistern",
            Optional.of(new ProductMapping.Target("pkg:generic/cistern")));

    @Test
    void productsWithoutAnIdentifierAreNotReadRatherThanOnNoHost() {
        Advisory advisory = advisory(NAMELESS);
        assertThat(advisory.fixes()).isEmpty();
        assertThat(advisory.unread()).extracting(UnreadProduct::family).containsOnly("Cistern");
        assertThat(advisory.unread()).extracting(UnreadProduct::vendor).containsOnly("Tarn");
        assertThat(reasons(NAMELESS)).singleElement().asString().contains("one product could not be read", "'Cistern'");
    }

    @Test
    void aMappingReadsThemInEveryDocumentOfTheVendor() {
        Advisory advisory = advisory(NAMELESS, CISTERN);
        assertThat(advisory.unread()).isEmpty();
        assertThat(advisory.fixes())
                .containsExactly(new Fix(
                        CISTERN.target()
                                .map(t -> advisory.fixes().get(0).build())
                                .orElseThrow(),
                        List.of(AffectedRange.below("8.7"))));
        assertThat(advisory.fixes().get(0).build()).hasToString("pkg:generic/cistern");
        ProductMapping onNoHost = new ProductMapping(2, "Tarn", ProductMapping.How.NAME, "*", Optional.empty());
        assertThat(advisory(NAMELESS, onNoHost).unread()).isEmpty();
        assertThat(advisory(NAMELESS, onNoHost).fixes()).isEmpty();
        assertThat(advisory(NAMELESS, onNoHost, CISTERN).fixes())
                .as("the exact name goes before the pattern")
                .hasSize(1);
        ProductMapping ofAnother = new ProductMapping(3, "Fathom", ProductMapping.How.NAME, "*", Optional.empty());
        assertThat(advisory(NAMELESS, ofAnother).unread()).isNotEmpty();
    }

    @Test
    void namesOfPackagesAreReadByOneMappingForAll() {
        String text = document(
                branches(
                                branch(VERSION, "x", "a", "").replace("product a", "libtls-1:3.2.9-1.x86_64"),
                                branch(VERSION, "y", "b", "").replace("product b", "g++-0:12.1-2.el9.noarch"),
                                "{\"category\": \"product_name\", \"name\": \"Tarn Linux 4\", \"product\": {\"product_id\": \"os\", \"name\": \"Tarn Linux 4\"}}")
                        + """
                , "relationships": [{"category": "default_component_of", "product_reference": "a", "relates_to_product_reference": "os",
                    "full_product_name": {"product_id": "a-on-4", "name": "libtls of Tarn Linux 4"}}]""",
                vulnerability("\"fixed\": [\"a-on-4\", \"b\"]"));
        assertThat(advisory(text).unread()).hasSize(2);
        Advisory advisory = advisory(
                text,
                new ProductMapping(
                        1,
                        "Tarn",
                        ProductMapping.How.PACKAGE,
                        "*",
                        Optional.of(new ProductMapping.Target("pkg:rpm/tarn/*"))));
        assertThat(advisory.unread()).isEmpty();
        assertThat(advisory.fixes())
                .extracting(Fix::toString)
                .containsExactly(
                        "Fix[build=pkg:rpm/tarn/g%2B%2B for noarch, tracks=[[lowest, 12.1-2.el9)]]",
                        "Fix[build=pkg:rpm/tarn/libtls on Tarn Linux 4 for x86_64, tracks=[[lowest, 1:3.2.9-1)]]");
    }

    @Test
    void whatIsSaidOnOnePlatformIsSaidOfThatPlatform() {
        String text = document(
                branches(
                                branch(VERSION, "3.2.9-1", "new", "pkg:rpm/tarn/libtls@3.2.9-1"),
                                branch(VERSION, "3.4.1-1", "newer", "pkg:rpm/tarn/libtls@3.4.1-1"),
                                branch("product_name", "4", "os4", "").replace("product os4", "Tarn Linux 4"),
                                branch("product_name", "5", "os5", "").replace("product os5", "Tarn Linux 5"))
                        + """
                , "relationships": [
                  {"category": "installed_on", "product_reference": "on4", "relates_to_product_reference": "os4", "full_product_name": {"product_id": "again-on4", "name": "forward"}},
                  {"category": "default_component_of", "product_reference": "new", "relates_to_product_reference": "os4", "full_product_name": {"product_id": "on4", "name": "libtls of 4"}},
                  {"category": "default_component_of", "product_reference": "newer", "relates_to_product_reference": "os5", "full_product_name": {"product_id": "on5", "name": "libtls of 5"}}]""",
                vulnerability(
                        "\"fixed\": [\"again-on4\"], \"known_not_affected\": [\"on5\"]",
                        "\"flags\": [{\"label\": \"component_not_present\", \"product_ids\": [\"on5\"]}]"));
        Advisory advisory = advisory(text);
        assertThat(advisory.fixes()).singleElement().satisfies(fix -> assertThat(fix.build())
                .hasToString("pkg:rpm/tarn/libtls on Tarn Linux 4"));
        assertThat(advisory.statements()).singleElement().satisfies(statement -> assertThat(statement.build())
                .map(Object::toString)
                .contains("pkg:rpm/tarn/libtls on Tarn Linux 5"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "pkg:oci/app@sha256%3Aab|versions of oci packages cannot be ordered here",
                "pkg:pypi/tls@1.0|versions of pypi packages cannot be ordered here",
                "pkg:generic/app@one|'one' is no dotted version",
                "app|no package URL",
            })
    void oneProductThatCannotBeOrderedIsLeftOutAndNamed(String purl, String reason) {
        String text = document(
                branches(branch(VERSION, "2", "odd", purl), branch(VERSION, "8.7", "fixed", "pkg:generic/cistern@8.7")),
                vulnerability("\"fixed\": [\"odd\", \"fixed\"]"));
        Advisory advisory = advisory(text);
        assertThat(advisory.fixes()).hasSize(1);
        assertThat(advisory.unread()).singleElement().satisfies(unread -> assertThat(unread.reason())
                .contains(reason));
    }

    @Test
    void mavenVersionsAreOrderedAsMavenDoes() {
        Advisory advisory = advisory(document(
                branches(branch(VERSION, "5.0.0.Final", "fixed", "pkg:maven/tarn/tls@5.0.0.Final")),
                vulnerability("\"fixed\": [\"fixed\"]")));
        Fix fix = advisory.fixes().get(0);
        assertThat(fix.standing("5.0.0.CR1")).isEqualTo(Fix.Standing.LACKS);
        assertThat(fix.standing("5.0.0.Final")).isEqualTo(Fix.Standing.HAS);
    }

    // ---- Versions

    private static Fix cistern(String status) {
        return advisory(document(
                        branches(
                                branch(RANGE, "vers:generic/<=4.1", "upTo41", "pkg:generic/cistern"),
                                branch(VERSION, "4.0.5", "v405", "pkg:generic/cistern@4.0.5"),
                                branch(VERSION, "4.2", "v42", "pkg:generic/cistern@4.2"),
                                branch(VERSION, "4.9", "v49", "pkg:generic/cistern@4.9"),
                                branch(VERSION, "6.0.3", "v603", "pkg:generic/cistern@6.0.3"),
                                "{\"category\": \"product_version_range\", \"name\": \"vers:generic/>=3.0|<3.5\", \"branches\": ["
                                        + branch("architecture", "x86", "inside", "pkg:generic/cistern?arch=x86")
                                        + "]}"),
                        vulnerability(status)))
                .fixes()
                .get(0);
    }

    @Test
    void whatIsAffectedUpToAVersionIsFixedInTheNextFixedOne() {
        assertThat(cistern("\"known_affected\": [\"upTo41\"], \"fixed\": [\"v42\"]")
                        .tracks())
                .containsExactly(AffectedRange.below("4.2"));
    }

    @Test
    void aRangeInABranchAboveTheProductCounts() {
        Fix fix = cistern("\"known_affected\": [\"inside\"]");
        assertThat(fix.build()).hasToString("pkg:generic/cistern for x86");
        assertThat(fix.tracks()).containsExactly(AffectedRange.between("3.0", "3.5"));
    }

    @Test
    void aVersionThatIsNotAffectedDoesNotLackTheFix() {
        Fix fix = cistern("\"known_affected\": [\"upTo41\"], \"fixed\": [\"v42\"], \"known_not_affected\": [\"v405\"]");
        assertThat(List.of("4.0.4", "4.0.5", "4.0.6", "4.2").stream().map(fix::standing))
                .containsExactly(Fix.Standing.LACKS, Fix.Standing.HAS, Fix.Standing.LACKS, Fix.Standing.HAS);
    }

    @Test
    void aLaterBuildOfAStreamHasItsFix() {
        Fix fix = cistern("\"fixed\": [\"v42\", \"v603\"]");
        assertThat(List.of("4.1", "4.2", "4.8", "5.0", "6.0.2", "6.0.3").stream()
                        .map(fix::standing))
                .containsExactly(
                        Fix.Standing.LACKS,
                        Fix.Standing.HAS,
                        Fix.Standing.HAS,
                        Fix.Standing.LACKS,
                        Fix.Standing.LACKS,
                        Fix.Standing.HAS);
        Fix builds = advisory(document(
                        branches(
                                branch(VERSION, "a", "a", "pkg:rpm/tarn/libtls@3.2.9-1"),
                                branch(VERSION, "b", "b", "pkg:rpm/tarn/libtls@3.2.9-4")),
                        vulnerability("\"fixed\": [\"a\", \"b\"]")))
                .fixes()
                .get(0);
        assertThat(builds.standing("3.2.9-2")).as("two builds of one stream").isEqualTo(Fix.Standing.HAS);
    }

    @Test
    void whatIsSaidTwiceOverOfOneProductIsNotTaken() {
        String text = document(
                branches(
                        branch(VERSION, "8.7", "fixed", "pkg:generic/cistern@8.7"),
                        branch(VERSION, "2.0", "sure", "pkg:generic/viewer@2.0")),
                vulnerability("\"fixed\": [\"fixed\", \"sure\"], \"known_affected\": [\"fixed\"]"));
        assertThat(reasons(text)).first().asString().startsWith("6.1.6: 'fixed' is said to be affected and fixed");
        assertThat(advisory(text).fixes()).singleElement().satisfies(fix -> assertThat(fix.build())
                .hasToString("pkg:generic/viewer"));
        assertThat(advisory(text).unread()).hasSize(1);
    }

    // ---- Vulnerabilities

    private static final String TREE = branches(branch(VERSION, "8.7", "fixed", "pkg:generic/cistern@8.7"));
    private static final String FIXED = "\"fixed\": [\"fixed\"]";

    private static String scored(String score) {
        return document(TREE, vulnerability(FIXED, "\"scores\": [{\"products\": [\"fixed\"], " + score + "}]"));
    }

    @Test
    void aVulnerabilityWithoutAnyIdentifierStillCounts() {
        Advisory advisory = advisory(
                document(
                        TREE,
                        "{\"title\": \"Nameless\", \"product_status\": {" + FIXED
                                + "}, \"scores\": [{\"products\": [\"fixed\"], \"cvss_v3\": {\"version\": \"3.1\", \"baseScore\": 9.8, \"vectorString\": \"CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H\"}}]}"));
        assertThat(advisory.kind()).contains(Kind.SECURITY);
        assertThat(advisory.vulnerabilities()).singleElement().satisfies(v -> {
            assertThat(v.id()).isEqualTo("TRN-1 #1");
            assertThat(v.baseScore()).contains(9.8);
        });
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "3.1|9.8|CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:N/I:N/A:L|5.3|6.1.9: the base score of this vector is 5.3, not 9.8",
                "3.1|9.8|CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H/AV:P||6.1.8: 'CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H/AV:P' names AV twice",
                "3.1|9.8|CVSS:3.1/AV:Q||6.1.8: 'CVSS:3.1/AV:Q' is no CVSS vector",
            })
    void aScoreThatContradictsItsVectorIsNamedAndTheVectorCounts(
            String version, double told, String vector, Double counts, String reason) {
        String text = scored("\"cvss_v3\": {\"version\": \"%s\", \"baseScore\": %s, \"vectorString\": \"%s\"}"
                .formatted(version, told, vector));
        assertThat(reasons(text)).first().asString().startsWith(reason);
        assertThat(advisory(text).vulnerabilities().get(0).baseScore()).isEqualTo(Optional.ofNullable(counts));
    }

    @Test
    void aScoreWithoutAVectorStandsAlone() {
        String text = scored("\"cvss_v3\": {\"version\": \"3.1\", \"baseScore\": 8.1}");
        assertThat(reasons(text)).containsExactly("6.1.8: the score has no vector; its number is taken");
        assertThat(advisory(text).vulnerabilities().get(0).baseScore()).contains(8.1);
        String absurd = scored("\"cvss_v3\": {\"version\": \"3.1\", \"baseScore\": 81}");
        assertThat(reasons(absurd)).containsExactly("6.1.8: the score has no vector; it does not count");
        assertThat(advisory(absurd).vulnerabilities().get(0).baseScore()).isEmpty();
    }

    @Test
    void aPropertyThatContradictsTheVectorIsNamed() {
        assertThat(
                        reasons(
                                scored(
                                        "\"cvss_v3\": {\"version\": \"3.1\", \"baseScore\": 9.8, \"attackVector\": \"LOCAL\", \"vectorString\": \"CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H\"}")))
                .containsExactly("6.1.10: 'LOCAL' is not what the vector says, AV:N; the vector counts");
    }

    @Test
    void theBaseScoreOfVersion4IsThatOfItsBaseMetrics() {
        String base = "CVSS:4.0/AV:N/AC:L/AT:N/PR:N/UI:N/VC:H/VI:H/VA:H/SC:N/SI:N/SA:N";
        for (String vector : List.of(base, base + "/E:U", base + "/E:U/CR:L/IR:L/AR:L")) {
            assertThat(advisory(scored("\"cvss_v4\": {\"version\": \"4.0\", \"baseScore\": 9.3, \"vectorString\": \""
                                    + vector + "\"}"))
                            .vulnerabilities()
                            .get(0))
                    .satisfies(v -> {
                        assertThat(v.baseScore()).contains(9.3);
                        assertThat(v.vector()).contains(vector);
                    });
        }
    }

    @Test
    void allThreatsCountAndTheWorstRatingIsTheVendorsWord() {
        Advisory advisory = advisory(
                document(
                        TREE,
                        vulnerability(
                                FIXED,
                                "\"threats\": [{\"category\": \"impact\", \"details\": \"Low\"}, {\"category\": \"impact\", \"details\": \"Critical\"}, {\"category\": \"exploit_status\", \"details\": \"Exploitation is unlikely.\"}, {\"category\": \"exploit_status\", \"details\": \"Exploited:Yes\"}]")));
        assertThat(advisory.vendorRating()).contains("Critical");
        assertThat(advisory.vulnerabilities().get(0).exploitation()).startsWith("Exploited:Yes");
    }

    @Test
    void oneCveTwiceIsOneVulnerability() {
        String text = document(
                TREE,
                vulnerability(FIXED) + ","
                        + vulnerability(
                                FIXED,
                                "\"scores\": [{\"products\": [\"fixed\"], \"cvss_v3\": {\"version\": \"3.1\", \"baseScore\": 9.8, \"vectorString\": \"CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H\"}}]"));
        assertThat(reasons(text)).singleElement().asString().startsWith("6.1.23: CVE-2026-9000001 stands twice");
        assertThat(advisory(text).vulnerabilities()).singleElement().satisfies(v -> assertThat(v.baseScore())
                .contains(9.8));
    }

    // ---- Not affected

    private static List<VendorStatement> statements(String flags) {
        return advisory(notAffected(flags)).statements();
    }

    private static String notAffected(String flags) {
        return document(
                branches(
                                branch(VERSION, "8.7", "a", "pkg:generic/cistern@8.7"),
                                branch(VERSION, "9.1", "b", "pkg:generic/cistern@9.1"))
                        + ", \"product_groups\": [{\"group_id\": \"g\", \"product_ids\": [\"a\"]}]",
                vulnerability("\"known_not_affected\": [\"a\", \"b\"]", "\"flags\": [" + flags + "]"));
    }

    @Test
    void aFlagOfAGroupJustifiesItsProductsAlone() {
        assertThat(statements("{\"label\": \"component_not_present\", \"group_ids\": [\"g\"]}"))
                .extracting(VendorStatement::words)
                .containsExactly("component not present", "");
        assertThat(reasons(notAffected("{\"label\": \"component_not_present\", \"group_ids\": [\"g\"]}")))
                .singleElement()
                .asString()
                .startsWith("6.1.27.9: 'b' is said not to be affected without saying why");
    }

    @Test
    void aFlagWithoutProductsAndTwoOfOneProductJustifyNothing() {
        String without = "{\"label\": \"component_not_present\"}";
        assertThat(statements(without)).extracting(VendorStatement::words).containsOnly("");
        assertThat(reasons(notAffected(without))).first().asString().startsWith("6.1.32");
        String two =
                "{\"label\": \"component_not_present\", \"product_ids\": [\"a\", \"b\"]}, {\"label\": \"inline_mitigations_already_exist\", \"product_ids\": [\"a\"]}";
        assertThat(statements(two)).extracting(VendorStatement::words).containsExactly("", "component not present");
        assertThat(reasons(notAffected(two))).first().asString().startsWith("6.1.33: 'a'");
    }

    // ---- Restart

    @Test
    void onlyTheRestartOfTheFixCountsAndWhatIsNotToldIsNotKnown() {
        String remediations =
                "\"remediations\": [{\"category\": \"workaround\", \"details\": \"Restart it.\", \"restart_required\": {\"category\": \"system\"}}, {\"category\": \"vendor_fix\", \"details\": \"Install it.\"%s}]";
        assertThat(advisory(document(TREE, vulnerability(FIXED, remediations.formatted(""))))
                        .restarts()
                        .ofAll())
                .isEmpty();
        assertThat(advisory(document(
                                TREE,
                                vulnerability(
                                        FIXED,
                                        remediations.formatted(", \"restart_required\": {\"category\": \"service\"}"))))
                        .restarts()
                        .ofAll())
                .contains(RestartNeed.SERVICE);
        String odd = document(
                TREE,
                vulnerability(FIXED, remediations.formatted(", \"restart_required\": {\"category\": \"planet\"}")));
        assertThat(advisory(odd).restarts().ofAll()).isEmpty();
        assertThat(reasons(odd)).containsExactly("'planet' is no restart category; it is not known");
    }

    @Test
    void whatMustBeRestartedIsToldOfEachProduct() {
        String tree = """
                "full_product_names": [
                  {"product_id": "kernel", "name": "kernel", "product_identification_helper": {"purl": "pkg:deb/fathom/kernel@31.5-1"}},
                  {"product_id": "kernel-old", "name": "kernel", "product_identification_helper": {"purl": "pkg:deb/fathom/kernel@31.4-1"}},
                  {"product_id": "tools", "name": "tools", "product_identification_helper": {"purl": "pkg:deb/fathom/kernel-tools@31.5-1"}},
                  {"product_id": "docs", "name": "docs", "product_identification_helper": {"purl": "pkg:deb/fathom/kernel-docs@31.5-1"}}]""";
        String vulnerability = vulnerability("\"fixed\": [\"kernel\", \"tools\", \"docs\"]", """
                "remediations": [
                  {"category": "vendor_fix", "details": "a", "product_ids": ["kernel-old"], "restart_required": {"category": "machine"}},
                  {"category": "vendor_fix", "details": "b", "product_ids": ["tools"], "restart_required": {"category": "none"}},
                  {"category": "vendor_fix", "details": "c", "product_ids": ["tools"], "restart_required": {"category": "service"}}]""");
        Advisory advisory = advisory(document(tree, vulnerability));
        Restarts restarts = advisory.restarts();
        assertThat(restarts.strongest()).isEqualTo(RestartNeed.HOST);
        assertThat(advisory.fixes())
                .extracting(fix -> fix.build().product().name() + " " + restarts.of(fix.build()))
                .as("the strongest of each; of what nobody tells it is unknown")
                .containsExactlyInAnyOrder("kernel HOST", "kernel-tools SERVICE", "kernel-docs UNKNOWN");
        assertThat(Explanation.of(read(document(tree, vulnerability))))
                .contains("What must be restarted for pkg:deb/fathom/kernel: host.")
                .contains("What must be restarted for pkg:deb/fathom/kernel-docs: not said.");
    }

    // ---- The document as a whole

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "\"number\": \"1\", \"summary\"|\"number\": \"3\", \"summary\"|6.1.16: the newest revision in the history is 3",
                "\"version\": \"1\"|\"version\": \"0.9.1\"|6.1.17: version 0.9.1 is one of a draft",
                "\"number\": \"1\", \"summary\"|\"number\": \"0\", \"summary\"|6.1.18: a released document has no revision 0",
                "\"version\": \"1\"|\"version\": \"1.0.0-rc1\"|6.1.20: version 1.0.0-rc1 is a pre-release",
                "\"version\": \"1\"|\"version\": \"1.0.0\"|6.1.30: integers and semantic versions",
                "csaf_security_advisory|Security Advisory|6.1.26: 'Security Advisory' reads like a profile",
                "\"summary\": \"First.\"}]|\"summary\": \"First.\"}, {\"date\": \"2026-11-11T09:00:00Z\", \"number\": \"1\"}]|6.1.22: revision 1 stands twice",
                "\"summary\": \"First.\"}]|\"summary\": \"First.\"}, {\"date\": \"2026-11-13T09:00:00Z\", \"number\": \"3\"}]|6.1.21: a revision between 1 and 3 is missing",
                "\"summary\": \"First.\"}]|\"summary\": \"First.\"}, {\"date\": \"2026-11-11T09:00:00Z\", \"number\": \"2\"}]|6.1.14: the revisions are not in the order",
            })
    void whatBreaksARuleOfTheWholeDocumentIsNamedAndTheDocumentTaken(String part, String instead, String reason) {
        String text = document(TREE, vulnerability(FIXED));
        assertThat(reasons(text)).isEmpty();
        assertThat(text).contains(part);
        assertThat(reasons(text.replace(part, instead)))
                .anySatisfy(named -> assertThat(named).startsWith(reason));
    }

    @Test
    void aSecurityAdvisoryWithoutAProductTreeIsRefusedByTheNumberOfItsTest() {
        String text = document(TREE, vulnerability(FIXED)).replaceFirst("\"product_tree\": \\{.*\\},\n", "");
        assertThat(Assertions.catchThrowableOfType(RefusedDocumentException.class, () -> read(text))
                        .problems())
                .singleElement()
                .satisfies(problem -> assertThat(problem.reason()).startsWith("6.1.27.4"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "a|b|c|6.1.1: the product tree defines no product 'a'",
                "c|fixed|c|6.1.3: the product 'c' is defined by itself",
                "fixed|fixed|fixed|6.1.2: the product 'fixed' is defined twice",
            })
    void productsThatAreNotDefinedOrByThemselvesRefuseTheDocument(String part, String whole, String id, String reason) {
        String text = document(TREE + """
                , "relationships": [{"category": "default_component_of", "product_reference": "%s", "relates_to_product_reference": "%s", "full_product_name": {"product_id": "%s", "name": "c"}}]""".formatted(part, whole, id), vulnerability(FIXED));
        assertThat(Assertions.catchThrowableOfType(RefusedDocumentException.class, () -> read(text))
                        .problems())
                .singleElement()
                .satisfies(problem -> assertThat(problem.reason()).isEqualTo(reason));
    }

    @Test
    void linksOfOtherSchemesAndBuildMetadataRefuseNothing() {
        String text = document(TREE, vulnerability(FIXED))
                .replace("\"version\": \"1\"", "\"version\": \"1.0.0+build.5\"")
                .replace("\"number\": \"1\"", "\"number\": \"1.0.0+build.4\"")
                .replace(
                        "\"publisher\"",
                        "\"references\": [{\"summary\": \"talk\", \"url\": \"mailto:tls@tarn.example\"}, {\"summary\": \"page\", \"url\": \"https://tarn.example/1\"}], \"publisher\"");
        Advisory advisory = advisory(text);
        assertThat(advisory.revision()).isEqualTo("1.0.0");
        assertThat(advisory.revisionWords()).isEqualTo("First.");
        assertThat(advisory.references()).containsExactly(new ReferenceLink("https://tarn.example/1", "page"));
        assertThat(reasons(text)).singleElement().asString().contains("no web address");
    }

    @Test
    void whatBreaksTheSchemaIsNamedWithItsPlaceAndTheDocumentTaken() {
        String text = document(
                        TREE,
                        vulnerability(
                                FIXED,
                                "\"flags\": [{\"label\": \"harmless\", \"product_ids\": [\"fixed\"]}]",
                                "\"notes\": []"))
                .replace(
                        "\"name\": \"Tarn\"",
                        "\"name\": \"Tarn\", \"category\": \"shop\", \"namespace\": \"https://tarn.example\"");
        assertThat(read(text).problems())
                .filteredOn(problem -> problem.reason().startsWith("schema: "))
                .extracting(problem -> problem.place() + " " + problem.reason())
                .containsExactlyInAnyOrder(
                        "/document/publisher/category schema: 'shop' is none of coordinator, discoverer, other, translator, user, vendor",
                        "/vulnerabilities/0/notes schema: has at least one entry",
                        "/vulnerabilities/0/flags/0/label schema: 'harmless' is none of component_not_present, inline_mitigations_already_exist, vulnerable_code_cannot_be_controlled_by_adversary, vulnerable_code_not_in_execute_path, vulnerable_code_not_present");
    }

    @Test
    void oneFaultInManyPlacesIsNotNamedInAllOfThem() {
        String references = IntStream.range(0, 40)
                .mapToObj(i -> "{\"summary\": \"\", \"url\": \"https://tarn.example/" + i + "\"}")
                .collect(Collectors.joining(","));
        String text = document(TREE, vulnerability(FIXED))
                .replace(
                        "{\"name\": \"Tarn\"}",
                        "{\"name\": \"Tarn\", \"category\": \"vendor\", \"namespace\": \"https://tarn.example\"}, \"references\": ["
                                + references + "]");
        assertThat(read(text).problems())
                .extracting(Problem::reason)
                .filteredOn(reason -> reason.startsWith("schema: "))
                .hasSize(21)
                .last()
                .isEqualTo("schema: 20 more places do not follow it");
    }

    @ParameterizedTest
    @CsvSource({"WHITE, CLEAR", "GREEN, GREEN", "amber, AMBER", "AMBER+STRICT, AMBER_STRICT", "RED, RED", "PURPLE, RED"
    })
    void theLevelOfSharingIsReadAndAnUnknownOneIsTheNarrowest(String label, SharingLevel level) {
        Advisory advisory = advisory(document(TREE, vulnerability(FIXED))
                .replace(
                        "\"publisher\"", "\"distribution\": {\"tlp\": {\"label\": \"" + label + "\"}}, \"publisher\""));
        assertThat(advisory.sharing()).contains(level);
    }

    @Test
    void ofEachProductThatWasReadItIsKnownWhereItStands() {
        Advisory advisory = advisory(NAMELESS, CISTERN);
        assertThat(advisory.readFrom())
                .extracting(from -> from.build() + " " + from.name() + " " + from.place())
                .containsExactlyInAnyOrder(
                        "pkg:generic/cistern product fixed /product_tree/branches/0/branches/1/product",
                        "pkg:generic/cistern product before /product_tree/branches/0/branches/0/product");
    }

    @Test
    void aDocumentOfVersion21IsReadByTheSameReader() {
        Advisory advisory = advisory(document(
                        branches(
                                branch(VERSION, "8.7", "fixed", "")
                                        .replace(
                                                "\"name\": \"product fixed\"",
                                                "\"name\": \"Cistern\", \"product_identification_helper\": {\"purls\": [\"pkg:rpm/tarn/cistern@8.7?arch=x86_64\", \"pkg:rpm/tarn/cistern@8.7?arch=aarch64\"]}")),
                        vulnerability(
                                FIXED,
                                "\"metrics\": [{\"products\": [\"fixed\"], \"content\": {\"cvss_v3\": {\"version\": \"3.1\", \"baseScore\": 9.8, \"vectorString\": \"CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H\"}}}]"))
                .replace("\"csaf_version\": \"2.0\"", "\"csaf_version\": \"2.1\""));
        assertThat(advisory.fixes())
                .extracting(fix -> fix.build().toString())
                .containsExactly("pkg:rpm/tarn/cistern for aarch64", "pkg:rpm/tarn/cistern for x86_64");
        assertThat(advisory.vulnerabilities().get(0).baseScore()).contains(9.8);
    }

    @Test
    void notesAndInstructionsAreKept() {
        Advisory advisory = advisory(
                document(
                                TREE,
                                vulnerability(
                                        FIXED,
                                        "\"notes\": [{\"category\": \"description\", \"title\": \"Cause\", \"text\": \"A buffer.\"}]",
                                        "\"remediations\": [{\"category\": \"vendor_fix\", \"details\": \"Install it.\", \"product_ids\": [\"fixed\"]}]"))
                        .replace(
                                "\"publisher\"",
                                "\"notes\": [{\"category\": \"summary\", \"text\": \"In short.\"}, {\"category\": \"general\", \"text\": \"At length.\"}, {\"category\": \"legal_disclaimer\", \"text\": \"None.\"}], \"publisher\""));
        assertThat(advisory.summary()).isEqualTo("In short.");
        assertThat(advisory.notes())
                .extracting(note -> note.about() + ": " + note.title() + ": " + note.words())
                .containsExactly(": general: At length.", "CVE-2026-9000001: Cause: A buffer.");
        assertThat(advisory.remedies())
                .extracting(remedy -> remedy.category() + ": " + remedy.words())
                .containsExactly("vendor fix: Install it.");
    }
}
