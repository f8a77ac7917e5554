package lucid.formats.csaf;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import lucid.core.update.Advisory;
import lucid.core.update.Vulnerability;
import lucid.core.version.VersionOrdering;
import lucid.formats.Content;
import lucid.formats.DocumentReader;
import lucid.formats.Format;
import lucid.formats.JsonPlace;
import lucid.formats.Problem;
import lucid.formats.ReadDocument;
import tools.jackson.databind.JsonNode;

/** Reads advisories of the Common Security Advisory Framework 2.0 (OASIS Standard, 18 November 2022). */
public final class CsafReader implements DocumentReader {

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("document").has("csaf_version");
    }

    @Override
    public ReadDocument read(JsonNode node) {
        JsonPlace root = JsonPlace.root(node);
        JsonPlace document = root.get("document");
        if (!document.get("csaf_version").line().equals("2.0")) {
            throw document.get("csaf_version").refused("only version 2.0 is read, this is " + document.get("csaf_version").line());
        }
        JsonPlace tracking = document.get("tracking");
        List<Problem> problems = new ArrayList<>();
        ProductTree products = new ProductTree(root.get("product_tree"));
        StatusRanges ranges = new StatusRanges(products, problems);
        List<Vulnerability> vulnerabilities = new ArrayList<>();
        for (JsonPlace vulnerability : root.get("vulnerabilities").items()) {
            ranges.add(vulnerability.get("product_status"));
            if (vulnerability.get("cve").exists()) {
                vulnerabilities.add(vulnerability(vulnerability));
            }
        }
        Advisory advisory = new Advisory(
                tracking.get("id").line(),
                document.get("title").line(),
                document.get("publisher").get("name").line(),
                summary(document.get("notes")),
                tracking.get("version").as(CsafReader::requireRevision),
                tracking.get("initial_release_date").instant(),
                tracking.get("current_release_date").instant(),
                document.get("aggregate_severity").get("text").optionalText(),
                List.copyOf(vulnerabilities),
                ranges.fixes(),
                document.get("references").items().stream().map(reference -> reference.get("url").as(CsafReader::requireWebAddress)).toList());
        return new ReadDocument(Format.CSAF, advisory.id(), advisory.revision(), new Content.OfAdvisory(advisory), List.copyOf(problems));
    }

    /** Versions of documents are integers or semantic versions (section 3.1.11); both are ordered as dotted numbers. */
    private static String requireRevision(String version) {
        return VersionOrdering.DOTTED.require(version);
    }

    private static String requireWebAddress(String address) {
        if (!address.matches("https?://\\S+")) {
            throw new IllegalArgumentException("'" + address + "' is no web address");
        }
        return address;
    }

    private static Vulnerability vulnerability(JsonPlace place) {
        String cve = place.get("cve").line();
        if (!cve.matches("CVE-\\d{4}-\\d{4,}")) {
            throw place.get("cve").refused("'" + cve + "' is no CVE identifier");
        }
        // The vendor may score products apart; the worst counts.
        Optional<JsonPlace> worst = place.get("scores").items().stream()
                .map(score -> score.get("cvss_v3"))
                .filter(JsonPlace::exists)
                .max(Comparator.comparingDouble(CsafReader::baseScore));
        return new Vulnerability(cve, place.get("title").optionalText().orElse(""), worst.map(CsafReader::baseScore),
                worst.flatMap(score -> score.get("vectorString").optionalText()));
    }

    private static double baseScore(JsonPlace score) {
        double base = score.get("baseScore").number();
        if (base < 0 || base > 10) {
            throw score.get("baseScore").refused("a base score lies between 0.0 and 10.0, this is " + base);
        }
        return base;
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
}
