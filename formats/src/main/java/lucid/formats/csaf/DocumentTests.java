package lucid.formats.csaf;

import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import lucid.core.version.VersionOrdering;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.Problem;
import lucid.formats.document.RefusedDocumentException;

/**
 * Those of the mandatory tests of CSAF 2.0 (section 6.1) that look at a document as a whole. What they find is named
 * with the number of the test, and the document is taken; but a document of a profile that must have a product tree is
 * refused without one (6.1.27.4). The tests that look at products, scores and statements stand where these are read.
 */
final class DocumentTests {

    private static final Set<String> WITH_PRODUCTS = Set.of("csaf_security_advisory", "csaf_vex");
    private static final List<String> VEX_LISTS =
            List.of("fixed", "known_affected", "known_not_affected", "under_investigation");

    /** Categories that a document may not bear, as they could be taken for those of the profiles (test 6.1.26). */
    private static final Set<String> LIKE_A_PROFILE =
            Set.of("base", "securityincidentresponse", "informationaladvisory", "securityadvisory", "vex");

    private static final String PRE_RELEASE = ".*-.*";
    private static final String BEFORE_RELEASE = "0|0\\..*";

    private final JsonPlace root;
    private final List<Problem> problems;

    private DocumentTests(JsonPlace root, List<Problem> problems) {
        this.root = root;
        this.problems = problems;
    }

    /** @throws RefusedDocumentException if it is of a profile that must have a product tree, and has none */
    static void run(JsonPlace root, String category, List<Problem> problems) {
        DocumentTests tests = new DocumentTests(root, problems);
        tests.ofProfile(category);
        tests.ofRevisions(root.get("document").get("tracking"));
        tests.ofVulnerabilities(category);
    }

    private void name(JsonPlace place, String test, String words) {
        problems.add(new Problem(place.pointer(), test + ": " + words));
    }

    private void ofProfile(String category) {
        if (WITH_PRODUCTS.contains(category) && !root.get("product_tree").exists()) {
            throw root.get("product_tree")
                    .refused("6.1.27.4: a document of the profile " + category
                            + " must say of which products it speaks");
        }
        if (LIKE_A_PROFILE.contains(category.toLowerCase(Locale.ROOT).replaceAll("[ _-]", ""))) {
            name(root.get("document").get("category"), "6.1.26", "'" + category + "' reads like a profile and is none");
        }
    }

    private void ofRevisions(JsonPlace tracking) {
        JsonPlace version = tracking.get("version");
        String number = version.line();
        String status = tracking.get("status").textIfAny().orElse("");
        boolean isDraft = status.equals("draft");
        if (isDraft) {
            problems.add(new Problem(
                    tracking.get("status").pointer(), "this is a draft, which its vendor has not released"));
        } else if (number.matches(BEFORE_RELEASE)) {
            name(
                    tracking.get("status"),
                    "6.1.17",
                    "version " + number + " is one of a draft, and the status is " + status);
        } else if (bare(number).matches(PRE_RELEASE)) {
            name(version, "6.1.20", "version " + number + " is a pre-release, and the status is " + status);
        }
        List<JsonPlace> history = tracking.get("revision_history").items();
        List<String> numbers = new ArrayList<>();
        for (JsonPlace revision : history) {
            String told = revision.get("number").line();
            if (numbers.contains(told)) {
                name(revision.get("number"), "6.1.22", "revision " + told + " stands twice in the history");
            }
            if (!isDraft && told.matches(BEFORE_RELEASE)) {
                name(revision.get("number"), "6.1.18", "a released document has no revision " + told);
            }
            numbers.add(told);
        }
        if (!numbers.isEmpty()) {
            inOrder(history, version);
        }
    }

    private void inOrder(List<JsonPlace> history, JsonPlace version) {
        List<JsonPlace> sorted = history.stream()
                .sorted(Comparator.comparing(revision -> revision.get("date").instant()))
                .toList();
        List<String> numbers = sorted.stream()
                .map(revision -> bare(revision.get("number").line()))
                .toList();
        boolean whole = numbers.stream().allMatch(number -> number.matches("\\d+"));
        boolean semantic = numbers.stream().noneMatch(number -> number.matches("\\d+"));
        if (!whole && !semantic || whole != version.line().matches("\\d+")) {
            name(version, "6.1.30", "integers and semantic versions stand side by side");
            return;
        }
        if (numbers.stream()
                .anyMatch(number -> VersionOrdering.DOTTED.fault(number).isPresent())) {
            return;
        }
        if (!numbers.equals(numbers.stream().sorted(VersionOrdering.DOTTED).toList())) {
            name(sorted.get(0).get("number"), "6.1.14", "the revisions are not in the order of their dates");
        }
        String last = numbers.get(numbers.size() - 1);
        if (VersionOrdering.DOTTED.compare(last, bare(version.line())) != 0) {
            name(version, "6.1.16", "the newest revision in the history is " + last);
        }
        if (whole) {
            for (int i = 1; i < numbers.size(); i++) {
                if (VersionOrdering.DOTTED.compare(numbers.get(i), successor(numbers.get(i - 1))) > 0) {
                    name(
                            sorted.get(i).get("number"),
                            "6.1.21",
                            "a revision between " + numbers.get(i - 1) + " and " + numbers.get(i) + " is missing");
                }
            }
        }
    }

    private static String successor(String number) {
        return new BigInteger(number).add(BigInteger.ONE).toString();
    }

    /** Without build metadata, which does not count (Semantic Versioning 2.0.0 section 10). */
    static String bare(String version) {
        return version.replaceFirst("\\+.*", "");
    }

    private void ofVulnerabilities(String category) {
        Set<String> cves = new HashSet<>();
        for (JsonPlace vulnerability : root.get("vulnerabilities").items()) {
            vulnerability
                    .get("cve")
                    .textIfAny()
                    .filter(cve -> !cves.add(cve))
                    .ifPresent(cve -> name(
                            vulnerability.get("cve"),
                            "6.1.23",
                            cve + " stands twice; what is said of it is put together"));
            JsonPlace status = vulnerability.get("product_status");
            if (category.equals("csaf_security_advisory") && !status.exists()) {
                name(vulnerability, "6.1.27.6", "it does not say of any product whether it is affected");
            }
            if (category.equals("csaf_vex")) {
                if (VEX_LISTS.stream().noneMatch(list -> status.get(list).exists())) {
                    name(vulnerability, "6.1.27.7", "it does not say of any product whether it is affected");
                }
                if (status.get("known_affected").exists()
                        && vulnerability.get("remediations").items().isEmpty()) {
                    name(vulnerability, "6.1.27.10", "it does not say what to do on what is affected");
                }
            }
        }
    }
}
