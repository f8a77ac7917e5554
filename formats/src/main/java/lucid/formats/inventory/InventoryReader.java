package lucid.formats.inventory;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.PackageChange;
import lucid.core.fleet.PackageLists;
import lucid.core.fleet.Trait;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.HostEvents;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.Texts;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Reads our own host inventory in JSON lines; the schema of a line is {@code inventory-line-1}.
 *
 * <p>Each host is a line {@code t=host}, its products, and a line {@code t=end} with the number of lines before it. A
 * host without a matching end was cut off and is refused; a single product that cannot be read is left out and named,
 * and the host is kept. A line {@code t=outcome} tells what happened with an update, inside a host's lines or by
 * itself. Lines of other types are left for later versions and passed over.
 */
public final class InventoryReader {

    private static final int LONGEST_LINE = 100_000;
    /** Of one host; a large desktop has some five thousand packages. */
    public static final int MOST_PRODUCTS = 20_000;

    public static final int MOST_TRAITS = 200;
    private static final int LONGEST_TRAIT_NAME = 200;
    private static final int MOST_EVENTS = 5_000;
    private static final int MOST_SOURCES = 500;

    private static final JsonMapper JSON = JsonMapper.builder(JsonFactory.builder()
                    .streamReadConstraints(
                            StreamReadConstraints.builder().maxNestingDepth(5).build())
                    .build())
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .build();

    /**
     * Product lines that were read before. A fleet has many lines and few different ones, and hosts write theirs alike
     * from report to report: most are found here, word for word. It is emptied when it is full, which a fleet does not
     * do by itself.
     */
    private static final Map<String, ProductLine> KNOWN_LINES = new ConcurrentHashMap<>();

    /** @param origin address of the source in whose lists it stands */
    private record ProductLine(InstalledProduct product, Optional<String> origin) {}

    private static final int MOST_KNOWN_LINES = 100_000;
    private static final int LONGEST_KNOWN_LINE = 300;

    private final List<HostReport> reports = new ArrayList<>();
    private final Map<HostName, List<HostReport.Event>> loose = new LinkedHashMap<>();
    private final List<Problem> problems = new ArrayList<>();
    private final Set<HostName> names = new HashSet<>();
    /** A fleet has few distinct products on many hosts: each package URL is read once. */
    private final Map<String, ProductBuild> builds = new HashMap<>();

    /** The host whose lines are being read, without its products; null between hosts. */
    private HostReport open;

    private int openedAt;
    /** True after a host line that was refused: its other lines are passed over. */
    private boolean skipping;

    private final List<InstalledProduct> products = new ArrayList<>();
    private final List<HostReport.Event> events = new ArrayList<>();
    private final List<PackageChange> changes = new ArrayList<>();
    private final Map<String, Integer> cameFrom = new HashMap<>();
    private final List<PackageLists.Newer> newer = new ArrayList<>();
    /** When the open host fetched its lists; none if it tells nothing of them. */
    private Optional<Instant> listsAt = Optional.empty();

    private InventoryReader() {}

    /** @throws RefusedDocumentException if not a single host can be taken */
    static ReadDocument read(String text) {
        InventoryReader reader = new InventoryReader();
        int number = 0;
        for (String line : (Iterable<String>) text.lines()::iterator) {
            number++;
            ProductLine known = KNOWN_LINES.get(line);
            if (known != null && reader.open != null && reader.products.size() < MOST_PRODUCTS) {
                reader.add(known);
            } else if (!line.isBlank()) {
                reader.take(number, line);
            }
        }
        reader.cutOff(number, "the document ends");
        if (reader.reports.isEmpty() && reader.loose.isEmpty()) {
            throw new RefusedDocumentException(reader.problems);
        }
        List<HostEvents> loose = reader.loose.entrySet().stream()
                .map(e -> new HostEvents(e.getKey(), List.copyOf(e.getValue())))
                .toList();
        return new ReadDocument(
                Format.INVENTORY,
                new Content.OfInventory(List.copyOf(reader.reports), loose),
                List.copyOf(reader.problems));
    }

    private void take(int number, String line) {
        try {
            if (line.length() > LONGEST_LINE) {
                throw new RefusedDocumentException("", "the line is longer than " + LONGEST_LINE + " characters");
            }
            JsonPlace place = JsonPlace.root(JSON.readTree(line));
            switch (place.get("t").line()) {
                case "host" -> open(number, place);
                case "product" -> product(line, place);
                case "available" -> available(place);
                case "outcome" -> outcome(place);
                case "change" -> change(place);
                case "end" -> end(number, place);
                default -> {}
            }
        } catch (JacksonException e) {
            problems.add(new Problem("line " + number, "this is not valid JSON: " + e.getOriginalMessage()));
        } catch (RefusedDocumentException e) {
            e.problems()
                    .forEach(p -> problems.add(new Problem(("line " + number + " " + p.place()).strip(), p.reason())));
        }
    }

    private void open(int number, JsonPlace place) {
        cutOff(number, "the next host begins");
        products.clear();
        events.clear();
        changes.clear();
        cameFrom.clear();
        newer.clear();
        skipping = true;
        open = report(place);
        listsAt =
                place.get("listsAt").exists() ? Optional.of(place.get("listsAt").instant()) : Optional.empty();
        skipping = false;
        openedAt = number;
    }

    private void cutOff(int number, String where) {
        if (open != null) {
            problems.add(new Problem(
                    "line " + number,
                    "the report of " + open.name() + " from line " + openedAt + " was cut off: " + where
                            + " without its end"));
            open = null;
        }
    }

    private void product(String line, JsonPlace place) {
        if (skipping) {
            return;
        }
        if (open == null) {
            throw place.refused("this product belongs to no host");
        }
        if (products.size() >= MOST_PRODUCTS) {
            throw tooMuch(place, MOST_PRODUCTS + " products");
        }
        JsonPlace origin = place.get("origin");
        ProductLine product =
                new ProductLine(product(place), origin.exists() ? Optional.of(origin.line()) : Optional.empty());
        add(product);
        if (line.length() <= LONGEST_KNOWN_LINE) {
            if (KNOWN_LINES.size() >= MOST_KNOWN_LINES) {
                KNOWN_LINES.clear();
            }
            KNOWN_LINES.put(line, product);
        }
    }

    private void add(ProductLine line) {
        products.add(line.product());
        line.origin()
                .filter(source -> cameFrom.size() < MOST_SOURCES || cameFrom.containsKey(source))
                .ifPresent(source -> cameFrom.merge(source, 1, Integer::sum));
    }

    private InstalledProduct product(JsonPlace place) {
        ProductBuild build = build(place);
        String version = place.get("version").as(build.product().ordering()::require);
        return new InstalledProduct(build, version, source(place, build, version));
    }

    /** A higher version in the lists of the open host's package manager. */
    private void available(JsonPlace place) {
        if (skipping) {
            return;
        }
        if (open == null) {
            throw place.refused("this version belongs to no host");
        }
        if (listsAt.isEmpty()) {
            throw place.refused(
                    "a version is available, but the host does not tell when it fetched its lists (listsAt)");
        }
        if (newer.size() >= MOST_PRODUCTS) {
            throw tooMuch(place, MOST_PRODUCTS + " available versions");
        }
        newer.add(new PackageLists.Newer(
                product(place), place.get("candidate").node().asBoolean(false)));
    }

    /** The source package that it was built from; where only one of name and version is told, the other is its own. */
    private static Optional<InstalledProduct.SourcePackage> source(
            JsonPlace place, ProductBuild build, String version) {
        JsonPlace name = place.get("source");
        JsonPlace of = place.get("sourceVersion");
        return name.exists() || of.exists()
                ? Optional.of(new InstalledProduct.SourcePackage(
                        name.exists() ? name.line() : build.product().name(),
                        of.exists() ? of.as(build.product().ordering()::require) : version))
                : Optional.empty();
    }

    /** Refuses the whole host: what is left of it would look as if the rest were not installed. */
    private RefusedDocumentException tooMuch(JsonPlace place, String limit) {
        RefusedDocumentException refused = place.refused(
                "the report of " + open.name() + " has more than " + limit + ", which no host has; it is refused");
        open = null;
        skipping = true;
        return refused;
    }

    private ProductBuild build(JsonPlace place) {
        String purl = place.get("purl").line();
        ProductBuild build = builds.get(purl);
        if (build == null) {
            build = place.get("purl").as(PackageReference::parse).build();
            builds.put(purl, build);
        }
        return build;
    }

    /** What the log of the open host's package system tells. */
    private void change(JsonPlace place) {
        if (skipping) {
            return;
        }
        if (open == null) {
            throw place.refused("this change belongs to no host");
        }
        if (changes.size() >= MOST_EVENTS) {
            throw tooMuch(place, MOST_EVENTS + " changes");
        }
        ProductBuild build = build(place);
        changes.add(new PackageChange(
                build,
                place.get("what").as(word -> word(PackageChange.What.class, word)),
                version(place.get("from"), build),
                version(place.get("to"), build),
                place.get("at").instant(),
                place.get("code").exists() ? Optional.of(place.get("code").line()) : Optional.empty()));
    }

    private static Optional<String> version(JsonPlace place, ProductBuild build) {
        return place.exists() ? Optional.of(place.as(build.product().ordering()::require)) : Optional.empty();
    }

    /** What happened to an update: of the open host, or of a host that the line names between hosts. */
    private void outcome(JsonPlace place) {
        if (skipping) {
            return;
        }
        HostReport.Event event = new HostReport.Event(
                new UpdateId(place.get("update").identifier()),
                place.get("revision").exists()
                        ? Optional.of(place.get("revision").line())
                        : Optional.empty(),
                place.get("what").as(word -> word(Outcome.What.class, word)),
                place.get("at").instant(),
                place.get("code").exists() ? Optional.of(place.get("code").line()) : Optional.empty(),
                place.get("class").exists()
                        ? Optional.of(place.get("class").as(word -> word(FailureClass.class, word)))
                        : Optional.empty());
        if (open == null) {
            loose.computeIfAbsent(place.get("host").host(), host -> new ArrayList<>())
                    .add(event);
        } else if (events.size() >= MOST_EVENTS) {
            throw tooMuch(place, MOST_EVENTS + " outcomes");
        } else {
            events.add(event);
        }
    }

    private static <T extends Enum<T>> T word(Class<T> type, String word) {
        return Arrays.stream(type.getEnumConstants())
                .filter(value -> value.name().toLowerCase(Locale.ROOT).equals(word))
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException("'" + word + "' is none of "
                        + Arrays.toString(type.getEnumConstants()).toLowerCase(Locale.ROOT)));
    }

    private void end(int number, JsonPlace place) {
        if (skipping) {
            skipping = false;
            return;
        }
        if (open == null) {
            throw place.refused("this end belongs to no host");
        }
        HostReport host = open;
        open = null;
        int lines = number - openedAt;
        if (place.get("lines").node().asInt(-1) != lines) {
            throw place.get("lines")
                    .refused("the report of " + host.name() + " has " + lines + " lines, but its end counts "
                            + place.get("lines").node().asString("none") + ": something is missing");
        }
        if (!names.add(host.name())) {
            throw place.refused(host.name() + " stands twice in this document; the first one is taken");
        }
        reports.add(new HostReport(
                host.name(),
                host.platform(),
                host.at(),
                host.traits(),
                List.copyOf(products),
                host.supply(),
                host.lastStart(),
                List.copyOf(events),
                List.copyOf(changes),
                listsAt.map(fetched -> new PackageLists(fetched, newer, cameFrom))));
    }

    /** What a host line says; its products follow. */
    private static HostReport report(JsonPlace host) {
        JsonPlace lastStart = host.get("lastStart");
        return new HostReport(
                host.get("host").host(),
                host.get("platform").line(),
                host.get("at").instant(),
                traits(host.get("traits")),
                List.of(),
                host.get("supply").exists() ? Optional.of(host.get("supply").line()) : Optional.empty(),
                lastStart.exists() ? Optional.of(lastStart.instant()) : Optional.empty(),
                List.of());
    }

    private static Map<String, Trait> traits(JsonPlace object) {
        Map<String, Trait> traits = new HashMap<>();
        if (object.node().size() > MOST_TRAITS) {
            throw object.refused("a host has at most " + MOST_TRAITS + " traits");
        }
        for (String name : object.node().propertyNames()) {
            requireTraitName(object, name);
            JsonNode value = object.node().get(name);
            if (value.isNumber()) {
                traits.put(name, number(object.get(name)));
            } else if (value.isBoolean()) {
                traits.put(name, new Trait.Truth(value.booleanValue()));
            } else {
                traits.put(name, new Trait.Text(object.get(name).line()));
            }
        }
        return traits;
    }

    private static void requireTraitName(JsonPlace object, String name) {
        try {
            if (name.isBlank()
                    || name.length() > LONGEST_TRAIT_NAME
                    || !Texts.line(name).equals(name)) {
                throw new IllegalArgumentException(
                        "has 1 to " + LONGEST_TRAIT_NAME + " characters, composed, without blanks at its ends");
            }
        } catch (IllegalArgumentException e) {
            throw object.refused("the name of a trait " + e.getMessage());
        }
    }

    private static Trait number(JsonPlace value) {
        try {
            return new Trait.Number(value.node().decimalValue());
        } catch (IllegalArgumentException e) {
            throw value.refused(e.getMessage());
        }
    }
}
