package lucid.server.hosts;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.fleet.Absence;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.PackageLists;
import lucid.core.fleet.Trait;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** How lists of facts about a host are written into one column, and read again as they were. */
public final class HostColumns {

    private static final JsonMapper JSON = JsonMapper.builder()
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .build();

    private HostColumns() {}

    /**
     * One line a product, {@code purl TAB distro TAB arch TAB version}, and {@code TAB source TAB version of the
     * source} where it was built from another one, sorted.
     */
    static String writeProducts(List<InstalledProduct> products) {
        return products.stream().map(HostColumns::writeProduct).sorted().collect(Collectors.joining("\n"));
    }

    private static String writeProduct(InstalledProduct product) {
        return String.join(
                        "\t",
                        product.build().product().purl(),
                        product.build().distro(),
                        product.build().arch(),
                        product.version())
                + product.source()
                        .map(source -> "\t" + source.name() + "\t" + source.version())
                        .orElse("");
    }

    public static List<InstalledProduct> readProducts(String text) {
        return text.lines().map(HostColumns::readProduct).toList();
    }

    private static InstalledProduct readProduct(String line) {
        String[] f = line.split("\t", -1);
        return new InstalledProduct(
                new ProductBuild(new Product(f[0]), f[1], f[2]),
                f[3],
                f.length > 4 ? Optional.of(new InstalledProduct.SourcePackage(f[4], f[5])) : Optional.empty());
    }

    private static final String CAME_FROM = "from";
    private static final String CANDIDATE = "candidate";
    private static final String KEPT_BACK = "kept back";

    /**
     * The instant at which they were fetched, then a line {@code from TAB products TAB source} for each source, and
     * {@code candidate} or {@code kept back TAB product} for each newer version.
     */
    static String writeLists(PackageLists lists) {
        return Stream.of(
                        Stream.of(lists.fetched().toString()),
                        new TreeMap<>(lists.cameFrom())
                                .entrySet().stream()
                                        .map(from -> String.join("\t", CAME_FROM, "" + from.getValue(), from.getKey())),
                        lists.newer().stream()
                                .map(newer -> (newer.candidate() ? CANDIDATE : KEPT_BACK) + "\t"
                                        + writeProduct(newer.product())))
                .flatMap(part -> part)
                .collect(Collectors.joining("\n"));
    }

    static PackageLists readLists(String text) {
        List<String> lines = text.lines().toList();
        Map<String, Integer> cameFrom = new HashMap<>();
        List<PackageLists.Newer> newer = new ArrayList<>();
        for (String line : lines.subList(1, lines.size())) {
            String[] parts = line.split("\t", 2);
            if (parts[0].equals(CAME_FROM)) {
                String[] from = parts[1].split("\t", 2);
                cameFrom.put(from[1], Integer.valueOf(from[0]));
            } else {
                newer.add(new PackageLists.Newer(readProduct(parts[1]), parts[0].equals(CANDIDATE)));
            }
        }
        return new PackageLists(Instant.parse(lines.get(0)), newer, cameFrom);
    }

    /** A JSON object. */
    static String writeTraits(Map<String, Trait> traits) {
        Map<String, Object> plain = new HashMap<>();
        traits.forEach((name, trait) -> {
            if (trait instanceof Trait.Number number) {
                plain.put(name, number.value());
            } else if (trait instanceof Trait.Truth truth) {
                plain.put(name, truth.value());
            } else {
                plain.put(name, trait.toString());
            }
        });
        return JSON.writeValueAsString(plain);
    }

    public static Map<String, Trait> readTraits(String text) {
        Map<String, Trait> traits = new HashMap<>();
        JsonNode object = JSON.readTree(text);
        for (String name : object.propertyNames()) {
            JsonNode value = object.get(name);
            traits.put(
                    name,
                    value.isNumber()
                            ? new Trait.Number(value.decimalValue())
                            : value.isBoolean()
                                    ? new Trait.Truth(value.booleanValue())
                                    : new Trait.Text(value.stringValue()));
        }
        return traits;
    }

    /** Pairs of instants, {@code from/to from/to}. */
    static String writeAbsences(List<Absence> absences) {
        return absences.stream()
                .map(absence -> absence.from() + "/" + absence.to())
                .collect(Collectors.joining(" "));
    }

    static List<Absence> readAbsences(String text) {
        return Arrays.stream(text.split(" "))
                .filter(pair -> !pair.isEmpty())
                .map(pair -> pair.split("/"))
                .map(pair -> new Absence(Instant.parse(pair[0]), Instant.parse(pair[1])))
                .toList();
    }
}
