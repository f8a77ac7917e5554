package lucid.core.fleet;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.update.ProductBuild;

/** What hosts have installed, compared. */
public final class Inventories {

    private Inventories() {}

    /** The versions of one build in two inventories, each the lowest first; none where it is not there. */
    public record Difference(List<String> before, List<String> after) {

        /** Of several versions side by side the highest, which is the one that counts. */
        public Optional<String> highestBefore() {
            return last(before);
        }

        /** As {@link #highestBefore}. */
        public Optional<String> highestAfter() {
            return last(after);
        }

        private static Optional<String> last(List<String> versions) {
            return versions.isEmpty() ? Optional.empty() : Optional.of(versions.get(versions.size() - 1));
        }
    }

    /**
     * The builds of which two inventories have other versions. Of a large inventory little changes, and equal facts are
     * mostly the same object: so first what both share is set aside by identity.
     */
    public static Map<ProductBuild, Difference> differences(
            List<InstalledProduct> before, List<InstalledProduct> after) {
        Set<InstalledProduct> onlyBefore = Collections.newSetFromMap(new IdentityHashMap<>(before.size()));
        onlyBefore.addAll(before);
        Set<InstalledProduct> onlyAfter = new HashSet<>();
        for (InstalledProduct product : after) {
            if (!onlyBefore.remove(product)) {
                onlyAfter.add(product);
            }
        }
        Set<ProductBuild> builds = new HashSet<>();
        onlyBefore.forEach(product -> builds.add(product.build()));
        onlyAfter.forEach(product -> builds.add(product.build()));
        if (builds.isEmpty()) {
            return Map.of();
        }
        Map<ProductBuild, List<String>> had = versions(before, builds);
        Map<ProductBuild, List<String>> has = versions(after, builds);
        Map<ProductBuild, Difference> differences = new HashMap<>();
        for (ProductBuild build : builds) {
            Difference difference =
                    new Difference(had.getOrDefault(build, List.of()), has.getOrDefault(build, List.of()));
            if (!difference.before().equals(difference.after())) {
                differences.put(build, difference);
            }
        }
        return differences;
    }

    private static Map<ProductBuild, List<String>> versions(List<InstalledProduct> products, Set<ProductBuild> builds) {
        Map<ProductBuild, List<String>> versions = new HashMap<>();
        for (InstalledProduct product : products) {
            if (builds.contains(product.build())) {
                List<String> of = versions.computeIfAbsent(product.build(), build -> new ArrayList<>(1));
                if (!of.contains(product.version())) {
                    of.add(product.version());
                }
            }
        }
        versions.forEach((build, of) -> of.sort(build.product().ordering()));
        return versions;
    }

    /**
     * The version of each of these builds that is there; of several side by side the highest, which is the one that
     * counts.
     */
    public static Map<ProductBuild, String> highest(List<InstalledProduct> products, Set<ProductBuild> builds) {
        Map<ProductBuild, String> highest = new HashMap<>();
        versions(products, builds).forEach((build, versions) -> highest.put(build, versions.get(versions.size() - 1)));
        return highest;
    }
}
