package lucid.formats.osv;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.update.Advisory;
import lucid.core.update.AdvisorySource;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.ProductBuild;
import lucid.core.update.ProductMappings;
import lucid.core.update.ReadFrom;
import lucid.core.update.ReferenceLink;
import lucid.core.update.Restarts;
import lucid.core.update.Retraction;
import lucid.core.update.UnreadProduct;
import lucid.core.update.UpdateId;
import lucid.core.update.Vulnerability;
import lucid.formats.document.Content;
import lucid.formats.document.CvssVectors;
import lucid.formats.document.Format;
import lucid.formats.document.Instants;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.NotRead;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import tools.jackson.databind.JsonNode;

/** Reads advisories of the Open Source Vulnerability format (schema 1.x). */
public final class OsvReader implements JsonReader {

    @Override
    public String reads() {
        return "an OSV advisory";
    }

    @Override
    public boolean recognises(JsonNode root) {
        return root.has("id") && root.has("modified") && (root.has("affected") || root.has("schema_version"));
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        JsonPlace root = JsonPlace.root(node);
        List<Problem> problems = new ArrayList<>();
        String id = root.get("id").identifier();
        Instant modified = root.get("modified").instant();
        List<UnreadProduct> unread = new ArrayList<>();
        List<ReadFrom> readFrom = new ArrayList<>();
        List<Fix> fixes = fixes(root.get("affected"), hints.mappings(), unread, readFrom);
        if (!unread.isEmpty()) {
            problems.add(NotRead.problem(unread));
        }
        Optional<Severity> severity = severity(root, problems);
        Advisory advisory = new Advisory(
                AdvisorySource.OSV,
                new UpdateId(id),
                root.get("summary")
                        .textIfAny()
                        .filter(summary -> summary.length() <= 500)
                        .orElse(id),
                "",
                root.get("details")
                        .textIfAny()
                        .or(() -> root.get("summary").textIfAny())
                        .orElse(""),
                Instants.asRevision(modified),
                "",
                root.get("published").exists() ? root.get("published").instant() : modified,
                modified,
                Optional.of(Kind.SECURITY),
                root.get("database_specific").get("severity").textIfAny(),
                vulnerabilities(root, id, severity),
                fixes,
                Restarts.NOT_TOLD,
                root.get("withdrawn").exists()
                        ? Optional.of(new Retraction(
                                Retraction.Type.WITHDRAWN,
                                "withdrawn " + root.get("withdrawn").instant()))
                        : Optional.empty(),
                List.of(),
                List.of(),
                root.get("references").items().stream()
                        .filter(reference -> reference
                                .get("url")
                                .textIfAny()
                                .filter(JsonPlace::isWebAddress)
                                .isPresent())
                        .map(reference -> new ReferenceLink(
                                reference.get("url").line(),
                                reference.get("type").textIfAny().orElse("").toLowerCase(Locale.ROOT)))
                        .toList(),
                unread,
                List.of(),
                readFrom,
                Optional.empty());
        return new ReadDocument(Format.OSV, new Content.OfAdvisories(List.of(advisory)), List.copyOf(problems));
    }

    /** A base score with the vector that it was computed from. */
    private record Severity(String version, double base, String vector) {}

    /**
     * Of the whole advisory and of its packages, the worst of the newest CVSS version. Types are CVSS_V2, CVSS_V3 and
     * CVSS_V4, or words of others.
     */
    private static Optional<Severity> severity(JsonPlace root, List<Problem> problems) {
        return Stream.concat(
                        root.get("severity").items().stream(),
                        root.get("affected").items().stream()
                                .flatMap(affected -> affected.get("severity").items().stream()))
                .filter(severity -> severity.get("type").line().startsWith("CVSS_V"))
                .flatMap(severity -> {
                    String vector = severity.get("score").line();
                    try {
                        return Stream.of(
                                new Severity(severity.get("type").line(), CvssVectors.baseScore(vector), vector));
                    } catch (IllegalArgumentException e) {
                        problems.add(
                                new Problem(severity.get("score").pointer(), e.getMessage() + "; it does not count"));
                        return Stream.empty();
                    }
                })
                .max(Comparator.comparing(Severity::version).thenComparing(Severity::base));
    }

    /** Its CVE identifiers, else its own; they share the score of the advisory. */
    private static List<Vulnerability> vulnerabilities(JsonPlace root, String id, Optional<Severity> severity) {
        List<String> cves = Stream.concat(
                        Stream.of(id), Stream.of("aliases", "upstream").flatMap(list -> root.get(list).items().stream()
                                .map(JsonPlace::line)))
                .filter(alias -> alias.matches("CVE-\\d{4}-\\d{4,}"))
                .distinct()
                .toList();
        return (cves.isEmpty() ? List.of(id) : cves)
                .stream()
                        .map(name -> new Vulnerability(
                                name, "", severity.map(Severity::base), severity.map(Severity::vector), ""))
                        .toList();
    }

    private static List<Fix> fixes(
            JsonPlace affected, ProductMappings mappings, List<UnreadProduct> unread, List<ReadFrom> readFrom) {
        Map<ProductBuild, List<List<AffectedRange>>> ranges = new LinkedHashMap<>();
        for (JsonPlace each : affected.items()) {
            OsvPackage product = OsvPackage.of(each.get("package"), mappings);
            if (product.build().isEmpty()) {
                if (!product.mapped()) {
                    unread.add(product.unread(each.get("package"), product.reason()));
                }
                continue;
            }
            ProductBuild build = product.build().get();
            try {
                List<AffectedRange> here = OsvRanges.of(each, build);
                ranges.computeIfAbsent(build, b -> new ArrayList<>())
                        .add(Fix.ofVulnerabilities(
                                        build, here.stream().map(List::of).toList())
                                .tracks());
                readFrom.add(new ReadFrom(build, product.name(), each.pointer()));
            } catch (IllegalArgumentException e) {
                unread.add(product.unread(each.get("package"), e.getMessage()));
            }
        }
        List<Fix> fixes = new ArrayList<>();
        ranges.forEach((build, all) -> fixes.add(Fix.ofVulnerabilities(build, all)));
        return fixes;
    }
}
