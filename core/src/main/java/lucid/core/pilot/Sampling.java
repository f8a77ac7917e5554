package lucid.core.pilot;

import java.math.BigDecimal;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.ToDoubleFunction;
import java.util.stream.Stream;
import lucid.core.fleet.DrawnOrder;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Trait;
import org.roaringbitmap.RoaringBitmap;

/**
 * Draws the sample of a pilot: who tries an update first, so that what they show says something about all.
 *
 * <p>Hosts that have the same traits are one <em>kind</em> (a stratum). Up to half of the sample goes to coverage: each
 * time a host of the kind that has the largest share of trait values which nobody in the sample has yet, a value
 * counting as many hosts as have it. The other half goes to proportion: each time a host of the kind that lacks most of
 * its share of the sample, which gives every kind its quota by the largest remainder. Within a kind, and between equal
 * kinds, the hosts stand in the order of SHA-256(seed, name), so that the same question draws the same hosts and nobody
 * can be suspected of having chosen them.
 *
 * <p>Costs one pass over the hosts, then one over the kinds for each host that is drawn.
 */
public final class Sampling {

    /** The traits by which a sample is drawn where nobody names others. */
    public static final List<String> USUAL_TRAITS = List.of("model", "site", "role");

    private static final int QUARTILES = 4;

    private final List<String> traits;
    private final DrawnOrder order;
    private final RoaringBitmap standsFor;
    /** Every kind of host, each with those of it that can be drawn, in their order. */
    private final List<Stratum> strata;
    /** How many hosts have a value, for each trait by its place. */
    private final List<Map<String, Integer>> values;

    /** A host that can be drawn, with what orders it. */
    private record Drawable(String digest, int number) {}

    /** A kind of hosts, and how many of it are in the sample. */
    private static final class Stratum {
        private final List<String> values;
        private final List<Host> all = new ArrayList<>();
        private final Deque<Drawable> left = new ArrayDeque<>();
        private int taken;

        Stratum(List<String> values) {
            this.values = values;
        }
    }

    private Sampling(Candidates candidates, List<String> traits, String seed, Fleet fleet) {
        this.order = new DrawnOrder(seed);
        this.standsFor = candidates.lacking();
        this.traits = traits.stream()
                .filter(trait -> fleet.hosts(standsFor)
                                .map(host -> host.trait(trait))
                                .distinct()
                                .limit(2)
                                .count()
                        > 1)
                .toList();
        List<Cuts> cuts = this.traits.stream().map(trait -> cuts(trait, fleet)).toList();
        Map<List<String>, Stratum> byValues = new LinkedHashMap<>();
        this.values = this.traits.stream()
                .<Map<String, Integer>>map(trait -> new LinkedHashMap<>())
                .toList();
        fleet.hosts(standsFor).forEach(host -> {
            List<String> of = new ArrayList<>();
            for (int place = 0; place < this.traits.size(); place++) {
                String value = cuts.get(place).words(host.trait(this.traits.get(place)));
                values.get(place).merge(value, 1, Integer::sum);
                of.add(value);
            }
            byValues.computeIfAbsent(of, Stratum::new).all.add(host);
        });
        this.strata = List.copyOf(byValues.values());
        for (Stratum stratum : strata) {
            stratum.all.stream()
                    .filter(host -> candidates.eligible().contains(host.number()))
                    .map(host -> new Drawable(order.digest(host), host.number()))
                    .sorted(Comparator.comparing(Drawable::digest))
                    .forEach(stratum.left::add);
        }
    }

    /**
     * How many hosts are drawn where nobody says: as many as can show the rate that is asked for, but not more than
     * half of those that can be drawn, unless that is fewer than 12.
     */
    public static int usualSize(int eligible, int hostsForAskedLimit) {
        return Math.min(eligible, Math.min(hostsForAskedLimit, Math.max(12, (eligible + 1) / 2)));
    }

    /**
     * Draws a sample.
     *
     * @param size how many hosts; fewer are drawn where fewer can be
     */
    public static Sample draw(Candidates candidates, int size, List<String> traits, String seed, Fleet fleet) {
        Sampling sampling = new Sampling(candidates, traits, seed, fleet);
        return sampling.sample(sampling.drawn(size, size / 2));
    }

    /**
     * Draws more hosts into a sample, by proportion.
     *
     * @param already the hosts that are in it, or were
     */
    public static Sample drawMore(
            Candidates candidates, RoaringBitmap already, int more, List<String> traits, String seed, Fleet fleet) {
        Candidates others = new Candidates(
                RoaringBitmap.or(candidates.lacking(), already),
                RoaringBitmap.andNot(candidates.eligible(), already),
                candidates.leftOut());
        Sampling sampling = new Sampling(others, traits, seed, fleet);
        sampling.take(already);
        return sampling.sample(sampling.drawn(more, 0));
    }

    /** The coverage of hosts that somebody named. */
    public static Sample of(Collection<Integer> hosts, Candidates candidates, List<String> traits, Fleet fleet) {
        Sampling sampling = new Sampling(candidates, traits, "", fleet);
        RoaringBitmap named = new RoaringBitmap();
        hosts.forEach(named::add);
        sampling.take(named);
        return sampling.sample(List.copyOf(hosts));
    }

    private void take(RoaringBitmap hosts) {
        strata.forEach(stratum -> stratum.taken = (int) stratum.all.stream()
                .filter(host -> hosts.contains(host.number()))
                .count());
    }

    private Sample sample(List<Integer> hosts) {
        List<Sample.Kind> uncovered = strata.stream()
                .filter(stratum -> stratum.taken == 0)
                .map(stratum -> new Sample.Kind(String.join(" · ", stratum.values), stratum.all.size()))
                .sorted(Comparator.comparing(Sample.Kind::hosts).reversed().thenComparing(Sample.Kind::words))
                .toList();
        return new Sample(hosts, traits, strata.size(), uncovered);
    }

    /** @param forCoverage how many of them at most are drawn for coverage */
    private List<Integer> drawn(int size, int forCoverage) {
        List<Integer> drawn = new ArrayList<>();
        Set<List<Object>> covered = new HashSet<>();
        while (drawn.size() < forCoverage) {
            ToDoubleFunction<Stratum> gain = stratum -> uncovered(stratum, covered);
            Optional<Stratum> best = best(gain).filter(stratum -> gain.applyAsDouble(stratum) > 0);
            if (best.isEmpty()) {
                break;
            }
            for (int place = 0; place < traits.size(); place++) {
                covered.add(List.of(place, best.get().values.get(place)));
            }
            drawn.add(next(best.get()));
        }
        int taken = strata.stream().mapToInt(stratum -> stratum.taken).sum();
        double share = (double) (taken + size - drawn.size()) / Math.max(1, standsFor.getCardinality());
        while (drawn.size() < size) {
            Optional<Stratum> best = best(stratum -> share * stratum.all.size() - stratum.taken);
            if (best.isEmpty()) {
                break;
            }
            drawn.add(next(best.get()));
        }
        return List.copyOf(drawn);
    }

    private double uncovered(Stratum stratum, Set<List<Object>> covered) {
        double hosts = 0;
        for (int place = 0; place < traits.size(); place++) {
            String value = stratum.values.get(place);
            if (!covered.contains(List.of(place, value))) {
                hosts += values.get(place).get(value);
            }
        }
        return hosts;
    }

    /** The kind with the highest score of which a host is left; among equals the one whose next host comes first. */
    private Optional<Stratum> best(ToDoubleFunction<Stratum> score) {
        return strata.stream()
                .filter(stratum -> !stratum.left.isEmpty())
                .max(Comparator.comparingDouble(score)
                        .thenComparing(stratum -> stratum.left.getFirst().digest(), Comparator.reverseOrder()));
    }

    private static int next(Stratum stratum) {
        stratum.taken++;
        return stratum.left.removeFirst().number();
    }

    /** The quartiles of a trait that is a number, over the hosts that have it; none for other traits. */
    private record Cuts(String trait, List<BigDecimal> at) {
        String words(Optional<Trait> value) {
            if (value.isEmpty()) {
                return "no " + trait;
            }
            if (!(value.get() instanceof Trait.Number number) || at.isEmpty()) {
                return value.get().toString();
            }
            long above =
                    at.stream().filter(cut -> number.value().compareTo(cut) > 0).count();
            return above == 0
                    ? trait + " ≤ " + at.get(0).toPlainString()
                    : trait + " > " + at.get((int) above - 1).toPlainString();
        }
    }

    private Cuts cuts(String trait, Fleet fleet) {
        List<BigDecimal> numbers = fleet.hosts(standsFor)
                .flatMap(host -> host.trait(trait).stream())
                .flatMap(value -> value instanceof Trait.Number number ? Stream.of(number.value()) : Stream.of())
                .sorted()
                .toList();
        if (numbers.stream().distinct().limit(QUARTILES + 1).count() <= QUARTILES) {
            return new Cuts(trait, numbers.isEmpty() ? List.of() : wholeValues(numbers));
        }
        List<BigDecimal> cuts = new ArrayList<>();
        for (int quartile = 1; quartile < QUARTILES; quartile++) {
            cuts.add(numbers.get(quartile * numbers.size() / QUARTILES));
        }
        return new Cuts(trait, cuts.stream().distinct().toList());
    }

    /** So few different numbers are values of their own. */
    private static List<BigDecimal> wholeValues(List<BigDecimal> numbers) {
        List<BigDecimal> distinct = numbers.stream().distinct().toList();
        return distinct.subList(0, distinct.size() - 1);
    }
}
