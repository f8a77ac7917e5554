package lucid.server.hosts;

import java.time.Instant;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
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
        return products.stream()
                .map(p -> String.join(
                                "\t",
                                p.build().product().purl(),
                                p.build().distro(),
                                p.build().arch(),
                                p.version())
                        + p.source()
                                .map(source -> "\t" + source.name() + "\t" + source.version())
                                .orElse(""))
                .sorted()
                .collect(Collectors.joining("\n"));
    }

    public static List<InstalledProduct> readProducts(String text) {
        return text.lines()
                .map(line -> line.split("\t", -1))
                .map(f -> new InstalledProduct(
                        new ProductBuild(new Product(f[0]), f[1], f[2]),
                        f[3],
                        f.length > 4 ? Optional.of(new InstalledProduct.SourcePackage(f[4], f[5])) : Optional.empty()))
                .toList();
    }

    /** @param source of what was built from another source package: its name, else null */
    private record StoredNewer(
            String product,
            String distro,
            String arch,
            String version,
            String source,
            String sourceVersion,
            boolean candidate) {
        static StoredNewer of(PackageLists.Newer newer) {
            InstalledProduct product = newer.product();
            Optional<InstalledProduct.SourcePackage> source = product.source();
            return new StoredNewer(
                    product.build().product().purl(),
                    product.build().distro(),
                    product.build().arch(),
                    product.version(),
                    source.map(InstalledProduct.SourcePackage::name).orElse(null),
                    source.map(InstalledProduct.SourcePackage::version).orElse(null),
                    newer.candidate());
        }

        PackageLists.Newer newer() {
            return new PackageLists.Newer(
                    new InstalledProduct(
                            new ProductBuild(new Product(product), distro, arch),
                            version,
                            Optional.ofNullable(source)
                                    .map(name -> new InstalledProduct.SourcePackage(name, sourceVersion))),
                    candidate);
        }
    }

    private record StoredLists(Instant fetched, List<StoredNewer> newer, Map<String, Integer> cameFrom) {}

    /** A JSON object. */
    static String writeLists(PackageLists lists) {
        return JSON.writeValueAsString(new StoredLists(
                lists.fetched(), lists.newer().stream().map(StoredNewer::of).toList(), lists.cameFrom()));
    }

    static PackageLists readLists(String text) {
        StoredLists stored = JSON.readValue(text, StoredLists.class);
        return new PackageLists(
                stored.fetched(),
                stored.newer().stream().map(StoredNewer::newer).toList(),
                stored.cameFrom());
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
