package lucid.formats.csaf;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.ProductBuild;
import lucid.core.update.ReadFrom;
import lucid.core.update.UnreadProduct;
import lucid.core.version.VersionOrdering;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.Problem;

/**
 * Turns the product status of a document's vulnerabilities (CSAF 2.0 section 3.2.3.9) into fixes. In this order, the
 * first that is there:
 *
 * <ul>
 *   <li>a version range among the affected products is taken as it is; one that ends with its last affected version, or
 *       without an end, ends at the first fixed version above that;
 *   <li>a first affected version opens a range that ends at the next fixed version above it, else with the next last
 *       affected one;
 *   <li>fixed versions alone: everything below is affected. Of several for one vulnerability each is the fix of a
 *       {@linkplain FixedStreams stream};
 *   <li>affected versions alone mean everything up to the highest, with nothing to install.
 * </ul>
 *
 * What is told not to be affected is taken out again. Each vulnerability is taken by itself; what several affect
 * together is the union, so who has the last fix of a track has them all. A product of which a vulnerability says two
 * things at once is not read (test 6.1.6).
 */
final class StatusRanges {

    /** The lists that may not name one product twice over, by what they say. */
    private static final Map<String, List<String>> SAY = Map.of(
            "affected", List.of("first_affected", "known_affected", "last_affected"),
            "not affected", List.of("known_not_affected"),
            "fixed", List.of("first_fixed", "fixed"),
            "under investigation", List.of("under_investigation"));

    /** What one vulnerability says of one product. */
    private static final class Statements {
        final Set<AffectedRange> ranges = new LinkedHashSet<>();
        final Set<String> fixed = new LinkedHashSet<>();
        final Set<String> affected = new LinkedHashSet<>();
        final Set<String> first = new LinkedHashSet<>();
        final Set<AffectedRange> notAffected = new LinkedHashSet<>();
        boolean everyVersion;
        ProductTree.Entry entry;

        /**
         * Affected ranges by themselves; empty if only fixed versions are told.
         *
         * @throws IllegalArgumentException if they contradict each other
         */
        List<AffectedRange> own(ProductBuild build) {
            List<AffectedRange> own = own(build.product().ordering());
            return own.isEmpty() ? own : new Fix(build, own).without(notAffected);
        }

        private List<AffectedRange> own(VersionOrdering ordering) {
            if (!ranges.isEmpty()) {
                return ranges.stream()
                        .map(range -> fixedBehind(range, ordering))
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

        private AffectedRange fixedBehind(AffectedRange range, VersionOrdering ordering) {
            if (range.end().isEmpty()) {
                return closed(range.introduced(), range.afterIntroduced(), Set.of(), ordering);
            }
            return !range.endIncluded()
                    ? range
                    : fixed.stream()
                            .filter(version ->
                                    ordering.compare(version, range.end().get()) > 0)
                            .min(ordering)
                            .map(version -> new AffectedRange(
                                    range.introduced(), range.afterIntroduced(), Optional.of(version), false))
                            .orElse(range);
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
    private final Map<String, UnreadProduct> unread = new LinkedHashMap<>();
    private final Set<ReadFrom> readFrom = new LinkedHashSet<>();

    StatusRanges(ProductTree products, List<Problem> problems) {
        this.products = products;
        this.problems = problems;
    }

    /** Takes the status lists of one vulnerability. */
    void add(JsonPlace status) {
        Map<ProductBuild, Statements> here = new TreeMap<>();
        Set<String> contradictory = contradictory(status);
        for (String list : List.of("fixed", "first_fixed")) {
            each(status, list, contradictory, here, (entry, of) -> {
                if (entry.version().isPresent()) {
                    of.fixed.add(entry.version().get());
                } else {
                    notRead(entry, "without a version it cannot be told from when on it is fixed");
                }
            });
        }
        each(status, "first_affected", contradictory, here, (entry, of) -> entry.version()
                .ifPresent(of.first::add));
        for (String list : List.of("known_affected", "last_affected")) {
            each(status, list, contradictory, here, StatusRanges::affected);
        }
        if (!here.isEmpty()) {
            each(status, "known_not_affected", contradictory, here, StatusRanges::notAffected);
        }
        here.forEach((build, of) ->
                statements.computeIfAbsent(build, b -> new ArrayList<>()).add(of));
    }

    /** Ids of products of which the lists say different things; named, once each. */
    private Set<String> contradictory(JsonPlace status) {
        Map<String, Set<String>> said = new LinkedHashMap<>();
        Map<String, JsonPlace> places = new LinkedHashMap<>();
        SAY.forEach(
                (word, lists) -> lists.forEach(list -> status.get(list).items().forEach(id -> {
                    said.computeIfAbsent(id.line(), other -> new LinkedHashSet<>())
                            .add(word);
                    places.put(id.line(), id);
                })));
        Set<String> contradictory = new HashSet<>();
        said.forEach((id, words) -> {
            if (words.size() > 1) {
                contradictory.add(id);
                problems.add(new Problem(
                        places.get(id).pointer(),
                        "6.1.6: '" + id + "' is said to be "
                                + words.stream().sorted().collect(Collectors.joining(" and "))
                                + "; nothing of that is taken"));
                notRead(products.entry(places.get(id)), "6.1.6: the document contradicts itself");
            }
        });
        return contradictory;
    }

    private interface Said {
        void of(ProductTree.Entry entry, Statements statements);
    }

    private void each(
            JsonPlace status, String list, Set<String> leftOut, Map<ProductBuild, Statements> here, Said said) {
        for (JsonPlace id : status.get(list).items()) {
            ProductTree.Entry entry = products.entry(id);
            if (!leftOut.contains(id.line())) {
                boolean speaksOfHosts = !list.equals("known_not_affected");
                if (speaksOfHosts) {
                    entry.unread().ifPresent(reason -> notRead(entry, reason));
                }
                for (ProductBuild build : entry.builds()) {
                    Statements of = speaksOfHosts
                            ? here.computeIfAbsent(build, b -> new Statements())
                            : here.getOrDefault(build, new Statements());
                    of.entry = entry;
                    readFrom.add(new ReadFrom(build, entry.name(), entry.place().pointer()));
                    said.of(entry, of);
                }
            }
        }
    }

    private void notRead(ProductTree.Entry entry, String reason) {
        unread.putIfAbsent(entry.place().pointer(), entry.unread(reason));
    }

    private static void affected(ProductTree.Entry entry, Statements of) {
        List<AffectedRange> ranges = entry.read().map(ProductTree.Read::ranges).orElse(List.of());
        of.ranges.addAll(ranges);
        if (ranges.isEmpty()) {
            entry.version().ifPresentOrElse(of.affected::add, () -> of.everyVersion = true);
        }
    }

    private static void notAffected(ProductTree.Entry entry, Statements of) {
        entry.read().ifPresent(read -> {
            of.notAffected.addAll(read.ranges());
            if (read.ranges().isEmpty()) {
                read.version().map(AffectedRange::only).ifPresent(of.notAffected::add);
            }
        });
    }

    /** What was read; what contradicts itself is among {@link #unread} from then on. */
    List<Fix> fixes() {
        List<Fix> fixes = new ArrayList<>();
        statements.forEach(
                (build, vulnerabilities) -> fix(build, vulnerabilities).ifPresent(fixes::add));
        return fixes;
    }

    /** Products of which nobody can tell which hosts have them, or lack their fix; after {@link #fixes}. */
    List<UnreadProduct> unread() {
        return List.copyOf(unread.values());
    }

    /** Where each product stands of which something was read; after {@link #fixes}. */
    List<ReadFrom> readFrom() {
        return readFrom.stream()
                .filter(from -> !unread.containsKey(from.place()))
                .toList();
    }

    private Optional<Fix> fix(ProductBuild build, List<Statements> vulnerabilities) {
        VersionOrdering ordering = build.product().ordering();
        List<List<AffectedRange>> ranges = new ArrayList<>();
        List<Statements> onlyFixed = new ArrayList<>();
        for (Statements of : vulnerabilities) {
            try {
                List<AffectedRange> own = of.own(build);
                if (!own.isEmpty()) {
                    ranges.add(own);
                } else if (!of.fixed.isEmpty() && of.ranges.isEmpty() && of.first.isEmpty()) {
                    onlyFixed.add(of);
                }
            } catch (IllegalArgumentException e) {
                problems.add(new Problem(of.entry.place().pointer(), build + ": " + e.getMessage()));
                notRead(of.entry, e.getMessage());
            }
        }
        if (ranges.isEmpty()) {
            return onlyFixed.isEmpty() ? Optional.empty() : ofStreams(build, onlyFixed);
        }
        // A vulnerability of which only fixed versions are told: who is in the track of one must have that as well.
        Fix whole = Fix.ofVulnerabilities(build, ranges);
        onlyFixed.stream().flatMap(of -> of.fixed.stream()).forEach(version -> whole.trackOf(version)
                .filter(track ->
                        track.end().isPresent() && ordering.compare(track.end().get(), version) < 0)
                .ifPresent(track -> ranges.add(List.of(
                        new AffectedRange(track.introduced(), track.afterIntroduced(), Optional.of(version), false)))));
        return Optional.of(Fix.ofVulnerabilities(build, ranges));
    }

    private static Optional<Fix> ofStreams(ProductBuild build, List<Statements> onlyFixed) {
        VersionOrdering ordering = build.product().ordering();
        Set<String> affected = new LinkedHashSet<>();
        onlyFixed.forEach(of -> affected.addAll(of.affected));
        Set<AffectedRange> notAffected = new LinkedHashSet<>(onlyFixed.get(0).notAffected);
        onlyFixed.forEach(of -> notAffected.retainAll(of.notAffected));
        List<String> ends = ends(onlyFixed.stream().map(of -> of.fixed).toList(), ordering);
        List<AffectedRange> left = new Fix(build, FixedStreams.tracks(ends, affected, ordering)).without(notAffected);
        return left.isEmpty() ? Optional.empty() : Optional.of(new Fix(build, left));
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
}
