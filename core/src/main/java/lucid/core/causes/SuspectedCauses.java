package lucid.core.causes;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.function.DoubleSupplier;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.InstalledProduct;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which traits do failing hosts share? Each condition on one trait, and each pair on two, is tested with a one-sided
 * exact test, for each failure code by itself and for all failures together. The most improbable one that stands after
 * adjustment for the number of tests is a suspected cause, with what cannot be told apart from it; its hosts are set
 * aside and the rest is looked at again.
 *
 * <p>A pair counts only if it says clearly more than each of its parts. The adjustment is that of Bonferroni for the
 * two families, single conditions and pairs, each over all codes.
 */
public final class SuspectedCauses {

    private static final double HIGHEST_P = 0.01;
    private static final int FEWEST_FAILURES = 3;
    private static final double PAIR_P = 0.1;
    private static final double PAIR_RATE = 1.5;
    private static final int FAMILIES = 2;
    /** What is no more than so many times as probable as the best, */
    private static final double NEAR_P = 1000;
    /** on hosts of which so many are the same, cannot be told apart from it. */
    private static final double SAME_HOSTS = 0.7;

    private static final int MOST_ALIKE = 20;
    /** So that nothing is passed over for the last digit of a probability. */
    private static final double ROUNDING = 1 + 1e-9;

    /**
     * @param at when it tried
     * @param before the update's product that the host had when it tried, where known
     * @param code of its failure; none if it went well
     */
    public record TriedHost(Host host, Instant at, Optional<InstalledProduct> before, Optional<String> code) {
        boolean failed() {
            return code.isPresent();
        }
    }

    private SuspectedCauses() {}

    public static List<Cause> find(TriedHosts tried, Fleet fleet) {
        return find(tried.tries().stream()
                .map(one -> triedHost(one, fleet.host(one.host())))
                .toList());
    }

    private static TriedHost triedHost(TriedHosts.Try one, Host host) {
        return new TriedHost(host, one.at(), one.before(), one.failure().map(TriedHosts.Failure::code));
    }

    /** True if the host met the condition of the cause when it tried. */
    public static boolean meets(TriedHosts.Try one, Host host, Cause cause) {
        return meets(triedHost(one, host), cause.shared());
    }

    /** The hosts of {@code among} that have not tried it and would meet the condition of the cause if they did now. */
    public static RoaringBitmap meeting(Cause cause, Fleet fleet, RoaringBitmap among) {
        if (!cause.shared().lasts()) {
            return new RoaringBitmap();
        }
        return cause.shared()
                .hosts()
                .map(condition -> fleet.matching(condition, among))
                .orElseGet(among::clone);
    }

    /** The causes in the order in which they were found, the most improbable by chance first. */
    public static List<Cause> find(List<TriedHost> tried) {
        List<Cause> causes = new ArrayList<>();
        List<TriedHost> remaining = tried;
        Versions versions = null;
        while (remaining.stream().filter(TriedHost::failed).count() >= FEWEST_FAILURES) {
            // What hundreds of hosts have installed is looked through once, not for each cause anew.
            versions = versions == null ? Versions.of(remaining) : versions;
            Optional<Cause> cause = new Round(remaining, Conditions.of(remaining, versions)).best();
            if (cause.isEmpty()) {
                break;
            }
            causes.add(cause.get());
            Cause.Shared explained = cause.get().shared();
            remaining = remaining.stream().filter(one -> !meets(one, explained)).toList();
        }
        return List.copyOf(causes);
    }

    private static boolean meets(TriedHost one, Cause.Shared shared) {
        return shared.span().contains(one.at())
                && shared.hosts().filter(condition -> !meets(one, condition)).isEmpty();
    }

    /** As {@link HostCondition#test}, with the update's own product as the host had it when it tried. */
    private static boolean meets(TriedHost one, HostCondition condition) {
        if (condition instanceof HostCondition.And and) {
            return and.parts().stream().allMatch(part -> meets(one, part));
        }
        if (condition instanceof HostCondition.Comparison comparison
                && one.before()
                        .filter(b -> b.build().product().purl().equals(comparison.trait()))
                        .isPresent()) {
            return comparison.value().toString().equals(one.before().get().version());
        }
        return condition.test(one.host());
    }

    /** A candidate of one round. */
    private record Found(
            Condition first,
            Condition second,
            Optional<String> code,
            int failedInside,
            int inside,
            int failed,
            double p,
            double adjusted) {
        String text() {
            return second == null ? first.text() : first.text() + " and " + second.text();
        }

        Cause.Shared shared() {
            if (second == null) {
                return first.shared();
            }
            List<HostCondition> both = Stream.of(first, second)
                    .flatMap(part -> part.shared().hosts().stream())
                    .toList();
            return new Cause.Shared(
                    both.size() == 2
                            ? Optional.of(new HostCondition.And(both))
                            : both.stream().findFirst(),
                    first.shared().span().and(second.shared().span()));
        }

        Set<String> traits() {
            return second == null ? Set.of(first.trait()) : Set.of(first.trait(), second.trait());
        }

        long[] hosts() {
            return second == null ? first.hosts() : Bits.both(first.hosts(), second.hosts());
        }

        boolean isAboutTime() {
            return first.isAboutTime();
        }
    }

    private static final Comparator<Found> BEST = Comparator.comparingDouble(Found::p)
            .thenComparing(Comparator.comparingInt(Found::failedInside).reversed())
            .thenComparing(Found::text);

    /** One look at the hosts that no cause explains yet. */
    private static final class Round {
        private final List<TriedHost> tried;
        private final FisherExact test;
        private final Conditions conditions;
        private final List<Optional<String>> codes;
        private final long singleTests;
        private final long pairTests;
        private Found best;

        Round(List<TriedHost> tried, Conditions conditions) {
            this.tried = tried;
            this.test = new FisherExact(tried.size());
            this.conditions = conditions;
            this.codes = codes();
            this.singleTests = (long) conditions.tests() * codes.size();
            this.pairTests = conditions.pairs() * codes.size();
        }

        Optional<Cause> best() {
            for (Optional<String> code : codes) {
                look(code, this::mostProbableBest, this::offer);
            }
            if (best == null) {
                return Optional.empty();
            }
            List<Found> near = near(best);
            // What lasts does harm to the next hosts, what has passed does not: where nobody can tell, it lasts.
            Found chosen = !best.isAboutTime()
                    ? best
                    : overlapping(best, near).stream()
                            .map(Overlapping::found)
                            .filter(other -> !other.isAboutTime() && other.adjusted() <= HIGHEST_P)
                            .findFirst()
                            .orElse(best);
            return Optional.of(new Cause(
                    chosen.shared(),
                    chosen.code(),
                    new Proportion(chosen.failedInside(), chosen.inside()),
                    outside(chosen),
                    chosen.p(),
                    chosen.adjusted(),
                    alike(chosen, near)));
        }

        /**
         * What the chosen one cannot be told apart from, closest first; one for each set of traits, and of its own
         * traits the narrowest and the widest.
         */
        private List<Cause.Alike> alike(Found chosen, List<Found> near) {
            List<Found> all = new ArrayList<>(closest(chosen, near));
            for (Found part : partsThatMayBeAll(chosen)) {
                all.add(part);
                all.addAll(closest(part, near(part)));
            }
            Set<Set<String>> traits = new HashSet<>(List.of(chosen.traits()));
            return Stream.concat(
                            all.stream().filter(other -> traits.add(other.traits())), otherCuts(chosen, near).stream())
                    .map(other -> new Overlapping(other, overlap(chosen.hosts(), other.hosts())))
                    .sorted(CLOSEST)
                    .limit(MOST_ALIKE)
                    .map(this::alike)
                    .toList();
        }

        private static List<Found> closest(Found found, List<Found> near) {
            return overlapping(found, near).stream()
                    .sorted(CLOSEST)
                    .map(Overlapping::found)
                    .toList();
        }

        /**
         * Of a pair, the conditions that may be the whole cause: among the hosts that meet one, so many failures with
         * the other would be no surprise to somebody who looks at all conditions.
         */
        private List<Found> partsThatMayBeAll(Found pair) {
            if (pair.second() == null || pair.isAboutTime()) {
                return List.of();
            }
            int[] failed = failedPlaces(pair.code());
            return Stream.of(pair.first(), pair.second())
                    .map(part -> single(part, pair.code(), failed))
                    .filter(part ->
                            singleTests * test.p(pair.failedInside(), pair.inside(), part.failedInside(), part.inside())
                                    > HIGHEST_P)
                    .toList();
        }

        private Found single(Condition condition, Optional<String> code, int[] failed) {
            int inside = Bits.count(Bits.at(failed, condition.hosts()));
            double p = test.p(inside, condition.count(), failed.length, tried.size());
            return found(condition, null, code, inside, condition.count(), failed.length, p);
        }

        /** The cuts of the same numbers, nearly as improbable, that fewest and most hosts meet. */
        private static List<Found> otherCuts(Found chosen, List<Found> near) {
            List<Found> bySize = near.stream()
                    .filter(other -> !other.isAboutTime() && other.traits().equals(chosen.traits()))
                    .sorted(Comparator.comparingInt(Found::inside).thenComparing(Found::text))
                    .toList();
            return bySize.isEmpty()
                    ? List.of()
                    : Stream.of(bySize.get(0), bySize.get(bySize.size() - 1))
                            .distinct()
                            .filter(other -> other.inside() != chosen.inside())
                            .toList();
        }

        private Proportion outside(Found found) {
            return new Proportion(found.failed() - found.failedInside(), tried.size() - found.inside());
        }

        /** Everything that is nearly as improbable as what was found. */
        private List<Found> near(Found found) {
            List<Found> near = new ArrayList<>();
            double most = NEAR_P * found.p() * ROUNDING;
            look(found.code(), () -> most, other -> {
                if (other.p() <= most) {
                    near.add(other);
                }
            });
            near.sort(BEST);
            return near;
        }

        private record Overlapping(Found found, double overlap) {}

        private static final Comparator<Overlapping> CLOSEST =
                Comparator.comparingDouble(Overlapping::overlap).reversed().thenComparing(Overlapping::found, BEST);

        private static List<Overlapping> overlapping(Found found, List<Found> near) {
            long[] hosts = found.hosts();
            return near.stream()
                    .filter(other -> !other.text().equals(found.text()))
                    .map(other -> new Overlapping(other, overlap(hosts, other.hosts())))
                    .filter(other -> other.overlap() >= SAME_HOSTS)
                    .toList();
        }

        private Cause.Alike alike(Overlapping other) {
            return new Cause.Alike(
                    other.found().shared(),
                    new Proportion(other.found().failedInside(), other.found().inside()),
                    outside(other.found()),
                    other.found().p(),
                    other.overlap());
        }

        /**
         * P. Jaccard, "Étude comparative de la distribution florale", 1901: of what is in either, the share in both.
         */
        private static double overlap(long[] a, long[] b) {
            int both = Bits.countBoth(a, b);
            return (double) both / (Bits.count(a) + Bits.count(b) - both);
        }

        /** Each code by itself, then all together where there are several. */
        private List<Optional<String>> codes() {
            TreeSet<String> distinct = new TreeSet<>();
            tried.forEach(one -> one.code().ifPresent(distinct::add));
            List<Optional<String>> clusters =
                    new ArrayList<>(distinct.stream().map(Optional::of).toList());
            if (distinct.size() > 1) {
                clusters.add(Optional.empty());
            }
            return clusters;
        }

        /** What can still become the best among pairs. */
        private double mostProbableBest() {
            return Math.min(HIGHEST_P / FAMILIES / pairTests, best == null ? 1 : best.p()) * ROUNDING;
        }

        private void offer(Found found) {
            if (found.adjusted() <= HIGHEST_P && (best == null || BEST.compare(found, best) < 0)) {
                best = found;
            }
        }

        /**
         * Looks at every condition for one code, and at every pair that counts.
         *
         * @param most pairs that are more probable than this may be left out
         */
        private void look(Optional<String> code, DoubleSupplier most, Consumer<Found> sink) {
            int[] failed = failedPlaces(code);
            if (failed.length < FEWEST_FAILURES) {
                return;
            }
            List<Single> singles = new ArrayList<>();
            for (Condition condition : conditions.all()) {
                long[] failures = Bits.at(failed, condition.hosts());
                int inside = Bits.count(failures);
                if (inside >= FEWEST_FAILURES) {
                    double p = test.p(inside, condition.count(), failed.length, tried.size());
                    singles.add(new Single(condition, failures, inside, p));
                    sink.accept(found(condition, null, code, inside, condition.count(), failed.length, p));
                }
            }
            List<Single> parts = singles.stream()
                    .filter(single -> single.rate() * PAIR_RATE <= 1)
                    .sorted(Comparator.comparingInt(Single::failedInside).reversed())
                    .toList();
            int fewest = fewestFailuresOfAPair(FEWEST_FAILURES, failed.length, most.getAsDouble());
            for (int i = 0; i < parts.size() && parts.get(i).failedInside() >= fewest; i++) {
                for (int j = i + 1; j < parts.size() && parts.get(j).failedInside() >= fewest; j++) {
                    int inside =
                            Bits.countBoth(parts.get(i).failures(), parts.get(j).failures());
                    if (inside >= fewest) {
                        pair(parts.get(i), parts.get(j), code, inside, failed.length, sink);
                        fewest = fewestFailuresOfAPair(fewest, failed.length, most.getAsDouble());
                    }
                }
            }
        }

        /**
         * With fewer failures than this not even a pair that only failed hosts meet could be improbable enough: such
         * pairs need not be looked at. With the parts in the order of their failures this spares nearly all of them.
         */
        private int fewestFailuresOfAPair(int least, int failed, double most) {
            int fewest = least;
            while (fewest <= failed && test.p(fewest, fewest, failed, tried.size()) > most) {
                fewest++;
            }
            return fewest;
        }

        private void pair(Single a, Single b, Optional<String> code, int inside, int failed, Consumer<Found> sink) {
            if (!a.condition().pairsWith(b.condition())) {
                return;
            }
            int hosts = Bits.countBoth(a.condition().hosts(), b.condition().hosts());
            if ((double) inside / hosts < PAIR_RATE * Math.max(a.rate(), b.rate())) {
                return;
            }
            double p = test.p(inside, hosts, failed, tried.size());
            if (p <= PAIR_P * Math.min(a.p(), b.p())) {
                boolean inOrder = a.condition().text().compareTo(b.condition().text()) < 0;
                sink.accept(found(
                        inOrder ? a.condition() : b.condition(),
                        inOrder ? b.condition() : a.condition(),
                        code,
                        inside,
                        hosts,
                        failed,
                        p));
            }
        }

        private Found found(
                Condition first,
                Condition second,
                Optional<String> code,
                int failedInside,
                int inside,
                int failed,
                double p) {
            long tests = second == null ? singleTests : pairTests;
            return new Found(first, second, code, failedInside, inside, failed, p, Math.min(1, FAMILIES * p * tests));
        }

        private int[] failedPlaces(Optional<String> code) {
            return IntStream.range(0, tried.size())
                    .filter(i -> tried.get(i).failed()
                            && (code.isEmpty() || tried.get(i).code().equals(code)))
                    .toArray();
        }
    }

    /** @param failures one bit for each failed host of the cluster */
    private record Single(Condition condition, long[] failures, int failedInside, double p) {
        double rate() {
            return (double) failedInside / condition.count();
        }
    }
}
