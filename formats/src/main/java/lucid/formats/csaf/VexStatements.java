package lucid.formats.csaf;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.update.ProductBuild;
import lucid.core.update.VendorStatement;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.Problem;

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

    /** Justifications; other flags justify nothing. */
    private static final Set<String> JUSTIFY = Set.of(
            "component_not_present",
            "vulnerable_code_not_present",
            "vulnerable_code_not_in_execute_path",
            "vulnerable_code_cannot_be_controlled_by_adversary",
            "inline_mitigations_already_exist");

    /** Under this id stands what is said of no product in particular. */
    private static final String ALL = "";

    private VexStatements() {}

    static List<VendorStatement> of(
            JsonPlace place, String vulnerability, ProductTree products, List<Problem> problems) {
        Map<String, String> words = impacts(place, products);
        words.putAll(justifications(place, products, problems));
        return LISTS.entrySet().stream()
                .sorted(Map.Entry.comparingByKey())
                .flatMap(list -> place.get("product_status").get(list.getKey()).items().stream()
                        .flatMap(id -> {
                            String why = list.getValue() == VendorStatement.Type.NOT_AFFECTED
                                    ? Optional.ofNullable(words.get(id.line())).orElse(words.getOrDefault(ALL, ""))
                                    : "";
                            if (list.getValue() == VendorStatement.Type.NOT_AFFECTED && why.isEmpty()) {
                                problems.add(
                                        new Problem(
                                                id.pointer(),
                                                "6.1.27.9: '" + id.line()
                                                        + "' is said not to be affected without saying why; it is shown and does not count by itself"));
                            }
                            return statements(list.getValue(), vulnerability, products.entry(id), why);
                        }))
                .toList();
    }

    private static Stream<VendorStatement> statements(
            VendorStatement.Type type, String vulnerability, ProductTree.Entry entry, String why) {
        // What is said of a range is said of no single version, and not of all.
        boolean ofOneVersionOrAll =
                entry.read().filter(read -> read.ranges().isEmpty()).isPresent();
        List<Optional<ProductBuild>> builds =
                ofOneVersionOrAll ? entry.builds().stream().map(Optional::of).toList() : List.of(Optional.empty());
        return builds.stream()
                .map(build -> new VendorStatement(
                        type,
                        vulnerability,
                        build.map(b -> b.product().name()).orElse(entry.name()),
                        build,
                        entry.version(),
                        why));
    }

    private static Map<String, String> impacts(JsonPlace place, ProductTree products) {
        Map<String, String> words = new HashMap<>();
        for (JsonPlace threat : place.get("threats").items()) {
            if (threat.get("category").line().equals("impact")) {
                Set<String> named = products.named(threat);
                (named.isEmpty() ? Set.of(ALL) : named)
                        .forEach(id -> words.put(id, threat.get("details").text()));
            }
        }
        return words;
    }

    private static Map<String, String> justifications(JsonPlace place, ProductTree products, List<Problem> problems) {
        Map<String, List<JsonPlace>> flags = new HashMap<>();
        for (JsonPlace flag : place.get("flags").items()) {
            Set<String> named = products.named(flag);
            if (named.isEmpty()) {
                problems.add(new Problem(flag.pointer(), "6.1.32: this flag names no product; it justifies nothing"));
            }
            if (JUSTIFY.contains(flag.get("label").line())) {
                named.forEach(id -> flags.merge(id, List.of(flag), (a, b) -> Stream.concat(a.stream(), b.stream())
                        .toList()));
            }
        }
        flags.entrySet().stream()
                .filter(of -> of.getValue().size() > 1)
                .sorted(Map.Entry.comparingByKey())
                .forEach(of -> problems.add(new Problem(
                        of.getValue().get(1).pointer(),
                        "6.1.33: '" + of.getKey() + "' has more than one justification; none counts")));
        return flags.entrySet().stream()
                .filter(of -> of.getValue().size() == 1)
                .collect(Collectors.toMap(
                        Map.Entry::getKey,
                        of -> of.getValue().get(0).get("label").line().replace('_', ' ')));
    }
}
