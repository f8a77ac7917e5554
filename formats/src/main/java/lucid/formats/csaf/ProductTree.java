package lucid.formats.csaf;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.update.AffectedRange;
import lucid.core.update.PackageReference;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import lucid.core.update.ProductMappings;
import lucid.core.update.UnreadProduct;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.Problem;

/**
 * The products and product groups that a CSAF document defines (section 3.2.2), by their ids.
 *
 * <p>A product is known by its package URL, else by what its name is mapped to. Its version, or range of versions, is
 * that of its package URL, else of the nearest branch at or above it. What is part of another product is that part; a
 * package of a distribution keeps the release that it is part of, or installed on.
 *
 * <p>A product of which this cannot be told is kept with the reason: what the document says of it is not read.
 */
final class ProductTree {

    /** A branch that has versions as its name: of these the nearest counts. */
    private static final Set<String> VERSIONS = Set.of("product_version", "product_version_range");

    /** Branches whose names are names of products. */
    private static final Set<String> PRODUCTS = Set.of("product_name", "product_family");

    /** Words that stand in a version's place and are a range in words (test 6.1.31). */
    private static final String RANGE_IN_WORDS = ".*([<>]|\\b(after|all|before|earlier|later|prior|versions)\\b).*";

    private static final Set<String> PACKAGES = Set.of("deb", "rpm");

    /**
     * What was read of a product.
     *
     * @param builds what hosts may have: one, or several where the document names several package URLs
     * @param version of it, where it has one
     * @param ranges affected ranges of a version range branch; empty for a single version
     */
    record Read(List<ProductBuild> builds, Optional<String> version, List<AffectedRange> ranges) {

        /** Packages of one name differ from release to release; what is no package is the same everywhere. */
        private Read on(String platform) {
            return new Read(
                    builds.stream()
                            .map(build -> build.distro().isEmpty()
                                            && PACKAGES.contains(build.product().type())
                                    ? new ProductBuild(build.product(), platform, build.arch())
                                    : build)
                            .toList(),
                    version,
                    ranges);
        }
    }

    /**
     * @param vendor who published the document
     * @param name as the document calls it
     * @param names that a mapping may know it by, the nearest first
     * @param platform what it is part of, or installed on, where that has a release
     * @param read empty if it could not be told what it is, or no host here has it
     * @param unread why it could not be told; empty where it could
     */
    record Entry(
            String vendor,
            String name,
            List<String> names,
            Optional<String> cpe,
            JsonPlace place,
            Optional<String> platform,
            Optional<Read> read,
            Optional<String> unread) {

        UnreadProduct unread(String reason) {
            return new UnreadProduct(vendor, name, names, cpe, place.pointer(), reason);
        }

        List<ProductBuild> builds() {
            return read.map(Read::builds).orElse(List.of());
        }

        Optional<String> version() {
            return read.flatMap(Read::version);
        }

        private Entry partOf(Entry whole, JsonPlace product, Entry own) {
            Optional<String> release =
                    whole.platform().or(() -> Optional.of(whole.name()).filter(name -> name.matches(".*\\d.*")));
            List<String> all = Stream.concat(own.names().stream(), names.stream())
                    .distinct()
                    .toList();
            Optional<Read> itself = own.read()
                    .map(told -> new Read(
                            told.builds(),
                            told.version().or(this::version),
                            read.map(Read::ranges).orElse(List.of())))
                    .or(() -> read);
            return new Entry(
                    vendor,
                    own.name(),
                    all,
                    own.cpe().or(() -> cpe),
                    product,
                    release,
                    release.flatMap(on -> itself.map(told -> told.on(on))).or(() -> itself),
                    own.read().isPresent() ? Optional.empty() : unread);
        }
    }

    private final Map<String, Entry> entries = new HashMap<>();
    private final Map<String, List<String>> groups = new LinkedHashMap<>();
    private final String vendor;
    private final ProductMappings mappings;
    private final List<Problem> problems;

    ProductTree(JsonPlace tree, String vendor, ProductMappings mappings, List<Problem> problems) {
        this.vendor = vendor;
        this.mappings = mappings;
        this.problems = problems;
        tree.get("full_product_names").items().forEach(product -> define(product, List.of()));
        tree.get("branches").items().forEach(branch -> branch(branch, List.of()));
        relationships(tree.get("relationships").items());
        tree.get("product_groups").items().forEach(this::group);
    }

    /** @throws lucid.formats.document.RefusedDocumentException at {@code id}, if the tree defines no such product */
    Entry entry(JsonPlace id) {
        Entry entry = entries.get(id.line());
        if (entry == null) {
            throw id.refused("6.1.1: the product tree defines no product '" + id.line() + "'");
        }
        return entry;
    }

    /** What is read of the product of that id; nothing of one that is not read. */
    List<ProductBuild> builds(String id) {
        return Optional.ofNullable(entries.get(id)).map(Entry::builds).orElse(List.of());
    }

    /**
     * The ids of the products that a remediation, threat, flag or score names, itself or by a group; empty where it
     * names none.
     */
    Set<String> named(JsonPlace statement) {
        Set<String> ids = new HashSet<>();
        Stream.of("product_ids", "products")
                .forEach(list -> statement.get(list).items().forEach(id -> {
                    entry(id);
                    ids.add(id.line());
                }));
        for (JsonPlace group : statement.get("group_ids").items()) {
            List<String> members = groups.get(group.line());
            if (members == null) {
                throw group.refused("6.1.4: the product tree defines no product group '" + group.line() + "'");
            }
            ids.addAll(members);
        }
        return ids;
    }

    /** @param above branches that it stands in, the outermost first */
    private void branch(JsonPlace branch, List<JsonPlace> above) {
        List<JsonPlace> path = new ArrayList<>(above);
        path.add(branch);
        branch.get("branches").items().forEach(inner -> branch(inner, path));
        if (branch.get("product").exists()) {
            define(branch.get("product"), path);
        }
    }

    private void define(JsonPlace product, List<JsonPlace> path) {
        List<String> names = new ArrayList<>(List.of(nameOf(product)));
        Optional<JsonPlace> version = Optional.empty();
        for (int i = path.size() - 1; i >= 0; i--) {
            String category = path.get(i).get("category").exists()
                    ? path.get(i).get("category").line()
                    : "";
            if (VERSIONS.contains(category) && version.isEmpty()) {
                version = Optional.of(path.get(i));
            }
            if (PRODUCTS.contains(category)) {
                path.get(i).get("name").textIfAny().ifPresent(names::add);
            }
        }
        put(product, entry(product, names.stream().distinct().toList(), version));
    }

    private Entry entry(JsonPlace product, List<String> names, Optional<JsonPlace> version) {
        JsonPlace helper = product.get("product_identification_helper");
        Optional<String> cpe = helper.get("cpe").textIfAny();
        List<PackageReference> references = new ArrayList<>();
        Optional<String> unread = Optional.empty();
        List<JsonPlace> purls = helper.get("purl").exists()
                ? List.of(helper.get("purl"))
                : helper.get("purls").items();
        for (JsonPlace purl : purls) {
            try {
                references.add(PackageReference.parse(purl.line()));
            } catch (IllegalArgumentException e) {
                unread = Optional.of("6.1.13: " + e.getMessage());
                problems.add(new Problem(purl.pointer(), unread.get()));
            }
        }
        if (purls.isEmpty()) {
            Optional<ProductMappings.Mapped> mapped = mappings.of(vendor, names, cpe);
            mapped.flatMap(ProductMappings.Mapped::reference).ifPresent(references::add);
            unread =
                    mapped.isEmpty() ? Optional.of("it has no package URL, and its name is not mapped to one") : unread;
        }
        Optional<Read> read = Optional.empty();
        try {
            if (!references.isEmpty()) {
                read = Optional.of(read(references, version));
            }
        } catch (IllegalArgumentException e) {
            unread = Optional.of(e.getMessage());
        }
        return new Entry(vendor, names.get(0), names, cpe, product, Optional.empty(), read, unread);
    }

    /** @throws IllegalArgumentException for a version or a range that cannot be read */
    private static Read read(List<PackageReference> references, Optional<JsonPlace> branch) {
        List<ProductBuild> builds =
                references.stream().map(PackageReference::build).distinct().toList();
        Optional<String> ofUrl = references.get(0).version();
        Product product = builds.get(0).product();
        if (!product.ordering().isKnown()) {
            throw new IllegalArgumentException("versions of " + product.type() + " packages cannot be ordered here");
        }
        if (branch.isEmpty()) {
            return new Read(builds, ofUrl, List.of());
        }
        String text = branch.get().get("name").line();
        if (branch.get().get("category").line().equals("product_version_range")) {
            return new Read(builds, ofUrl, VersRange.parse(text, product.type()));
        }
        if (text.matches(RANGE_IN_WORDS)) {
            throw new IllegalArgumentException("6.1.31: '" + text + "' stands as one version and is a range");
        }
        return new Read(
                builds, Optional.of(ofUrl.orElseGet(() -> product.ordering().require(text))), List.of());
    }

    /**
     * Products as parts of others: what is installed is the part. They may be defined in any order; what is left when
     * no more can be defined is part of itself, or of what does not exist.
     */
    private void relationships(List<JsonPlace> relationships) {
        List<JsonPlace> open = new ArrayList<>(relationships);
        while (!open.isEmpty()) {
            List<JsonPlace> left = open.stream().filter(one -> !relate(one)).toList();
            if (left.size() == open.size()) {
                throw refused(left);
            }
            open = new ArrayList<>(left);
        }
    }

    private RuntimeException refused(List<JsonPlace> left) {
        Set<String> toCome = new HashSet<>();
        left.forEach(
                one -> toCome.add(one.get("full_product_name").get("product_id").line()));
        for (JsonPlace one : left) {
            for (String side : List.of("product_reference", "relates_to_product_reference")) {
                String id = one.get(side).line();
                if (!entries.containsKey(id) && !toCome.contains(id)) {
                    return one.get(side).refused("6.1.1: the product tree defines no product '" + id + "'");
                }
            }
        }
        return left.get(0)
                .get("full_product_name")
                .get("product_id")
                .refused("6.1.3: the product '"
                        + left.get(0).get("full_product_name").get("product_id").line() + "' is defined by itself");
    }

    private boolean relate(JsonPlace relationship) {
        Entry part = entries.get(relationship.get("product_reference").line());
        Entry whole =
                entries.get(relationship.get("relates_to_product_reference").line());
        if (part == null || whole == null) {
            return false;
        }
        JsonPlace product = relationship.get("full_product_name");
        put(product, part.partOf(whole, product, entry(product, List.of(nameOf(product)), Optional.empty())));
        return true;
    }

    private void group(JsonPlace group) {
        List<String> members = new ArrayList<>();
        group.get("product_ids").items().forEach(id -> {
            entry(id);
            members.add(id.line());
        });
        if (groups.put(group.get("group_id").line(), members) != null) {
            throw group.get("group_id")
                    .refused(
                            "6.1.5: the product group '" + group.get("group_id").line() + "' is defined twice");
        }
    }

    private static String nameOf(JsonPlace product) {
        return product.get("name").textIfAny().orElseGet(() -> product.get("product_id")
                .line());
    }

    private void put(JsonPlace product, Entry entry) {
        if (entries.put(product.get("product_id").line(), entry) != null) {
            throw product.get("product_id")
                    .refused("6.1.2: the product '" + product.get("product_id").line() + "' is defined twice");
        }
    }
}
