package lucid.core.carriage;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import lucid.core.fleet.InstalledProduct;
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
 * <p>What is said of a source package is said of all that is built from it. So there is a second set of columns, with
 * the source versions: one for each source package and package built from it, of those hosts on which a package of that
 * name tells another source than itself. In the same set stands which hosts these are: their versions of the package
 * say nothing of the source package of its name.
 *
 * <p>An index never changes. {@link #with} makes the next one and copies only the columns whose bits differ, so that
 * readers keep the one they have while a report comes in.
 *
 * <p>Compressed bitmaps: S. Chambi, D. Lemire, O. Kaser, R. Godin, "Better bitmap performance with Roaring bitmaps",
 * Software: Practice and Experience 46(5), 2016.
 */
public final class CarrierIndex {

    public static final CarrierIndex EMPTY = new CarrierIndex(Columns.EMPTY, Columns.EMPTY);

    private static final String BUILT = "built:";
    private static final String TELLS_SOURCE = "tells its source";

    private final Columns installed;
    private final Columns sources;

    private CarrierIndex(Columns installed, Columns sources) {
        this.installed = installed;
        this.sources = sources;
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
        return new CarrierIndex(
                installed.with(changes),
                sources.with(changes.stream()
                        .map(change -> new Change(change.host(), ofSources(change.before()), ofSources(change.after())))
                        .filter(change -> !change.before().equals(change.after()))
                        .toList()));
    }

    /**
     * What stands in the columns of source packages for the products of a host: all of a name of which one tells
     * another source, so that a host is judged by one kind of column for each name.
     */
    private static List<InstalledProduct> ofSources(List<InstalledProduct> products) {
        Set<Product> tellSources = new HashSet<>();
        for (InstalledProduct product : products) {
            if (product.source().isPresent()) {
                tellSources.add(product.build().product());
            }
        }
        List<InstalledProduct> ofSources = new ArrayList<>();
        if (!tellSources.isEmpty()) {
            for (InstalledProduct product : products) {
                ProductBuild build = product.build();
                if (tellSources.contains(build.product())) {
                    ofSources.add(new InstalledProduct(
                            new ProductBuild(
                                    product.sourceBuild().product(),
                                    build.distro(),
                                    BUILT + build.product().name()),
                            product.sourceVersion()));
                    ofSources.add(new InstalledProduct(
                            new ProductBuild(build.product(), "", TELLS_SOURCE), product.version()));
                }
            }
        }
        return ofSources;
    }

    /** The index of these hosts and of those of another index, which has none of them. */
    public CarrierIndex joined(CarrierIndex ofOthers) {
        return new CarrierIndex(installed.joined(ofOthers.installed), sources.joined(ofOthers.sources));
    }

    /** The index of these hosts alone. */
    public CarrierIndex only(RoaringBitmap hosts) {
        return new CarrierIndex(installed.only(hosts), sources.only(hosts));
    }

    /** Every product that some host has. */
    public Set<Product> products() {
        return installed.products();
    }

    /** The installed versions of a product, of any build, each with its hosts, the lowest first. */
    public NavigableMap<String, RoaringBitmap> versions(Product product) {
        NavigableMap<String, RoaringBitmap> versions = new TreeMap<>(product.ordering());
        installed
                .of(product)
                .values()
                .forEach(column -> column.forEach(
                        (version, hosts) -> versions.merge(version, hosts, (a, b) -> RoaringBitmap.or(a, b))));
        return versions;
    }

    /** True if this version is among the installed {@link #versions} of a product. */
    public boolean has(Product product, String version) {
        return installed.of(product).values().stream().anyMatch(column -> column.containsKey(version));
    }

    /** Hosts that have a product, in any version of any build. */
    public RoaringBitmap having(Product product) {
        return RoaringBitmap.or(installed.of(product).values().stream()
                .flatMap(column -> column.values().stream())
                .iterator());
    }

    /** Who is on a release of a distribution, of hosts that tell none with their products. */
    @FunctionalInterface
    public interface Releases {
        /** Hosts whose platform is this release. */
        RoaringBitmap on(String release);
    }

    /**
     * Splits all hosts by one fix. Of hosts that tell no distribution with a product only those on the fix's release
     * count, where it is for one.
     */
    public Split split(Fix fix, Releases releases) {
        return split(fix.build(), fix::standing, releases);
    }

    /** As {@link #split(Fix, Releases)}, by what is said of each version of a build. */
    public Split split(ProductBuild named, Function<String, Fix.Standing> standing, Releases releases) {
        Said said = new Said(named, standing, releases);
        return named.isSource() ? splitSource(said) : split(said, installed.of(named.product(), named::covers));
    }

    /** What is said of the versions of a build, and who is on the release that it is for. */
    private record Said(ProductBuild named, Function<String, Fix.Standing> standing, Releases releases) {}

    private static Split split(Said said, Map<ProductBuild, Map<String, RoaringBitmap>> covered) {
        String release = said.named().distro();
        List<Map<String, RoaringBitmap>> here = new ArrayList<>();
        covered.forEach((build, column) -> here.add(
                build.distro().isEmpty() && !release.isEmpty()
                        ? among(column, said.releases().on(release))
                        : column));
        return here.size() == 1 ? splitOne(said, here.get(0)) : splitHighest(said, here);
    }

    private static Map<String, RoaringBitmap> among(Map<String, RoaringBitmap> column, RoaringBitmap hosts) {
        Map<String, RoaringBitmap> some = new HashMap<>();
        column.forEach((version, having) -> some.put(version, RoaringBitmap.and(having, hosts)));
        return some;
    }

    /** All that is built from the source package, each package by itself; and the package of its own name. */
    private Split splitSource(Said said) {
        ProductBuild named = said.named().ofAnyArch();
        Split itself = split(said, notTellingSources(named));
        Split split = new Split(itself.lacks().clone(), itself.has().clone());
        Map<String, Map<ProductBuild, Map<String, RoaringBitmap>>> byPackage = new HashMap<>();
        sources.of(named.product(), build -> build.arch().startsWith(BUILT) && named.covers(build))
                .forEach((build, column) -> byPackage
                        .computeIfAbsent(build.arch(), arch -> new TreeMap<>())
                        .put(build, column));
        byPackage.values().forEach(columns -> {
            Split one = split(said, columns);
            split.lacks().or(one.lacks());
            split.has().or(one.has());
        });
        return split;
    }

    private Map<ProductBuild, Map<String, RoaringBitmap>> notTellingSources(ProductBuild named) {
        RoaringBitmap telling = new RoaringBitmap();
        sources.of(named.product(), build -> build.arch().equals(TELLS_SOURCE))
                .values()
                .forEach(column -> column.values().forEach(telling::or));
        Map<ProductBuild, Map<String, RoaringBitmap>> left =
                new TreeMap<>(installed.of(named.product(), named::covers));
        if (!telling.isEmpty()) {
            left.replaceAll((build, column) -> {
                Map<String, RoaringBitmap> some = new HashMap<>();
                column.forEach((version, hosts) -> some.put(version, RoaringBitmap.andNot(hosts, telling)));
                return some;
            });
        }
        return left;
    }

    private static Split splitOne(Said said, Map<String, RoaringBitmap> column) {
        List<RoaringBitmap> lacks = new ArrayList<>();
        List<RoaringBitmap> has = new ArrayList<>();
        column.forEach((version, hosts) -> {
            switch (said.standing().apply(version)) {
                case LACKS -> lacks.add(hosts);
                case HAS -> has.add(hosts);
                case NOT_SPOKEN_OF -> {}
            }
        });
        return new Split(RoaringBitmap.or(lacks.iterator()), RoaringBitmap.or(has.iterator()));
    }

    /** A host may stand in several columns: from the highest version down, its first one counts. */
    private static Split splitHighest(Said said, List<Map<String, RoaringBitmap>> covered) {
        NavigableMap<String, RoaringBitmap> merged =
                new TreeMap<>(said.named().product().ordering());
        covered.forEach(column ->
                column.forEach((version, hosts) -> merged.merge(version, hosts, (a, b) -> RoaringBitmap.or(a, b))));
        Split split = new Split(new RoaringBitmap(), new RoaringBitmap());
        RoaringBitmap seen = new RoaringBitmap();
        merged.descendingMap().forEach((version, hosts) -> {
            RoaringBitmap unseen = RoaringBitmap.andNot(hosts, seen);
            switch (said.standing().apply(version)) {
                case LACKS -> split.lacks().or(unseen);
                case HAS -> split.has().or(unseen);
                case NOT_SPOKEN_OF -> {}
            }
            seen.or(hosts);
        });
        return split;
    }
}
