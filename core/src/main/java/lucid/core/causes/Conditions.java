package lucid.core.causes;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import lucid.core.causes.SuspectedCauses.TriedHost;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Trait;
import lucid.core.update.Product;

/**
 * Every condition that is looked at: a trait has a value (a number only where there are few of them), is not set, is at
 * most or above a cut between two neighbouring values; a product that some but not all hosts have is at a version, and
 * so is the update's own product when it was tried; it was tried before or after an instant. One that fewer hosts meet
 * than could make a cause, or that all meet, is left out.
 */
final class Conditions {

    private static final int FEWEST_HOSTS = 3;
    private static final int MOST_CUTS = 32;
    private static final int MOST_DIGITS = 30;
    private static final double RAREST_PRODUCT = 0.05;

    private final List<TriedHost> tried;
    private final Versions versions;
    private final List<Condition> all = new ArrayList<>();
    /**
     * Versions of products that too few failed hosts have to be a cause; they count as tests all the same: how many of
     * each.
     */
    private final Map<String, Integer> others = new HashMap<>();

    private Conditions(List<TriedHost> tried, Versions versions) {
        this.tried = tried;
        this.versions = versions;
    }

    /** @param versions of these hosts, and perhaps of more */
    static Conditions of(List<TriedHost> tried, Versions versions) {
        Conditions conditions = new Conditions(tried, versions);
        Set<String> traits = new TreeSet<>(Set.of("platform", "supply"));
        tried.forEach(one -> traits.addAll(one.host().traits().keySet()));
        traits.forEach(conditions::ofTrait);
        conditions.ofTime();
        conditions.ofProducts();
        return conditions;
    }

    /** Those that can be a cause, in the order of their text. */
    List<Condition> all() {
        return all;
    }

    /** How many conditions are tested in all. */
    int tests() {
        return all.size() + others.values().stream().mapToInt(Integer::intValue).sum();
    }

    /** How many pairs of conditions, as {@link Condition#pairsWith} says. */
    long pairs() {
        Map<String, Integer> byTrait = new HashMap<>(others);
        all.forEach(condition -> byTrait.merge(condition.trait(), 1, Integer::sum));
        long ofTime = (long) Optional.ofNullable(byTrait.remove(Condition.TRIED_AFTER))
                        .orElse(0)
                * Optional.ofNullable(byTrait.remove(Condition.TRIED_UNTIL)).orElse(0);
        long lasting = byTrait.values().stream().mapToInt(Integer::intValue).sum();
        long pairs = lasting * (lasting - 1) / 2 + ofTime;
        for (int alike : byTrait.values()) {
            pairs -= (long) alike * (alike - 1) / 2;
        }
        return pairs;
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
        boolean countable = numbers.size() <= MOST_CUTS;
        values.forEach((value, hosts) -> {
            if (countable || !(value instanceof Trait.Number)) {
                add(trait, new HostCondition.Comparison(trait, HostCondition.Operator.EQUAL, value), hosts);
            }
        });
        add(trait, new HostCondition.Not(new HostCondition.IsSet(trait)), notSet);
        cuts(trait, numbers);
    }

    /** Two halves of the hosts that have a value: those at or below a cut, and those above it. */
    private interface Halves<T> {
        void add(T low, T high, long[] below, long[] above);
    }

    private void cuts(String trait, TreeMap<BigDecimal, long[]> numbers) {
        cuts(numbers, (low, high, below, above) -> {
            Trait.Number cut = new Trait.Number(between(low, high));
            add(trait, new HostCondition.Comparison(trait, HostCondition.Operator.AT_MOST, cut), below);
            add(trait, new HostCondition.Comparison(trait, HostCondition.Operator.GREATER, cut), above);
        });
    }

    /** Beginning and end are told apart like traits, so that both together make a stretch of time. */
    private void ofTime() {
        TreeMap<Instant, long[]> instants = new TreeMap<>();
        for (int i = 0; i < tried.size(); i++) {
            Bits.set(instants.computeIfAbsent(tried.get(i).at(), at -> Bits.none(tried.size())), i);
        }
        cuts(instants, (low, high, below, above) -> {
            Instant cut = low.plus(Duration.between(low, high).dividedBy(2)).truncatedTo(ChronoUnit.SECONDS);
            Instant between = cut.isBefore(low) ? low : cut;
            add(Condition.of(Condition.TRIED_UNTIL, new Span(Optional.empty(), Optional.of(between)), below));
            add(Condition.of(Condition.TRIED_AFTER, new Span(Optional.of(between), Optional.empty()), above));
        });
    }

    /** Between neighbouring values; of more than 32 cuts those at 32 quantiles of the hosts. */
    private <T> void cuts(TreeMap<T, long[]> values, Halves<T> halves) {
        if (values.size() < 2) {
            return;
        }
        long[] below = Bits.none(tried.size());
        int counted = values.values().stream().mapToInt(Bits::count).sum();
        int between = values.size() - 1;
        double step = between <= MOST_CUTS ? 0 : (double) counted / (MOST_CUTS + 1);
        double next = step;
        int so = 0;
        long[] every = Bits.none(tried.size());
        values.values().forEach(hosts -> or(every, hosts));
        for (Map.Entry<T, long[]> entry : values.headMap(values.lastKey()).entrySet()) {
            or(below, entry.getValue());
            so += Bits.count(entry.getValue());
            if (so >= next) {
                next += step;
                long[] above = every.clone();
                for (int i = 0; i < above.length; i++) {
                    above[i] &= ~below[i];
                }
                halves.add(entry.getKey(), values.higherKey(entry.getKey()), below.clone(), above);
            }
        }
    }

    /** Half-way, with as many digits as a trait may have. */
    private static BigDecimal between(BigDecimal low, BigDecimal high) {
        BigDecimal middle = low.add(high).divide(BigDecimal.valueOf(2));
        return middle.scale() <= MOST_DIGITS ? middle : middle.setScale(MOST_DIGITS, RoundingMode.FLOOR);
    }

    private static void or(long[] into, long[] other) {
        for (int i = 0; i < into.length; i++) {
            into[i] |= other[i];
        }
    }

    /**
     * Hardly one of hundreds of products matters: sets are made only of versions that enough failed hosts have, the
     * others are counted as tests.
     */
    private void ofProducts() {
        Set<Product> own = new HashSet<>();
        tried.forEach(
                one -> one.before().ifPresent(before -> own.add(before.build().product())));
        int[] hosts = new int[versions.size()];
        int[] failed = new int[versions.size()];
        int[] hostsOfProduct = new int[versions.products()];
        int[] lastOfProduct = new int[versions.products()];
        for (int i = 0; i < tried.size(); i++) {
            for (int version : versions.of(tried.get(i).host())) {
                hosts[version]++;
                failed[version] += tried.get(i).failed() ? 1 : 0;
                int product = versions.product(version);
                if (lastOfProduct[product] != i + 1) {
                    lastOfProduct[product] = i + 1;
                    hostsOfProduct[product]++;
                }
            }
        }
        long[][] sets = new long[versions.size()][];
        for (int version = 0; version < sets.length; version++) {
            double share = (double) hostsOfProduct[versions.product(version)] / tried.size();
            if (share >= RAREST_PRODUCT
                    && share <= 1 - RAREST_PRODUCT
                    && hosts[version] >= FEWEST_HOSTS
                    && !own.contains(versions.fact(version).build().product())) {
                if (failed[version] >= FEWEST_HOSTS) {
                    sets[version] = Bits.none(tried.size());
                } else {
                    others.merge(versions.fact(version).build().product().purl(), 1, Integer::sum);
                }
            }
        }
        for (int i = 0; i < tried.size(); i++) {
            for (int version : versions.of(tried.get(i).host())) {
                if (sets[version] != null) {
                    Bits.set(sets[version], i);
                }
            }
        }
        Map<Product, Map<String, long[]>> byProduct = new HashMap<>();
        for (int version = 0; version < sets.length; version++) {
            if (sets[version] != null) {
                gather(byProduct, versions.fact(version), sets[version]);
            }
        }
        for (int i = 0; i < tried.size(); i++) {
            if (tried.get(i).before().isPresent()) {
                long[] one = Bits.none(tried.size());
                Bits.set(one, i);
                gather(byProduct, tried.get(i).before().get(), one);
            }
        }
        byProduct.forEach(this::ofVersions);
        all.sort((a, b) -> a.text().compareTo(b.text()));
    }

    private static void gather(Map<Product, Map<String, long[]>> byProduct, InstalledProduct product, long[] hosts) {
        byProduct
                .computeIfAbsent(product.build().product(), p -> new TreeMap<>())
                .merge(product.version(), hosts, (a, b) -> {
                    or(a, b);
                    return a;
                });
    }

    private void ofVersions(Product product, Map<String, long[]> versions) {
        String name = product.purl();
        versions.forEach((version, hosts) -> add(
                name,
                new HostCondition.Comparison(name, HostCondition.Operator.EQUAL, new Trait.Text(version)),
                hosts));
    }

    private void add(String trait, HostCondition of, long[] hosts) {
        add(Condition.of(trait, of, hosts));
    }

    private void add(Condition condition) {
        if (condition.count() >= FEWEST_HOSTS && condition.count() < tried.size()) {
            all.add(condition);
        }
    }
}
