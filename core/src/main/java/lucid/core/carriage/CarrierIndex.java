package lucid.core.carriage;

import java.util.Collection;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.Fix;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which hosts have which version of each product.
 *
 * <p>For every build of a product there is one <em>column</em>: its distinct versions in the order of its package system,
 * each with a compressed bitmap of the hosts that have it. A product has few distinct versions (tens) on very many hosts, so
 * "who lacks this fix" compares a version once for all its hosts and is then a union of a few bitmaps, while a table with
 * one row a host and product would compare every row. A host stands in one bitmap of a column at the most: of several versions
 * side by side the highest counts.
 *
 * <p>An index never changes. {@link #with} makes the next one and copies only the columns whose bits differ, so that readers
 * keep the one they have while a report comes in.
 *
 * <p>Compressed bitmaps: S. Chambi, D. Lemire, O. Kaser, R. Godin, "Better bitmap performance with Roaring bitmaps", Software:
 * Practice and Experience 46(5), 2016.
 */
public final class CarrierIndex {

    public static final CarrierIndex EMPTY = new CarrierIndex(Map.of());

    private final Map<Product, Map<ProductBuild, NavigableMap<String, RoaringBitmap>>> columns;

    private CarrierIndex(Map<Product, Map<ProductBuild, NavigableMap<String, RoaringBitmap>>> columns) {
        this.columns = columns;
    }

    /** What one host had and now has installed; an empty list stands for nothing. */
    public record Change(int host, List<InstalledProduct> before, List<InstalledProduct> after) {}

    /** Hosts by what a fix says of the version that they have; who is in neither set has no version that it speaks of. */
    public record Split(RoaringBitmap lacks, RoaringBitmap has) {
        /** Hosts that have the fix in every product spoken of. */
        RoaringBitmap whole() {
            return RoaringBitmap.andNot(has, lacks);
        }
    }

    /** The index after these changes. */
    public CarrierIndex with(Collection<Change> changes) {
        Editor editor = new Editor();
        editor.arrive(changes.stream().filter(change -> change.before().isEmpty()).toList());
        changes.stream().filter(change -> !change.before().isEmpty()).forEach(editor::apply);
        return new CarrierIndex(editor.columns);
    }

    /** Every product that some host has. */
    public Set<Product> products() {
        return Set.copyOf(columns.keySet());
    }

    /** The installed versions of a product, of any build, each with its hosts, the lowest first. */
    public NavigableMap<String, RoaringBitmap> versions(Product product) {
        NavigableMap<String, RoaringBitmap> versions = new TreeMap<>(product.ordering());
        columns.getOrDefault(product, Map.of()).values().forEach(column -> column.forEach((version, hosts) -> versions.merge(version, hosts, (a, b) -> RoaringBitmap.or(a, b))));
        return versions;
    }

    /** Splits all hosts by one fix. */
    public Split split(Fix fix) {
        Split split = new Split(new RoaringBitmap(), new RoaringBitmap());
        List<NavigableMap<String, RoaringBitmap>> covered = columns.getOrDefault(fix.build().product(), Map.of()).entrySet().stream()
                .filter(column -> fix.build().covers(column.getKey()))
                .map(Map.Entry::getValue)
                .toList();
        if (covered.size() == 1) {
            covered.get(0).forEach((version, hosts) -> place(fix, version, hosts, split));
        } else if (covered.size() > 1) {
            splitHighest(fix, covered, split);
        }
        return split;
    }

    /** A host may stand in several columns: from the highest version down, its first one counts. */
    private static void splitHighest(Fix fix, List<NavigableMap<String, RoaringBitmap>> covered, Split split) {
        NavigableMap<String, RoaringBitmap> merged = new TreeMap<>(fix.build().product().ordering());
        covered.forEach(column -> column.forEach((version, hosts) -> merged.merge(version, hosts, (a, b) -> RoaringBitmap.or(a, b))));
        RoaringBitmap seen = new RoaringBitmap();
        merged.descendingMap().forEach((version, hosts) -> {
            place(fix, version, RoaringBitmap.andNot(hosts, seen), split);
            seen.or(hosts);
        });
    }

    private static void place(Fix fix, String version, RoaringBitmap hosts, Split split) {
        switch (fix.standing(version)) {
            case LACKS -> split.lacks().or(hosts);
            case HAS -> split.has().or(hosts);
            case NOT_SPOKEN_OF -> { }
        }
    }

    /** Copies a column, and a bitmap in it, when it is first touched. */
    private final class Editor {
        private final Map<Product, Map<ProductBuild, NavigableMap<String, RoaringBitmap>>> columns = new HashMap<>(CarrierIndex.this.columns);
        private final Set<Object> copied = Collections.newSetFromMap(new IdentityHashMap<>());

        /**
         * Hosts that had nothing before. Many share one list of products, such as when a fleet is read at start: a list is looked at once for all its hosts, and
         * a column is touched once for each of its versions.
         */
        void arrive(Collection<Change> changes) {
            Map<List<InstalledProduct>, RoaringBitmap> byList = new IdentityHashMap<>();
            changes.forEach(change -> byList.computeIfAbsent(change.after(), list -> new RoaringBitmap()).add(change.host()));
            Map<ProductBuild, Map<String, RoaringBitmap>> added = new HashMap<>();
            byList.forEach((list, hosts) -> InstalledProduct.highest(list).forEach((build, version) ->
                    added.computeIfAbsent(build, b -> new HashMap<>()).computeIfAbsent(version, v -> new RoaringBitmap()).or(hosts)));
            added.forEach((build, versions) -> {
                NavigableMap<String, RoaringBitmap> column = column(build);
                versions.forEach((version, hosts) -> bitmap(column, version).or(hosts));
            });
        }

        void apply(Change change) {
            Map<ProductBuild, String> before = InstalledProduct.highest(change.before());
            Map<ProductBuild, String> after = InstalledProduct.highest(change.after());
            before.forEach((build, version) -> {
                if (!Objects.equals(version, after.get(build))) {
                    remove(change.host(), build, version);
                }
            });
            after.forEach((build, version) -> {
                if (!Objects.equals(version, before.get(build))) {
                    add(change.host(), build, version);
                }
            });
        }

        private void add(int host, ProductBuild build, String version) {
            NavigableMap<String, RoaringBitmap> column = column(build);
            bitmap(column, version).add(host);
        }

        private void remove(int host, ProductBuild build, String version) {
            NavigableMap<String, RoaringBitmap> column = column(build);
            RoaringBitmap hosts = bitmap(column, version);
            hosts.remove(host);
            if (hosts.isEmpty()) {
                column.remove(version);
            }
            if (column.isEmpty()) {
                Map<ProductBuild, NavigableMap<String, RoaringBitmap>> builds = columns.get(build.product());
                builds.remove(build);
                if (builds.isEmpty()) {
                    columns.remove(build.product());
                }
            }
        }

        private NavigableMap<String, RoaringBitmap> column(ProductBuild build) {
            Map<ProductBuild, NavigableMap<String, RoaringBitmap>> builds = columns.get(build.product());
            if (builds == null || !copied.contains(builds)) {
                builds = builds == null ? new TreeMap<>() : new TreeMap<>(builds);
                copied.add(builds);
                columns.put(build.product(), builds);
            }
            NavigableMap<String, RoaringBitmap> column = builds.get(build);
            if (column == null || !copied.contains(column)) {
                NavigableMap<String, RoaringBitmap> copy = new TreeMap<>(build.product().ordering());
                if (column != null) {
                    copy.putAll(column);
                }
                column = copy;
                copied.add(column);
                builds.put(build, column);
            }
            return column;
        }

        private RoaringBitmap bitmap(NavigableMap<String, RoaringBitmap> column, String version) {
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
