package lucid.formats.csaf;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BinaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.update.Advisory;
import lucid.core.update.AdvisoryNote;
import lucid.core.update.AdvisorySource;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.ProductBuild;
import lucid.core.update.Rating;
import lucid.core.update.ReferenceLink;
import lucid.core.update.Remedy;
import lucid.core.update.RestartNeed;
import lucid.core.update.Restarts;
import lucid.core.update.Retraction;
import lucid.core.update.SharingLevel;
import lucid.core.update.UnreadProduct;
import lucid.core.update.UpdateId;
import lucid.core.update.VendorStatement;
import lucid.core.update.Vulnerability;
import lucid.core.version.VersionOrdering;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.NotRead;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.Schemas;
import tools.jackson.databind.JsonNode;

/**
 * Reads advisories of the Common Security Advisory Framework 2.0 (OASIS Standard, 18 November 2022) and 2.1, of the
 * profiles security advisory and VEX and without a profile. What contradicts the standard is refused, left out or named
 * with the number of the mandatory test that finds it (section 6.1).
 */
public final class CsafReader implements JsonReader {

    private static final Set<String> VERSIONS = Set.of("2.0", "2.1");
    private static final Schemas SCHEMA = Schemas.beside(CsafReader.class, "csaf-2.schema.json");

    /** One fault of whoever writes a vendor's documents stands in hundreds of places. */
    private static final int MOST_OF_THE_SCHEMA = 20;

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
    public String reads() {
        return "a CSAF advisory";
    }

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("document").has("csaf_version");
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        JsonPlace root = JsonPlace.root(node);
        JsonPlace document = root.get("document");
        if (!VERSIONS.contains(document.get("csaf_version").line())) {
            throw document.get("csaf_version")
                    .refused("only versions 2.0 and 2.1 are read, this is "
                            + document.get("csaf_version").line());
        }
        String category =
                document.get("category").exists() ? document.get("category").line() : "";
        if (WITHOUT_UPDATE.contains(category)) {
            throw document.get("category").refused("a document of the profile " + category + " announces no update");
        }
        List<Problem> problems = new ArrayList<>();
        if (document.get("csaf_version").line().equals("2.0")) {
            schemaProblems(node).forEach(problems::add);
        }
        DocumentTests.run(root, category, problems);
        JsonPlace tracking = document.get("tracking");
        String id = tracking.get("id").identifier();
        String vendor = document.get("publisher").get("name").line();
        ProductTree products = new ProductTree(root.get("product_tree"), vendor, hints.mappings(), problems);
        StatusRanges ranges = new StatusRanges(products, problems);
        Said said = new Said(products, ranges, problems);
        int number = 0;
        for (JsonPlace vulnerability : root.get("vulnerabilities").items()) {
            number++;
            said.take(vulnerability, identifier(vulnerability).orElse(id + " #" + number));
        }
        List<Fix> fixes = ranges.fixes();
        List<UnreadProduct> unread = ranges.unread();
        if (!unread.isEmpty()) {
            problems.add(NotRead.problem(unread));
        }
        String version = tracking.get("version").as(CsafReader::requireRevision);
        Advisory advisory = new Advisory(
                AdvisorySource.CSAF,
                new UpdateId(id),
                document.get("title").line(),
                vendor,
                summary(document.get("notes")),
                version,
                revisionWords(tracking, version),
                tracking.get("initial_release_date").instant(),
                tracking.get("current_release_date").instant(),
                said.vulnerabilities.isEmpty() ? Optional.empty() : Optional.of(Kind.SECURITY),
                worstRating(Stream.concat(
                        document.get("aggregate_severity").get("text").textIfAny().stream(), said.impacts.stream())),
                List.copyOf(said.vulnerabilities.values()),
                fixes,
                said.restarts(fixes),
                Optional.ofNullable(RETRACTIONS.get(category))
                        .map(type -> new Retraction(type, retractionWords(document.get("notes")))),
                List.copyOf(said.statements),
                List.copyOf(said.remedies),
                references(document.get("references"), problems),
                unread,
                notes(document, said.notes),
                ranges.readFrom(),
                sharing(document.get("distribution").get("tlp").get("label"), problems));
        return new ReadDocument(Format.CSAF, new Content.OfAdvisories(List.of(advisory)), List.copyOf(problems));
    }

    /** What breaks the schema; what a reader needs is refused where it is read. */
    private static Stream<Problem> schemaProblems(JsonNode node) {
        List<Problem> all = SCHEMA.problems(node);
        Stream<Problem> first = all.stream()
                .limit(MOST_OF_THE_SCHEMA)
                .map(problem -> new Problem(problem.place(), "schema: " + problem.reason()));
        return all.size() <= MOST_OF_THE_SCHEMA
                ? first
                : Stream.concat(
                        first,
                        Stream.of(new Problem(
                                "", "schema: " + (all.size() - MOST_OF_THE_SCHEMA) + " more places do not follow it")));
    }

    private static Optional<SharingLevel> sharing(JsonPlace label, List<Problem> problems) {
        Optional<SharingLevel> level = sharing(label.node());
        if (label.exists() && SharingLevel.ofLabel(label.node().asString("")).isEmpty()) {
            problems.add(new Problem(
                    label.pointer(),
                    "'" + label.node().asString("") + "' is no level of sharing; it is taken for the narrowest"));
        }
        return level;
    }

    private static Optional<SharingLevel> sharing(JsonNode label) {
        return label.isMissingNode()
                ? Optional.empty()
                : SharingLevel.ofLabel(label.asString("")).or(() -> Optional.of(SharingLevel.RED));
    }

    /** With whom an advisory may be shared, whether or not anything else of it can be read. */
    public static Optional<SharingLevel> sharingOf(JsonNode root) {
        return sharing(root.at("/document/distribution/tlp/label"));
    }

    /** What all vulnerabilities of a document say together. */
    private static final class Said {
        private static final String OF_ALL = "";

        private final ProductTree products;
        private final StatusRanges ranges;
        private final List<Problem> problems;
        private final Map<String, Vulnerability> vulnerabilities = new LinkedHashMap<>();
        private final List<VendorStatement> statements = new ArrayList<>();
        private final Set<Remedy> remedies = new LinkedHashSet<>();
        private final List<String> impacts = new ArrayList<>();
        private final List<AdvisoryNote> notes = new ArrayList<>();
        /** By product; under no name what is said of all. */
        private final Map<String, RestartNeed> restarts = new HashMap<>();

        private Said(ProductTree products, StatusRanges ranges, List<Problem> problems) {
            this.products = products;
            this.ranges = ranges;
            this.problems = problems;
        }

        private void take(JsonPlace place, String id) {
            ranges.add(place.get("product_status"));
            vulnerabilities.merge(id, vulnerability(place, id), Said::together);
            statements.addAll(VexStatements.of(place, id, products, problems));
            impacts.addAll(threats(place, "impact"));
            place.get("notes").items().forEach(note -> notes.add(note(note, id)));
            for (JsonPlace remediation : place.get("remediations").items()) {
                Set<String> named = products.named(remediation);
                remedy(remediation).ifPresent(remedies::add);
                if (remediation.get("category").line().equals("vendor_fix")) {
                    restart(remediation).ifPresent(need -> (named.isEmpty() ? Set.of(OF_ALL) : named)
                            .forEach(product ->
                                    restarts.merge(product, need, BinaryOperator.maxBy(Comparator.naturalOrder()))));
                }
            }
        }

        /** Where all products need the same, it is said of all. */
        private Restarts restarts(List<Fix> fixes) {
            Map<ProductBuild, RestartNeed> ofProducts = new HashMap<>();
            restarts.forEach((product, need) -> products.builds(product)
                    .forEach(build -> ofProducts.merge(build, need, BinaryOperator.maxBy(Comparator.naturalOrder()))));
            Restarts told = new Restarts(Optional.ofNullable(restarts.get(OF_ALL)), ofProducts);
            Set<RestartNeed> needs =
                    fixes.stream().map(fix -> told.of(fix.build())).collect(Collectors.toSet());
            if (needs.size() > 1) {
                ofProducts.keySet().retainAll(fixes.stream().map(Fix::build).toList());
                return new Restarts(told.ofAll(), ofProducts);
            }
            return Restarts.ofAll((needs.isEmpty() ? restarts.values() : needs)
                    .stream().filter(need -> need != RestartNeed.UNKNOWN).max(Comparator.naturalOrder()));
        }

        private Vulnerability vulnerability(JsonPlace place, String id) {
            Optional<Scores.Score> score = Scores.worst(place, products, problems);
            return new Vulnerability(
                    id,
                    place.get("title").textIfAny().orElse(""),
                    score.map(Scores.Score::base),
                    score.flatMap(Scores.Score::vector),
                    threats(place, "exploit_status").stream()
                            .sorted(Comparator.comparing(ExploitationWords::strength)
                                    .reversed())
                            .collect(Collectors.joining(" ")));
        }

        /** Of what is said twice of one vulnerability: the worse score, all words. */
        private static Vulnerability together(Vulnerability a, Vulnerability b) {
            boolean isWorse = b.baseScore().orElse(-1.0) > a.baseScore().orElse(-1.0);
            return new Vulnerability(
                    a.id(),
                    a.title().isEmpty() ? b.title() : a.title(),
                    isWorse ? b.baseScore() : a.baseScore(),
                    isWorse ? b.vector() : a.vector(),
                    Stream.of(a.exploitation(), b.exploitation())
                            .filter(words -> !words.isEmpty())
                            .distinct()
                            .collect(Collectors.joining(" ")));
        }

        private List<String> threats(JsonPlace place, String category) {
            List<String> words = new ArrayList<>();
            for (JsonPlace threat : place.get("threats").items()) {
                products.named(threat);
                if (threat.get("category").line().equals(category)) {
                    words.add(threat.get("details").text());
                }
            }
            return words.stream().distinct().toList();
        }

        private Optional<RestartNeed> restart(JsonPlace remediation) {
            JsonPlace category = remediation.get("restart_required").get("category");
            String word = category.textIfAny().orElse("");
            if (RESTARTS_OF_HOST.contains(word)) {
                return Optional.of(RestartNeed.HOST);
            }
            if (RESTARTS_OF_SERVICE.contains(word)) {
                return Optional.of(RestartNeed.SERVICE);
            }
            if (word.equals("none")) {
                return Optional.of(RestartNeed.NONE);
            }
            if (!word.isEmpty()) {
                problems.add(new Problem(category.pointer(), "'" + word + "' is no restart category; it is not known"));
            }
            return Optional.empty();
        }
    }

    /**
     * Versions of documents are integers or semantic versions (section 3.1.11); both are ordered as dotted numbers, and
     * build metadata does not count.
     */
    private static String requireRevision(String version) {
        return VersionOrdering.DOTTED.require(DocumentTests.bare(version));
    }

    private static String revisionWords(JsonPlace tracking, String version) {
        return tracking.get("revision_history").items().stream()
                .filter(revision ->
                        DocumentTests.bare(revision.get("number").line()).equals(version))
                .flatMap(revision -> revision.get("summary").textIfAny().stream())
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

    /** The vendor's word for the worst rating; where nobody knows the words, the first one. */
    private static Optional<String> worstRating(Stream<String> words) {
        return words.reduce((a, b) -> Rating.ofVendorWord(b).compareTo(Rating.ofVendorWord(a)) > 0 ? b : a);
    }

    private static Optional<Remedy> remedy(JsonPlace remediation) {
        return remediation
                .get("details")
                .textIfAny()
                .map(details -> new Remedy(remediation.get("category").line().replace('_', ' '), details));
    }

    /** Links that a browser can follow; the others are named. */
    private static List<ReferenceLink> references(JsonPlace references, List<Problem> problems) {
        List<ReferenceLink> links = new ArrayList<>();
        for (JsonPlace reference : references.items()) {
            try {
                links.add(new ReferenceLink(
                        reference.get("url").as(JsonPlace::requireWebAddress),
                        reference.get("summary").textIfAny().orElse("")));
            } catch (RefusedDocumentException e) {
                problems.addAll(e.problems());
            }
        }
        return links.stream().distinct().toList();
    }

    private static AdvisoryNote note(JsonPlace note, String about) {
        return new AdvisoryNote(
                about,
                note.get("title")
                        .textIfAny()
                        .orElseGet(() -> note.get("category").line().replace('_', ' ')),
                note.get("text").text());
    }

    /** General notes first; the one that is the summary is not repeated. */
    private static List<AdvisoryNote> notes(JsonPlace document, List<AdvisoryNote> ofVulnerabilities) {
        String summary = summary(document.get("notes"));
        return Stream.concat(
                        document.get("notes").items().stream()
                                .filter(note -> !note.get("category").line().equals("legal_disclaimer"))
                                .map(note -> note(note, ""))
                                .filter(note -> !note.words().equals(summary)),
                        ofVulnerabilities.stream())
                .toList();
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
                        .textIfAny()
                        .filter(title -> title.toLowerCase().startsWith("reasoning for"))
                        .isPresent())
                .map(note -> note.get("text").text())
                .findFirst()
                .orElseGet(() -> summary(notes));
    }
}
