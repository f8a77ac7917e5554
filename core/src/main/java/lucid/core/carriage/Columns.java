package lucid.core.carriage;

import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Inventories;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import org.roaringbitmap.RoaringBitmap;

/**
 * For every build of a product one column: its distinct versions, each with the hosts that have it. Never changes;
 * {@link #with} makes the next one and copies only the columns whose bits differ.
 */
final class Columns {

    static final Columns EMPTY = new Columns(Map.of());

    private final Map<Product, Map<ProductBuild, Map<String, RoaringBitmap>>> columns;

    private Columns(Map<Product, Map<ProductBuild, Map<String, RoaringBitmap>>> columns) {
        this.columns = columns;
    }

    Set<Product> products() {
        return Set.copyOf(columns.keySet());
    }

    /** The columns of a product, by its builds. */
    Map<ProductBuild, Map<String, RoaringBitmap>> of(Product product) {
        return columns.getOrDefault(product, Map.of());
    }

    /** Those of its columns whose build is wanted. */
    Map<ProductBuild, Map<String, RoaringBitmap>> of(Product product, Predicate<ProductBuild> wanted) {
        Map<ProductBuild, Map<String, RoaringBitmap>> some = new TreeMap<>();
        of(product).forEach((build, column) -> {
            if (wanted.test(build)) {
                some.put(build, column);
            }
        });
        return some;
    }

    Columns with(Collection<CarrierIndex.Change> changes) {
        if (changes.isEmpty()) {
            return this;
        }
        Editor editor = new Editor(this);
        editor.arrive(
                changes.stream().filter(change -> change.before().isEmpty()).toList());
        changes.stream().filter(change -> !change.before().isEmpty()).forEach(editor::apply);
        return new Columns(editor.columns);
    }

    /** These and those of other hosts. */
    Columns joined(Columns others) {
        if (columns.isEmpty() || others.columns.isEmpty()) {
            return columns.isEmpty() ? others : this;
        }
        Editor editor = new Editor(this);
        others.columns
                .values()
                .forEach(builds -> builds.forEach((build, versions) -> {
                    Map<String, RoaringBitmap> column = editor.column(build);
                    versions.forEach(
                            (version, hosts) -> editor.bitmap(column, version).or(hosts));
                }));
        return new Columns(editor.columns);
    }

    /** Of these hosts alone. Bitmaps that have no other stay the same objects. */
    Columns only(RoaringBitmap hosts) {
        Map<Product, Map<ProductBuild, Map<String, RoaringBitmap>>> some = new HashMap<>();
        columns.forEach((product, builds) -> builds.forEach((build, column) -> column.forEach((version, all) -> {
            RoaringBitmap left = hosts.contains(all) ? all : RoaringBitmap.and(all, hosts);
            if (!left.isEmpty()) {
                some.computeIfAbsent(product, p -> new TreeMap<>())
                        .computeIfAbsent(build, b -> new HashMap<>())
                        .put(version, left);
            }
        })));
        return new Columns(some);
    }

    /** Copies a column, and a bitmap in it, when it is first touched. */
    private static final class Editor {
        private final Map<Product, Map<ProductBuild, Map<String, RoaringBitmap>>> columns;
        private final Set<Object> copied = Collections.newSetFromMap(new IdentityHashMap<>());

        Editor(Columns columns) {
            this.columns = new HashMap<>(columns.columns);
        }

        /**
         * Hosts that had nothing before, such as when a fleet is read at start: their bits are gathered by fact first,
         * so that a column is touched once for each of its versions. (Equal facts are mostly the same object; where
         * they are not, they meet in the column.)
         */
        void arrive(Collection<CarrierIndex.Change> changes) {
            Map<InstalledProduct, RoaringBitmap> gathered = new IdentityHashMap<>();
            changes.stream()
                    .sorted(Comparator.comparingInt(CarrierIndex.Change::host))
                    .forEach(change -> change.after()
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

        void apply(CarrierIndex.Change change) {
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
