package lucid.core.causes;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import lucid.core.causes.SuspectedCauses.TriedHost;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Predicate;
import lucid.core.fleet.Trait;
import lucid.core.update.Product;

/**
 * Every condition that is looked at: a trait has a value, is not set, is at most or above a cut between two neighbouring values; a product that
 * some but not all hosts have is at a version, and so is the update's own product when it was tried. One that fewer hosts meet than
 * could make a cause, or that all meet, is left out.
 */
final class Conditions {

    private static final int FEWEST_HOSTS = 3;
    private static final int MOST_CUTS = 32;
    private static final double RAREST_PRODUCT = 0.05;

    private final List<TriedHost> tried;
    private final List<Condition> all = new ArrayList<>();

    private Conditions(List<TriedHost> tried) {
        this.tried = tried;
    }

    /** In the order of trait and text. */
    static List<Condition> of(List<TriedHost> tried) {
        Conditions conditions = new Conditions(tried);
        Set<String> traits = new TreeSet<>(Set.of("platform", "supply"));
        tried.forEach(one -> traits.addAll(one.host().traits().keySet()));
        traits.forEach(conditions::ofTrait);
        conditions.ofProducts();
        return List.copyOf(conditions.all);
    }

    private void ofTrait(String trait) {
        Map<Trait, long[]> values = new LinkedHashMap<>();
        long[] notSet = Bits.none(tried.size());
        TreeMap<BigDecimal, long[]> numbers = new TreeMap<>();
        for (int i = 0; i < tried.size(); i++) {
            Trait value = tried.get(i).host().trait(trait).orElse(null);
            if (value == null) {
                Bits.set(notSet, i);
            } else {
                Bits.set(values.computeIfAbsent(value, v -> Bits.none(tried.size())), i);
                if (value instanceof Trait.Number number) {
                    Bits.set(numbers.computeIfAbsent(number.value(), n -> Bits.none(tried.size())), i);
                }
            }
        }
        values.forEach((value, hosts) -> add(trait, new Predicate.Comparison(trait, Predicate.Operator.EQUAL, value), hosts));
        add(trait, new Predicate.Not(new Predicate.IsSet(trait)), notSet);
        cuts(trait, numbers);
    }

    /** Between neighbouring values; of more than 32 cuts those at 32 quantiles of the hosts. */
    private void cuts(String trait, TreeMap<BigDecimal, long[]> numbers) {
        if (numbers.size() < 2) {
            return;
        }
        long[] below = Bits.none(tried.size());
        int numeric = numbers.values().stream().mapToInt(Bits::count).sum();
        int between = numbers.size() - 1;
        double step = between <= MOST_CUTS ? 0 : (double) numeric / (MOST_CUTS + 1);
        double next = step;
        int counted = 0;
        long[] every = Bits.none(tried.size());
        numbers.values().forEach(hosts -> or(every, hosts));
        for (Map.Entry<BigDecimal, long[]> entry : numbers.headMap(numbers.lastKey()).entrySet()) {
            or(below, entry.getValue());
            counted += Bits.count(entry.getValue());
            if (counted >= next) {
                next += step;
                BigDecimal cut = entry.getKey().add(numbers.higherKey(entry.getKey())).divide(BigDecimal.valueOf(2));
                long[] above = every.clone();
                for (int i = 0; i < above.length; i++) {
                    above[i] &= ~below[i];
                }
                add(trait, new Predicate.Comparison(trait, Predicate.Operator.AT_MOST, new Trait.Number(cut)), below.clone());
                add(trait, new Predicate.Comparison(trait, Predicate.Operator.GREATER, new Trait.Number(cut)), above);
            }
        }
    }

    private static void or(long[] into, long[] other) {
        for (int i = 0; i < into.length; i++) {
            into[i] |= other[i];
        }
    }

    private void ofProducts() {
        Set<Product> own = new HashSet<>();
        tried.forEach(one -> one.before().ifPresent(before -> own.add(before.build().product())));
        Map<InstalledProduct, long[]> byFact = new IdentityHashMap<>();
        for (int i = 0; i < tried.size(); i++) {
            for (InstalledProduct product : tried.get(i).host().products()) {
                Bits.set(byFact.computeIfAbsent(product, p -> Bits.none(tried.size())), i);
            }
        }
        Map<Product, Map<String, long[]>> byProduct = new HashMap<>();
        byFact.forEach((product, hosts) -> {
            if (!own.contains(product.build().product())) {
                gather(byProduct, product, hosts);
            }
        });
        byProduct.forEach((product, versions) -> {
            long[] having = Bits.none(tried.size());
            versions.values().forEach(hosts -> or(having, hosts));
            double share = (double) Bits.count(having) / tried.size();
            if (share >= RAREST_PRODUCT && share <= 1 - RAREST_PRODUCT) {
                ofVersions(product, versions);
            }
        });
        Map<Product, Map<String, long[]>> before = new HashMap<>();
        for (int i = 0; i < tried.size(); i++) {
            if (tried.get(i).before().isPresent()) {
                long[] one = Bits.none(tried.size());
                Bits.set(one, i);
                gather(before, tried.get(i).before().get(), one);
            }
        }
        before.forEach(this::ofVersions);
        all.sort((a, b) -> a.text().compareTo(b.text()));
    }

    private static void gather(Map<Product, Map<String, long[]>> byProduct, InstalledProduct product, long[] hosts) {
        byProduct.computeIfAbsent(product.build().product(), p -> new TreeMap<>()).merge(product.version(), hosts, (a, b) -> {
            or(a, b);
            return a;
        });
    }

    private void ofVersions(Product product, Map<String, long[]> versions) {
        String name = product.purl();
        versions.forEach((version, hosts) -> add(name, new Predicate.Comparison(name, Predicate.Operator.EQUAL, new Trait.Text(version)), hosts));
    }

    private void add(String trait, Predicate predicate, long[] hosts) {
        Condition condition = Condition.of(trait, predicate, hosts);
        if (condition.count() >= FEWEST_HOSTS && condition.count() < tried.size()) {
            all.add(condition);
        }
    }
}
