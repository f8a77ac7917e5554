package lucid.formats.csaf;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.update.Advisory;
import lucid.core.update.AdvisorySource;
import lucid.core.update.Rating;
import lucid.core.update.Remedy;
import lucid.core.update.RestartNeed;
import lucid.core.update.Retraction;
import lucid.core.update.UpdateId;
import lucid.core.update.VendorStatement;
import lucid.core.update.Vulnerability;
import lucid.core.version.VersionOrdering;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import tools.jackson.databind.JsonNode;

/**
 * Reads advisories of the Common Security Advisory Framework 2.0 (OASIS Standard, 18 November 2022), of the profiles
 * security advisory and VEX and without a profile. How versions 2.1 and up mark a withdrawn or superseded advisory, by
 * its category, is read as well.
 */
public final class CsafReader implements JsonReader {

    /** Profiles that announce no update. */
    private static final Set<String> WITHOUT_UPDATE =
            Set.of("csaf_informational_advisory", "csaf_security_incident_response");

    private static final Map<String, Retraction.Type> RETRACTIONS =
            Map.of("csaf_withdrawn", Retraction.Type.WITHDRAWN, "csaf_superseded", Retraction.Type.SUPERSEDED);

    /**
     * Restart categories (section 3.2.3.12.7) that a restart of the host answers, and those that a restart of a service
     * does.
     */
    private static final Set<String> RESTARTS_OF_HOST = Set.of("system", "machine", "connected", "zone");

    private static final Set<String> RESTARTS_OF_SERVICE =
            Set.of("service", "vulnerable_component", "dependencies", "parent");

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("document").has("csaf_version");
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        JsonPlace root = JsonPlace.root(node);
        JsonPlace document = root.get("document");
        if (!document.get("csaf_version").line().equals("2.0")) {
            throw document.get("csaf_version")
                    .refused("only version 2.0 is read, this is "
                            + document.get("csaf_version").line());
        }
        String category =
                document.get("category").exists() ? document.get("category").line() : "";
        if (WITHOUT_UPDATE.contains(category)) {
            throw document.get("category").refused("a document of the profile " + category + " announces no update");
        }
        JsonPlace tracking = document.get("tracking");
        List<Problem> problems = new ArrayList<>();
        if (tracking.get("status").exists() && tracking.get("status").line().equals("draft")) {
            problems.add(new Problem(
                    tracking.get("status").pointer(), "this is a draft, which its vendor has not released"));
        }
        ProductTree products = new ProductTree(root.get("product_tree"));
        StatusRanges ranges = new StatusRanges(products, problems);
        List<Vulnerability> vulnerabilities = new ArrayList<>();
        List<VendorStatement> statements = new ArrayList<>();
        List<Remedy> remedies = new ArrayList<>();
        Optional<RestartNeed> restart = Optional.empty();
        for (JsonPlace vulnerability : root.get("vulnerabilities").items()) {
            Optional<String> id = identifier(vulnerability);
            ranges.add(vulnerability.get("product_status"));
            id.ifPresent(known -> vulnerabilities.add(vulnerability(vulnerability, known)));
            statements.addAll(VexStatements.of(vulnerability, id.orElse(""), products));
            for (JsonPlace remediation : vulnerability.get("remediations").items()) {
                products.requireDefined(remediation);
                restart = greater(restart, restart(remediation));
                remedy(remediation).filter(remedy -> !remedies.contains(remedy)).ifPresent(remedies::add);
            }
        }
        String version = tracking.get("version").as(CsafReader::requireRevision);
        Advisory advisory = new Advisory(
                AdvisorySource.CSAF,
                new UpdateId(tracking.get("id").identifier()),
                document.get("title").line(),
                document.get("publisher").get("name").line(),
                summary(document.get("notes")),
                version,
                revisionWords(tracking, version),
                tracking.get("initial_release_date").instant(),
                tracking.get("current_release_date").instant(),
                Optional.empty(),
                document.get("aggregate_severity")
                        .get("text")
                        .optionalText()
                        .or(() -> worstImpact(root.get("vulnerabilities"))),
                List.copyOf(vulnerabilities),
                ranges.fixes(),
                restart,
                Optional.ofNullable(RETRACTIONS.get(category))
                        .map(type -> new Retraction(type, retractionWords(document.get("notes")))),
                List.copyOf(statements),
                List.copyOf(remedies),
                document.get("references").items().stream()
                        .map(reference -> reference.get("url").as(JsonPlace::requireWebAddress))
                        .toList());
        return new ReadDocument(Format.CSAF, new Content.OfAdvisories(List.of(advisory)), List.copyOf(problems));
    }

    /** Versions of documents are integers or semantic versions (section 3.1.11); both are ordered as dotted numbers. */
    private static String requireRevision(String version) {
        return VersionOrdering.DOTTED.require(version);
    }

    private static String revisionWords(JsonPlace tracking, String version) {
        return tracking.get("revision_history").items().stream()
                .filter(revision -> revision.get("number").line().equals(version))
                .flatMap(revision -> revision.get("summary").optionalText().stream())
                .findFirst()
                .orElse("");
    }

    /** Its CVE, else the first other identifier that the vendor gives it. */
    private static Optional<String> identifier(JsonPlace vulnerability) {
        if (!vulnerability.get("cve").exists()) {
            return vulnerability.get("ids").items().stream()
                    .map(id -> id.get("text").line())
                    .findFirst();
        }
        String cve = vulnerability.get("cve").line();
        if (!cve.matches("CVE-\\d{4}-\\d{4,}")) {
            throw vulnerability.get("cve").refused("'" + cve + "' is no CVE identifier");
        }
        return Optional.of(cve);
    }

    private static Vulnerability vulnerability(JsonPlace place, String id) {
        // The vendor may score products apart; the worst of the newest CVSS version counts.
        List<JsonPlace> scores = place.get("scores").items();
        Optional<JsonPlace> worst = worst(scores, "cvss_v3").or(() -> worst(scores, "cvss_v2"));
        return new Vulnerability(
                id,
                place.get("title").optionalText().orElse(""),
                worst.map(CsafReader::baseScore),
                worst.flatMap(score -> score.get("vectorString").optionalText()),
                threat(place, "exploit_status").orElse(""));
    }

    private static Optional<JsonPlace> worst(List<JsonPlace> scores, String version) {
        return scores.stream()
                .map(score -> score.get(version))
                .filter(JsonPlace::exists)
                .max(Comparator.comparingDouble(CsafReader::baseScore));
    }

    private static double baseScore(JsonPlace score) {
        double base = score.get("baseScore").number();
        if (base < 0 || base > 10) {
            throw score.get("baseScore").refused("a base score lies between 0.0 and 10.0, this is " + base);
        }
        return base;
    }

    private static Optional<String> threat(JsonPlace vulnerability, String category) {
        return vulnerability.get("threats").items().stream()
                .filter(threat -> threat.get("category").line().equals(category))
                .map(threat -> threat.get("details").text())
                .findFirst();
    }

    /** Vendors that rate each vulnerability rather than the whole write the word as its impact. */
    private static Optional<String> worstImpact(JsonPlace vulnerabilities) {
        return vulnerabilities.items().stream()
                .flatMap(vulnerability -> threat(vulnerability, "impact").stream())
                .filter(word -> Rating.ofVendorWord(word) != Rating.UNRATED)
                .max(Comparator.comparing(Rating::ofVendorWord));
    }

    private static Optional<RestartNeed> restart(JsonPlace remediation) {
        JsonPlace category = remediation.get("restart_required").get("category");
        if (!category.exists()) {
            return Optional.empty();
        }
        String word = category.line();
        if (RESTARTS_OF_HOST.contains(word)) {
            return Optional.of(RestartNeed.HOST);
        }
        if (RESTARTS_OF_SERVICE.contains(word)) {
            return Optional.of(RestartNeed.SERVICE);
        }
        if (word.equals("none")) {
            return Optional.of(RestartNeed.NONE);
        }
        throw category.refused("'" + word + "' is no restart category");
    }

    private static Optional<RestartNeed> greater(Optional<RestartNeed> a, Optional<RestartNeed> b) {
        return a.isEmpty() || b.isPresent() && b.get().compareTo(a.get()) > 0 ? b : a;
    }

    private static Optional<Remedy> remedy(JsonPlace remediation) {
        String category = remediation.get("category").line();
        return category.equals("vendor_fix")
                ? Optional.empty()
                : remediation
                        .get("details")
                        .optionalText()
                        .map(details -> new Remedy(category.replace('_', ' '), details));
    }

    private static String summary(JsonPlace notes) {
        for (String category : List.of("summary", "description", "details")) {
            for (JsonPlace note : notes.items()) {
                if (note.get("category").line().equals(category)) {
                    return note.get("text").text();
                }
            }
        }
        return "";
    }

    private static String retractionWords(JsonPlace notes) {
        return notes.items().stream()
                .filter(note -> note.get("title")
                        .optionalText()
                        .filter(title -> title.toLowerCase().startsWith("reasoning for"))
                        .isPresent())
                .map(note -> note.get("text").text())
                .findFirst()
                .orElseGet(() -> summary(notes));
    }
}
