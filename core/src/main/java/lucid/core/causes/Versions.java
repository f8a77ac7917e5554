package lucid.core.causes;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import lucid.core.causes.SuspectedCauses.TriedHost;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.Product;

/**
 * What the tried hosts have installed, as small numbers: each distinct version of a product has one, and each product.
 * Thousands of hosts have hundreds of products each, and all of them are counted for every cause; counting numbers is
 * many times faster than looking facts up.
 */
final class Versions {

    private final List<InstalledProduct> facts = new ArrayList<>();
    private final Map<Host, int[]> byHost = new IdentityHashMap<>();
    private final int[] productOf;
    private final int products;

    private Versions(List<TriedHost> tried) {
        Map<InstalledProduct, Integer> known = new HashMap<>();
        // Equal facts are mostly the same object, which is found faster.
        Map<InstalledProduct, Integer> same = new IdentityHashMap<>();
        for (TriedHost one : tried) {
            List<InstalledProduct> installed = one.host().products();
            int[] own = new int[installed.size()];
            for (int i = 0; i < own.length; i++) {
                own[i] = same.computeIfAbsent(installed.get(i), fact -> known.computeIfAbsent(fact, this::add));
            }
            byHost.put(one.host(), own);
        }
        Map<Product, Integer> numbers = new HashMap<>();
        this.productOf = facts.stream()
                .mapToInt(fact -> numbers.computeIfAbsent(fact.build().product(), product -> numbers.size()))
                .toArray();
        this.products = numbers.size();
    }

    static Versions of(List<TriedHost> tried) {
        return new Versions(tried);
    }

    private int add(InstalledProduct fact) {
        facts.add(fact);
        return facts.size() - 1;
    }

    /** The numbers of what a host has installed. */
    int[] of(Host host) {
        return byHost.get(host);
    }

    InstalledProduct fact(int version) {
        return facts.get(version);
    }

    int product(int version) {
        return productOf[version];
    }

    int size() {
        return facts.size();
    }

    int products() {
        return products;
    }
}
