package lucid.core.carriage;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Set;
import java.util.TreeMap;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Inventories;
import lucid.core.update.Fix;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which hosts have which version of each product.
 *
 * <p>For every build of a product there is one <em>column</em>: its distinct versions, each with a compressed bitmap of
 * the hosts that have it. A product has few distinct versions (tens) on very many hosts, so "who lacks this fix"
 * compares a version once for all its hosts and is then a union of a few bitmaps, while a table with one row a host and
 * product would compare every row. A host stands in one bitmap of a column at the most: of several versions side by
 * side the highest counts.
 *
 * <p>An index never changes. {@link #with} makes the next one and copies only the columns whose bits differ, so that
 * readers keep the one they have while a report comes in.
 *
 * <p>Compressed bitmaps: S. Chambi, D. Lemire, O. Kaser, R. Godin, "Better bitmap performance with Roaring bitmaps",
 * Software: Practice and Experience 46(5), 2016.
 */
public final class CarrierIndex {

    public static final CarrierIndex EMPTY = new CarrierIndex(Map.of());

    private final Map<Product, Map<ProductBuild, Map<String, RoaringBitmap>>> columns;

    private CarrierIndex(Map<Product, Map<ProductBuild, Map<String, RoaringBitmap>>> columns) {
        this.columns = columns;
    }

    /** What one host had and now has installed; an empty list stands for nothing. */
    public record Change(int host, List<InstalledProduct> before, List<InstalledProduct> after) {}

    /**
     * Hosts by what a fix says of the version that they have; who is in neither set has no version that it speaks of.
     */
    public record Split(RoaringBitmap lacks, RoaringBitmap has) {
        /** Hosts that have the fix in every product spoken of. */
        RoaringBitmap whole() {
            return RoaringBitmap.andNot(has, lacks);
        }
    }

    /** The index after these changes. */
    public CarrierIndex with(Collection<Change> changes) {
        Editor editor = new Editor();
        editor.arrive(
                changes.stream().filter(change -> change.before().isEmpty()).toList());
        changes.stream().filter(change -> !change.before().isEmpty()).forEach(editor::apply);
        return new CarrierIndex(editor.columns);
    }

    /** The index of these hosts and of those of another index, which has none of them. */
    public CarrierIndex joined(CarrierIndex ofOthers) {
        if (columns.isEmpty()) {
            return ofOthers;
        }
        Editor editor = new Editor();
        ofOthers.columns
                .values()
                .forEach(builds -> builds.forEach((build, versions) -> {
                    Map<String, RoaringBitmap> column = editor.column(build);
                    versions.forEach(
                            (version, hosts) -> editor.bitmap(column, version).or(hosts));
                }));
        return new CarrierIndex(editor.columns);
    }

    /** The index of these hosts alone. */
    public CarrierIndex only(RoaringBitmap hosts) {
        Map<Product, Map<ProductBuild, Map<String, RoaringBitmap>>> some = new HashMap<>();
        columns.forEach((product, builds) -> builds.forEach((build, column) -> column.forEach((version, all) -> {
            RoaringBitmap left = RoaringBitmap.and(all, hosts);
            if (!left.isEmpty()) {
                some.computeIfAbsent(product, p -> new TreeMap<>())
                        .computeIfAbsent(build, b -> new HashMap<>())
                        .put(version, left);
            }
        })));
        return new CarrierIndex(some);
    }

    /** Every product that some host has. */
    public Set<Product> products() {
        return Set.copyOf(columns.keySet());
    }

    /** The installed versions of a product, of any build, each with its hosts, the lowest first. */
    public NavigableMap<String, RoaringBitmap> versions(Product product) {
        NavigableMap<String, RoaringBitmap> versions = new TreeMap<>(product.ordering());
        columns.getOrDefault(product, Map.of())
                .values()
                .forEach(column -> column.forEach(
                        (version, hosts) -> versions.merge(version, hosts, (a, b) -> RoaringBitmap.or(a, b))));
        return versions;
    }

    /** Hosts that have a product, in any version of any build. */
    public RoaringBitmap having(Product product) {
        return RoaringBitmap.or(columns.getOrDefault(product, Map.of()).values().stream()
                .flatMap(column -> column.values().stream())
                .iterator());
    }

    /** Splits all hosts by one fix. */
    public Split split(Fix fix) {
        List<Map<String, RoaringBitmap>> covered =
                columns.getOrDefault(fix.build().product(), Map.of()).entrySet().stream()
                        .filter(column -> fix.build().covers(column.getKey()))
                        .map(Map.Entry::getValue)
                        .toList();
        return covered.size() == 1 ? splitOne(fix, covered.get(0)) : splitHighest(fix, covered);
    }

    private static Split splitOne(Fix fix, Map<String, RoaringBitmap> column) {
        List<RoaringBitmap> lacks = new ArrayList<>();
        List<RoaringBitmap> has = new ArrayList<>();
        column.forEach((version, hosts) -> {
            switch (fix.standing(version)) {
                case LACKS -> lacks.add(hosts);
                case HAS -> has.add(hosts);
                case NOT_SPOKEN_OF -> {}
            }
        });
        return new Split(RoaringBitmap.or(lacks.iterator()), RoaringBitmap.or(has.iterator()));
    }

    /** A host may stand in several columns: from the highest version down, its first one counts. */
    private static Split splitHighest(Fix fix, List<Map<String, RoaringBitmap>> covered) {
        NavigableMap<String, RoaringBitmap> merged =
                new TreeMap<>(fix.build().product().ordering());
        covered.forEach(column ->
                column.forEach((version, hosts) -> merged.merge(version, hosts, (a, b) -> RoaringBitmap.or(a, b))));
        Split split = new Split(new RoaringBitmap(), new RoaringBitmap());
        RoaringBitmap seen = new RoaringBitmap();
        merged.descendingMap().forEach((version, hosts) -> {
            RoaringBitmap unseen = RoaringBitmap.andNot(hosts, seen);
            switch (fix.standing(version)) {
                case LACKS -> split.lacks().or(unseen);
                case HAS -> split.has().or(unseen);
                case NOT_SPOKEN_OF -> {}
            }
            seen.or(hosts);
        });
        return split;
    }

    /** Copies a column, and a bitmap in it, when it is first touched. */
    private final class Editor {
        private final Map<Product, Map<ProductBuild, Map<String, RoaringBitmap>>> columns =
                new HashMap<>(CarrierIndex.this.columns);
        private final Set<Object> copied = Collections.newSetFromMap(new IdentityHashMap<>());

        /**
         * Hosts that had nothing before, such as when a fleet is read at start: their bits are gathered by fact first,
         * so that a column is touched once for each of its versions. (Equal facts are mostly the same object; where
         * they are not, they meet in the column.)
         */
        void arrive(Collection<Change> changes) {
            Map<InstalledProduct, RoaringBitmap> gathered = new IdentityHashMap<>();
            changes.stream().sorted(Comparator.comparingInt(Change::host)).forEach(change -> change.after()
                    .forEach(product -> gathered.computeIfAbsent(product, p -> new RoaringBitmap())
                            .add(change.host())));
            Map<ProductBuild, Map<String, RoaringBitmap>> arrived = new HashMap<>();
            gathered.forEach((product, hosts) -> arrived.computeIfAbsent(product.build(), build -> new HashMap<>())
                    .merge(product.version(), hosts, (a, b) -> RoaringBitmap.or(a, b)));
            Map<Integer, List<InstalledProduct>> lists = new HashMap<>();
            changes.forEach(change -> lists.put(change.host(), change.after()));
            arrived.forEach((build, versions) -> {
                keepHighest(build, versions, lists);
                Map<String, RoaringBitmap> column = column(build);
                versions.forEach((version, hosts) -> {
                    if (!hosts.isEmpty()) {
                        bitmap(column, version).or(hosts);
                    }
                });
            });
        }

        /** Of several versions side by side on one host only the highest stays. */
        private void keepHighest(
                ProductBuild build, Map<String, RoaringBitmap> versions, Map<Integer, List<InstalledProduct>> lists) {
            RoaringBitmap seen = new RoaringBitmap();
            RoaringBitmap several = new RoaringBitmap();
            versions.values().forEach(hosts -> {
                several.or(RoaringBitmap.and(seen, hosts));
                seen.or(hosts);
            });
            several.forEach((int host) -> {
                versions.values().forEach(hosts -> hosts.remove(host));
                versions.get(Inventories.highest(lists.get(host), Set.of(build)).get(build))
                        .add(host);
            });
        }

        void apply(Change change) {
            Inventories.differences(change.before(), change.after()).forEach((build, difference) -> {
                if (!difference.highestBefore().equals(difference.highestAfter())) {
                    difference.highestBefore().ifPresent(version -> remove(change.host(), build, version));
                    difference.highestAfter().ifPresent(version -> add(change.host(), build, version));
                }
            });
        }

        private void add(int host, ProductBuild build, String version) {
            Map<String, RoaringBitmap> column = column(build);
            bitmap(column, version).add(host);
        }

        private void remove(int host, ProductBuild build, String version) {
            Map<String, RoaringBitmap> column = column(build);
            RoaringBitmap hosts = bitmap(column, version);
            hosts.remove(host);
            if (hosts.isEmpty()) {
                column.remove(version);
            }
            if (column.isEmpty()) {
                Map<ProductBuild, Map<String, RoaringBitmap>> builds = columns.get(build.product());
                builds.remove(build);
                if (builds.isEmpty()) {
                    columns.remove(build.product());
                }
            }
        }

        private Map<String, RoaringBitmap> column(ProductBuild build) {
            Map<ProductBuild, Map<String, RoaringBitmap>> builds = columns.get(build.product());
            if (builds == null || !copied.contains(builds)) {
                builds = builds == null ? new TreeMap<>() : new TreeMap<>(builds);
                copied.add(builds);
                columns.put(build.product(), builds);
            }
            Map<String, RoaringBitmap> column = builds.get(build);
            if (column == null || !copied.contains(column)) {
                column = column == null ? new HashMap<>() : new HashMap<>(column);
                copied.add(column);
                builds.put(build, column);
            }
            return column;
        }

        private RoaringBitmap bitmap(Map<String, RoaringBitmap> column, String version) {
            RoaringBitmap hosts = column.get(version);
            if (hosts == null || !copied.contains(hosts)) {
                hosts = hosts == null ? new RoaringBitmap() : hosts.clone();
                copied.add(hosts);
                column.put(version, hosts);
            }
            return hosts;
        }
    }
}
