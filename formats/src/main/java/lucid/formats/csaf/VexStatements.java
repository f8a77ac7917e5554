package lucid.formats.csaf;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.VendorStatement;
import lucid.formats.document.JsonPlace;

/**
 * What a vulnerability says of products beside affected and fixed (CSAF 2.0 sections 3.2.3.9 and 4.5): known not
 * affected, with the justification of its flags or impact threats; under investigation; recommended.
 */
final class VexStatements {

    private static final Map<String, VendorStatement.Type> LISTS = Map.of(
            "known_not_affected",
            VendorStatement.Type.NOT_AFFECTED,
            "under_investigation",
            VendorStatement.Type.UNDER_INVESTIGATION,
            "recommended",
            VendorStatement.Type.RECOMMENDED);

    private VexStatements() {}

    static List<VendorStatement> of(JsonPlace place, String vulnerability, ProductTree products) {
        Map<String, String> words = new HashMap<>();
        collect(place.get("threats"), "details", "impact", products, words);
        collect(place.get("flags"), "label", "", products, words);
        List<VendorStatement> statements = new ArrayList<>();
        LISTS.forEach(
                (list, type) -> place.get("product_status").get(list).items().forEach(id -> {
                    ProductTree.Entry entry = products.entry(id);
                    String product = entry.reference()
                            .map(reference -> reference.build().product().name())
                            .orElse(entry.name());
                    String why = type == VendorStatement.Type.NOT_AFFECTED
                            ? Optional.ofNullable(words.get(id.line())).orElse(words.getOrDefault("", ""))
                            : "";
                    statements.add(new VendorStatement(
                            type,
                            vulnerability,
                            product,
                            entry.reference().map(reference -> reference.build()),
                            entry.version(),
                            why));
                }));
        return statements;
    }

    /** Words by product id; under the empty id what is said of no product in particular. */
    private static void collect(
            JsonPlace list, String text, String category, ProductTree products, Map<String, String> words) {
        for (JsonPlace item : list.items()) {
            if (category.isEmpty() || item.get("category").line().equals(category)) {
                products.requireDefined(item);
                String said = item.get(text).text().replace('_', ' ');
                if (!item.get("product_ids").exists()) {
                    words.put("", said);
                }
                item.get("product_ids").items().forEach(id -> words.put(id.line(), said));
            }
        }
    }
}
