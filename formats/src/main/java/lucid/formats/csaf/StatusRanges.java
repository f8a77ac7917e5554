package lucid.formats.csaf;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.ProductBuild;
import lucid.core.version.VersionOrdering;
import lucid.formats.JsonPlace;
import lucid.formats.Problem;

/**
 * Turns the product status of a document's vulnerabilities (CSAF 2.0 section 3.2.3.9) into fixes: a version range among the
 * affected products is taken as it is; a fixed version without one means everything below it; an affected version
 * without any fixed one means everything up to it, with nothing to install.
 */
final class StatusRanges {

    private static final class Statements {
        final Set<AffectedRange> ranges = new LinkedHashSet<>();
        final Set<String> fixed = new LinkedHashSet<>();
        final Set<String> affected = new LinkedHashSet<>();
        JsonPlace place;
    }

    private final ProductTree products;
    private final List<Problem> problems;
    private final Map<ProductBuild, Statements> statements = new TreeMap<>();

    StatusRanges(ProductTree products, List<Problem> problems) {
        this.products = products;
        this.problems = problems;
    }

    void add(JsonPlace status) {
        for (String list : List.of("fixed", "first_fixed", "known_affected", "first_affected", "last_affected")) {
            status.get(list).items().forEach(id -> add(id, list.contains("fixed")));
        }
    }

    private void add(JsonPlace id, boolean fixed) {
        ProductTree.Entry entry = products.entry(id);
        if (entry.reference().isEmpty()) {
            Problem problem = new Problem(entry.place().pointer(), "left out: without a package URL no host can be found that has this product");
            if (!problems.contains(problem)) {
                problems.add(problem);
            }
            return;
        }
        Statements of = statements.computeIfAbsent(entry.reference().get().build(), build -> new Statements());
        of.place = id;
        if (!fixed) {
            of.ranges.addAll(entry.ranges());
        }
        entry.reference().get().version().ifPresent((fixed ? of.fixed : of.affected)::add);
    }

    List<Fix> fixes() {
        List<Fix> fixes = new ArrayList<>();
        statements.forEach((build, of) -> {
            try {
                List<AffectedRange> ranges = ranges(of, build.product().ordering());
                if (!ranges.isEmpty()) {
                    fixes.add(new Fix(build, ranges));
                }
            } catch (IllegalArgumentException e) {
                throw of.place.refused(build + ": " + e.getMessage());
            }
        });
        return fixes;
    }

    private static List<AffectedRange> ranges(Statements of, VersionOrdering ordering) {
        if (of.ranges.isEmpty() && of.fixed.isEmpty()) {
            return of.affected.stream().max(ordering).map(AffectedRange::upTo).stream().toList();
        }
        if (of.ranges.isEmpty()) {
            // Several weaknesses of one product: who has the last fix has them all.
            return List.of(AffectedRange.below(of.fixed.stream().max(ordering).orElseThrow()));
        }
        return of.ranges.stream().map(range -> closed(range, of.fixed, ordering)).toList();
    }

    /** A range without an end ends at the first fixed version above its beginning, if there is one. */
    private static AffectedRange closed(AffectedRange range, Set<String> fixed, VersionOrdering ordering) {
        if (range.end().isPresent()) {
            return range;
        }
        return fixed.stream()
                .filter(version -> range.introduced().isEmpty() || ordering.compare(version, range.introduced().get()) > 0)
                .min(ordering)
                .map(version -> new AffectedRange(range.introduced(), Optional.of(version), false))
                .orElse(range);
    }
}
