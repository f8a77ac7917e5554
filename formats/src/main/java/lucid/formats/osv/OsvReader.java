package lucid.formats.osv;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.update.Advisory;
import lucid.core.update.AdvisorySource;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import lucid.core.update.Retraction;
import lucid.core.update.UpdateId;
import lucid.core.update.Vulnerability;
import lucid.formats.document.Content;
import lucid.formats.document.CvssVectors;
import lucid.formats.document.Format;
import lucid.formats.document.Instants;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import tools.jackson.databind.JsonNode;

/** Reads advisories of the Open Source Vulnerability format (schema 1.x). */
public final class OsvReader implements JsonReader {

    private static final int MOST_VERSIONS = 10_000;
    private static final Set<String> RANGES_READ = Set.of("SEMVER", "ECOSYSTEM");

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
        Advisory advisory = new Advisory(
                AdvisorySource.OSV,
                new UpdateId(id),
                root.get("summary")
                        .optionalText()
                        .filter(summary -> summary.length() <= 500)
                        .orElse(id),
                "",
                root.get("details")
                        .optionalText()
                        .or(() -> root.get("summary").optionalText())
                        .orElse(""),
                Instants.asRevision(modified),
                "",
                root.get("published").exists() ? root.get("published").instant() : modified,
                modified,
                Optional.of(Kind.SECURITY),
                root.get("database_specific").get("severity").optionalText(),
                vulnerabilities(root, id),
                fixes(root.get("affected"), problems),
                Optional.empty(),
                root.get("withdrawn").exists()
                        ? Optional.of(new Retraction(
                                Retraction.Type.WITHDRAWN,
                                "withdrawn " + root.get("withdrawn").instant()))
                        : Optional.empty(),
                List.of(),
                List.of(),
                root.get("references").items().stream()
                        .map(reference -> reference.get("url").as(JsonPlace::requireWebAddress))
                        .toList());
        return new ReadDocument(Format.OSV, new Content.OfAdvisories(List.of(advisory)), List.copyOf(problems));
    }

    /** Its CVE identifiers, else its own; they share the score of the advisory. */
    private static List<Vulnerability> vulnerabilities(JsonPlace root, String id) {
        Optional<JsonPlace> newest = severities(root)
                .max(Comparator.comparing(severity -> severity.get("type").line()));
        Optional<String> vector = newest.map(severity -> severity.get("score").line());
        Optional<Double> base = newest.map(severity -> severity.get("score").as(CvssVectors::baseScore));
        List<String> cves = Stream.concat(
                        Stream.of(id), Stream.of("aliases", "upstream").flatMap(list -> root.get(list).items().stream()
                                .map(JsonPlace::line)))
                .filter(alias -> alias.matches("CVE-\\d{4}-\\d{4,}"))
                .distinct()
                .toList();
        return (cves.isEmpty() ? List.of(id) : cves)
                .stream()
                        .map(name -> new Vulnerability(name, "", base, vector, ""))
                        .toList();
    }

    /**
     * Of the whole advisory, else of its packages. Types are CVSS_V2, CVSS_V3 and CVSS_V4, or words of other weigher.
     */
    private static Stream<JsonPlace> severities(JsonPlace root) {
        List<JsonPlace> own = root.get("severity").items();
        Stream<JsonPlace> all = own.isEmpty()
                ? root.get("affected").items().stream().flatMap(affected -> affected.get("severity").items().stream())
                : own.stream();
        return all.filter(severity -> severity.get("type").line().startsWith("CVSS_V"));
    }

    private static List<Fix> fixes(JsonPlace affected, List<Problem> problems) {
        Map<ProductBuild, List<List<AffectedRange>>> ranges = new LinkedHashMap<>();
        for (JsonPlace each : affected.items()) {
            JsonPlace product = each.get("package");
            if (!product.get("purl").exists()) {
                problems.add(new Problem(
                        product.pointer(),
                        "left out: without a package URL no host can be found that has "
                                + product.get("name").optionalText().orElse("this product")));
                continue;
            }
            PackageReference reference = product.get("purl").as(PackageReference::parse);
            try {
                List<AffectedRange> here = Fix.ofVulnerabilities(
                                reference.build(),
                                ranges(each).stream().map(List::of).toList())
                        .tracks();
                ranges.computeIfAbsent(reference.build(), build -> new ArrayList<>())
                        .add(here);
            } catch (IllegalArgumentException e) {
                problems.add(new Problem(each.pointer(), "left out: " + e.getMessage()));
            }
        }
        List<Fix> fixes = new ArrayList<>();
        ranges.forEach((build, all) -> fixes.add(Fix.ofVulnerabilities(build, all)));
        return fixes;
    }

    private static List<AffectedRange> ranges(JsonPlace affected) {
        List<AffectedRange> ranges = new ArrayList<>();
        for (JsonPlace range : affected.get("ranges").items()) {
            if (RANGES_READ.contains(range.get("type").line())) {
                ranges.addAll(ofEvents(range.get("events")));
            }
        }
        if (ranges.isEmpty()) {
            List<JsonPlace> versions = affected.get("versions").items();
            if (versions.size() > MOST_VERSIONS) {
                throw affected.get("versions").refused("at most " + MOST_VERSIONS + " versions are listed one by one");
            }
            versions.forEach(version -> ranges.add(AffectedRange.only(version.line())));
        }
        return ranges;
    }

    /** Events in the order of their versions: each introduced opens a range, each fixed or last_affected closes it. */
    private static List<AffectedRange> ofEvents(JsonPlace events) {
        List<AffectedRange> ranges = new ArrayList<>();
        Optional<String> introduced = Optional.empty();
        boolean open = false;
        for (JsonPlace event : events.items()) {
            if (event.get("introduced").exists()) {
                if (open) {
                    throw event.refused("a range is introduced inside another");
                }
                introduced = Optional.of(event.get("introduced").line()).filter(version -> !version.equals("0"));
                open = true;
            } else if (open
                    && (event.get("fixed").exists()
                            || event.get("last_affected").exists())) {
                boolean included = event.get("last_affected").exists();
                ranges.add(new AffectedRange(
                        introduced,
                        Optional.of(
                                event.get(included ? "last_affected" : "fixed").line()),
                        included));
                open = false;
            }
        }
        if (open) {
            ranges.add(new AffectedRange(introduced, Optional.empty(), false));
        }
        return ranges;
    }
}
