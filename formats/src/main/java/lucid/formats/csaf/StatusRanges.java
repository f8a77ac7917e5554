package lucid.formats.csaf;

import java.util.ArrayList;
import java.util.Comparator;
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
import lucid.formats.document.JsonPlace;
import lucid.formats.document.Problem;

/**
 * Turns the product status of a document's vulnerabilities (CSAF 2.0 section 3.2.3.9) into fixes. In this order, the
 * first that is there:
 *
 * <ul>
 *   <li>a version range among the affected products is taken as it is; one without an end ends at the first fixed
 *       version above its beginning;
 *   <li>a first affected version opens a range that ends at the next fixed version above it, else with the next last
 *       affected one;
 *   <li>fixed versions alone: everything below is affected. Several for one vulnerability are tracks: each reaches from
 *       the lowest version that is said to be affected above the fix before it, else from behind that fix;
 *   <li>affected versions alone mean everything up to the highest, with nothing to install.
 * </ul>
 *
 * Each vulnerability is taken by itself; what several affect together is the union, so who has the last fix of a track
 * has them all.
 */
final class StatusRanges {

    private static final List<String> FIXED = List.of("fixed", "first_fixed");
    private static final List<String> AFFECTED = List.of("known_affected", "last_affected");

    /** What one vulnerability says of one product. */
    private static final class Statements {
        final Set<AffectedRange> ranges = new LinkedHashSet<>();
        final Set<String> fixed = new LinkedHashSet<>();
        final Set<String> affected = new LinkedHashSet<>();
        final Set<String> first = new LinkedHashSet<>();
        boolean everyVersion;
        JsonPlace place;

        /** Affected ranges by themselves; empty if only fixed versions are told. */
        List<AffectedRange> own(VersionOrdering ordering) {
            if (!ranges.isEmpty()) {
                return ranges.stream()
                        .map(range -> range.end().isPresent()
                                ? range
                                : closed(range.introduced(), range.afterIntroduced(), Set.of(), ordering))
                        .toList();
            }
            if (!first.isEmpty()) {
                return first.stream()
                        .map(version -> closed(Optional.of(version), false, affected, ordering))
                        .toList();
            }
            if (!fixed.isEmpty()) {
                return List.of();
            }
            return everyVersion
                    ? List.of(new AffectedRange(Optional.empty(), Optional.empty(), false))
                    : affected.stream().max(ordering).map(AffectedRange::upTo).stream()
                            .toList();
        }

        /**
         * From a beginning to the first fixed version above it, else with the first last affected one, else without
         * end.
         */
        private AffectedRange closed(
                Optional<String> introduced, boolean after, Set<String> lastAffected, VersionOrdering ordering) {
            Optional<String> end = fixed.stream()
                    .filter(version -> introduced.isEmpty() || ordering.compare(version, introduced.get()) > 0)
                    .min(ordering);
            if (end.isPresent()) {
                return new AffectedRange(introduced, after, end, false);
            }
            Optional<String> last = lastAffected.stream()
                    .filter(version -> introduced.isEmpty() || ordering.compare(version, introduced.get()) >= 0)
                    .min(ordering);
            return new AffectedRange(introduced, after, last, last.isPresent());
        }
    }

    private final ProductTree products;
    private final List<Problem> problems;
    private final Map<ProductBuild, List<Statements>> statements = new TreeMap<>();

    StatusRanges(ProductTree products, List<Problem> problems) {
        this.products = products;
        this.problems = problems;
    }

    /** Takes the status lists of one vulnerability. */
    void add(JsonPlace status) {
        Map<ProductBuild, Statements> here = new TreeMap<>();
        for (String list : FIXED) {
            status.get(list).items().forEach(id -> statement(id, here).ifPresent(of -> version(id)
                    .ifPresentOrElse(
                            of.fixed::add,
                            () -> problems.add(new Problem(
                                    id.pointer(),
                                    "left out: without a version it cannot be told from when on it is fixed")))));
        }
        status.get("first_affected").items().forEach(id -> statement(id, here)
                .ifPresent(of -> version(id).ifPresent(of.first::add)));
        for (String list : AFFECTED) {
            status.get(list).items().forEach(id -> statement(id, here).ifPresent(of -> affected(id, of)));
        }
        here.forEach((build, of) ->
                statements.computeIfAbsent(build, b -> new ArrayList<>()).add(of));
    }

    private void affected(JsonPlace id, Statements of) {
        ProductTree.Entry entry = products.entry(id);
        of.ranges.addAll(entry.ranges());
        if (entry.ranges().isEmpty()) {
            entry.version().ifPresentOrElse(of.affected::add, () -> of.everyVersion = true);
        }
    }

    private Optional<String> version(JsonPlace id) {
        return products.entry(id).version();
    }

    private Optional<Statements> statement(JsonPlace id, Map<ProductBuild, Statements> here) {
        ProductTree.Entry entry = products.entry(id);
        if (entry.reference().isEmpty()) {
            Problem problem = new Problem(
                    entry.place().pointer(),
                    "left out: without a package URL no host can be found that has this product");
            if (!problems.contains(problem)) {
                problems.add(problem);
            }
            return Optional.empty();
        }
        Statements of = here.computeIfAbsent(entry.reference().get().build(), build -> new Statements());
        of.place = id;
        return Optional.of(of);
    }

    List<Fix> fixes() {
        List<Fix> fixes = new ArrayList<>();
        statements.forEach(
                (build, vulnerabilities) -> fix(build, vulnerabilities).ifPresent(fixes::add));
        return fixes;
    }

    private static Optional<Fix> fix(ProductBuild build, List<Statements> vulnerabilities) {
        VersionOrdering ordering = build.product().ordering();
        List<List<AffectedRange>> ranges = new ArrayList<>();
        List<Set<String>> onlyFixed = new ArrayList<>();
        Set<String> affected = new LinkedHashSet<>();
        for (Statements of : vulnerabilities) {
            List<AffectedRange> own = of.own(ordering);
            if (!own.isEmpty()) {
                requireSound(build, own, of.place);
                ranges.add(own);
            } else if (!of.fixed.isEmpty()) {
                onlyFixed.add(of.fixed);
                affected.addAll(of.affected);
            }
        }
        if (ranges.isEmpty()) {
            List<String> ends = ends(onlyFixed, ordering);
            return ends.isEmpty() ? Optional.empty() : Optional.of(new Fix(build, tracks(ends, affected, ordering)));
        }
        // A vulnerability of which only fixed versions are told: who is in the track of one must have that as well.
        Fix whole = Fix.ofVulnerabilities(build, ranges);
        onlyFixed.stream().flatMap(Set::stream).forEach(version -> whole.trackOf(version)
                .filter(track -> track.end().isPresent())
                .ifPresent(track -> ranges.add(List.of(
                        new AffectedRange(track.introduced(), track.afterIntroduced(), Optional.of(version), false)))));
        return Optional.of(Fix.ofVulnerabilities(build, ranges));
    }

    private static void requireSound(ProductBuild build, List<AffectedRange> ranges, JsonPlace place) {
        try {
            new Fix(build, ranges);
        } catch (IllegalArgumentException e) {
            throw place.refused(build + ": " + e.getMessage());
        }
    }

    /**
     * The fixed version of each track, ascending. The vulnerability that is fixed in most versions tells the tracks.
     */
    private static List<String> ends(List<Set<String>> fixed, VersionOrdering ordering) {
        List<List<String>> ascending = fixed.stream()
                .map(versions -> versions.stream().sorted(ordering).toList())
                .toList();
        List<String> ends = new ArrayList<>(
                ascending.stream().max(Comparator.comparingInt(List::size)).orElse(List.of()));
        for (List<String> versions : ascending) {
            for (int i = 0; i < versions.size(); i++) {
                String version = versions.get(i);
                int track = versions.size() == ends.size() ? i : trackOf(version, ends, ordering);
                if (ordering.compare(version, ends.get(track)) > 0) {
                    ends.set(track, version);
                }
            }
        }
        return ends;
    }

    /** The first track whose end is not below the version, else the last. */
    private static int trackOf(String version, List<String> ends, VersionOrdering ordering) {
        int track = 0;
        while (track < ends.size() - 1 && ordering.compare(ends.get(track), version) < 0) {
            track++;
        }
        return track;
    }

    private static List<AffectedRange> tracks(List<String> fixed, Set<String> affected, VersionOrdering ordering) {
        List<AffectedRange> tracks = new ArrayList<>(List.of(AffectedRange.below(fixed.get(0))));
        for (int i = 1; i < fixed.size(); i++) {
            String before = fixed.get(i - 1);
            String end = fixed.get(i);
            Optional<String> lowest = affected.stream()
                    .filter(a -> ordering.compare(a, before) > 0 && ordering.compare(a, end) < 0)
                    .min(ordering);
            tracks.add(
                    new AffectedRange(lowest.or(() -> Optional.of(before)), lowest.isEmpty(), Optional.of(end), false));
        }
        return tracks;
    }
}
