package lucid.server.hosts;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.PackageLists;

/**
 * What sources have, and what runs on until the next start, is much the same for very many hosts: equal versions and
 * addresses are one object on all of them. It is emptied when it is full, which a fleet does not do by itself.
 */
final class SharedVersions {

    private static final int MOST = 200_000;

    private static final Map<Object, Object> KNOWN = new ConcurrentHashMap<>();

    private SharedVersions() {}

    static PackageLists shared(PackageLists lists) {
        List<PackageLists.Newer> newer =
                lists.newer().stream().map(SharedVersions::one).toList();
        Map<String, Integer> cameFrom = new HashMap<>();
        lists.cameFrom().forEach((source, products) -> cameFrom.put(one(source), products));
        return new PackageLists(lists.fetched(), newer, cameFrom);
    }

    static List<InstalledProduct> shared(List<InstalledProduct> products) {
        return products.stream().map(SharedVersions::one).toList();
    }

    @SuppressWarnings("unchecked")
    private static <T> T one(T value) {
        if (KNOWN.size() >= MOST) {
            KNOWN.clear();
        }
        T known = (T) KNOWN.putIfAbsent(value, value);
        return known == null ? value : known;
    }
}
