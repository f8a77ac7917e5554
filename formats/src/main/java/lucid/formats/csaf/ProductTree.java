package lucid.formats.csaf;

import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.update.AffectedRange;
import lucid.core.update.PackageReference;
import lucid.formats.document.JsonPlace;

/** The products and product groups that a CSAF document defines (section 3.2.2), by their ids. */
final class ProductTree {

    /**
     * @param name as the document calls it
     * @param reference its package URL, where it has one
     * @param version of it: from the package URL, else from the branch that names a version
     * @param ranges affected ranges of a version range branch; empty for a single version
     */
    record Entry(
            String name,
            Optional<PackageReference> reference,
            Optional<String> version,
            List<AffectedRange> ranges,
            JsonPlace place) {}

    private final Map<String, Entry> entries = new HashMap<>();
    private final Set<String> groups = new HashSet<>();

    ProductTree(JsonPlace tree) {
        tree.get("full_product_names").items().forEach(product -> define(product, Optional.empty()));
        tree.get("branches").items().forEach(this::branch);
        tree.get("relationships").items().forEach(this::relationship);
        tree.get("product_groups").items().forEach(this::group);
    }

    /** @throws lucid.formats.document.RefusedDocumentException at {@code id}, if the tree defines no such product */
    Entry entry(JsonPlace id) {
        Entry entry = entries.get(id.line());
        if (entry == null) {
            throw id.refused("the product tree defines no product '" + id.line() + "'");
        }
        return entry;
    }

    /**
     * Checks the products and groups that a remediation, threat or flag names; what they say is taken for the whole
     * document.
     */
    void requireDefined(JsonPlace statement) {
        statement.get("product_ids").items().forEach(this::entry);
        for (JsonPlace group : statement.get("group_ids").items()) {
            if (!groups.contains(group.line())) {
                throw group.refused("the product tree defines no product group '" + group.line() + "'");
            }
        }
    }

    private void branch(JsonPlace branch) {
        branch.get("branches").items().forEach(this::branch);
        if (branch.get("product").exists()) {
            define(branch.get("product"), Optional.of(branch));
        }
    }

    private void define(JsonPlace product, Optional<JsonPlace> branch) {
        Optional<PackageReference> reference = packageUrl(product);
        Optional<JsonPlace> name = reference.isEmpty() ? Optional.empty() : branch.map(b -> b.get("name"));
        String category = branch.map(b -> b.get("category").line()).orElse("");
        Optional<String> packageType = reference.map(r -> r.build().product().type());
        List<AffectedRange> ranges = category.equals("product_version_range") && name.isPresent()
                ? name.get().as(text -> VersRange.parse(text, packageType.orElseThrow()))
                : List.of();
        Optional<String> version = reference.flatMap(PackageReference::version).or(() -> name.filter(
                        n -> category.equals("product_version"))
                .map(n -> n.as(reference.orElseThrow().build().product().ordering()::require)));
        put(product, new Entry(nameOf(product), reference, version, ranges, product));
    }

    /** A product as part of another: what is installed is the part. */
    private void relationship(JsonPlace relationship) {
        Entry part = entry(relationship.get("product_reference"));
        entry(relationship.get("relates_to_product_reference"));
        JsonPlace product = relationship.get("full_product_name");
        Optional<PackageReference> own = packageUrl(product);
        put(
                product,
                own.isEmpty()
                        ? new Entry(nameOf(product), part.reference(), part.version(), part.ranges(), product)
                        : new Entry(
                                nameOf(product), own, own.get().version().or(part::version), part.ranges(), product));
    }

    private void group(JsonPlace group) {
        group.get("product_ids").items().forEach(this::entry);
        groups.add(group.get("group_id").line());
    }

    private static Optional<PackageReference> packageUrl(JsonPlace product) {
        JsonPlace purl = product.get("product_identification_helper").get("purl");
        return purl.exists() ? Optional.of(purl.as(PackageReference::parse)) : Optional.empty();
    }

    private static String nameOf(JsonPlace product) {
        return product.get("name").optionalText().orElseGet(() -> product.get("product_id")
                .line());
    }

    private void put(JsonPlace product, Entry entry) {
        if (entries.put(product.get("product_id").line(), entry) != null) {
            throw product.get("product_id")
                    .refused("the product '" + product.get("product_id").line() + "' is defined twice");
        }
    }
}
