package lucid.formats.csaf;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.AffectedRange;
import lucid.core.update.PackageReference;
import lucid.formats.JsonPlace;

/** The products that a CSAF document defines (section 3.2.2), by product id. */
final class ProductTree {

    /**
     * @param reference its package URL, where it has one
     * @param ranges affected ranges of a version range branch; empty for a single version
     */
    record Entry(Optional<PackageReference> reference, List<AffectedRange> ranges, JsonPlace place) {}

    private final Map<String, Entry> entries = new HashMap<>();

    ProductTree(JsonPlace tree) {
        tree.get("full_product_names").items().forEach(product -> define(product, List.of()));
        tree.get("branches").items().forEach(this::branch);
        tree.get("relationships").items().forEach(this::relationship);
    }

    /** @throws lucid.formats.RefusedDocumentException at {@code id}, if the tree defines no such product */
    Entry entry(JsonPlace id) {
        Entry entry = entries.get(id.line());
        if (entry == null) {
            throw id.refused("the product tree defines no product '" + id.line() + "'");
        }
        return entry;
    }

    private void branch(JsonPlace branch) {
        branch.get("branches").items().forEach(this::branch);
        if (branch.get("product").exists()) {
            boolean range = branch.get("category").line().equals("product_version_range");
            define(branch.get("product"), range ? branch.get("name").as(VersRange::parse) : List.of());
        }
    }

    private void define(JsonPlace product, List<AffectedRange> ranges) {
        JsonPlace purl = product.get("product_identification_helper").get("purl");
        Optional<PackageReference> reference = purl.exists() ? Optional.of(purl.as(PackageReference::parse)) : Optional.empty();
        put(product, new Entry(reference, ranges, product));
    }

    /** A product as part of another: what is installed is the part. */
    private void relationship(JsonPlace relationship) {
        Entry part = entry(relationship.get("product_reference"));
        entry(relationship.get("relates_to_product_reference"));
        JsonPlace product = relationship.get("full_product_name");
        JsonPlace purl = product.get("product_identification_helper").get("purl");
        Optional<PackageReference> own = purl.exists() ? Optional.of(purl.as(PackageReference::parse)) : part.reference();
        put(product, new Entry(own, part.ranges(), product));
    }

    private void put(JsonPlace product, Entry entry) {
        if (entries.put(product.get("product_id").line(), entry) != null) {
            throw product.get("product_id").refused("the product '" + product.get("product_id").line() + "' is defined twice");
        }
    }
}
