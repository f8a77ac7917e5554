package lucid.core.causes;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.IntStream;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.InstalledProduct;

/**
 * Which traits do failing hosts share? Each condition on one trait, and each pair on two, is tested with a one-sided
 * exact test, for each failure code by itself and for all failures together. The most improbable one that stands after
 * adjustment for the number of tests is a suspected cause; its hosts are set aside and the rest is looked at again.
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
    /** So that nothing is passed over for the last digit of a probability. */
    private static final double ROUNDING = 1 + 1e-9;

    /**
     * @param before the update's product that the host had when it tried, where known
     * @param code of its failure; none if it went well
     */
    public record TriedHost(Host host, Optional<InstalledProduct> before, Optional<String> code) {
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
        return new TriedHost(host, one.before(), one.failure().map(TriedHosts.Failure::code));
    }

    /** True if the host met the condition of the cause when it tried. */
    public static boolean meets(TriedHosts.Try one, Host host, Cause cause) {
        return meets(triedHost(one, host), cause.hosts());
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
            HostCondition explained = cause.get().hosts();
            remaining = remaining.stream().filter(one -> !meets(one, explained)).toList();
        }
        return List.copyOf(causes);
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

        HostCondition condition() {
            return second == null
                    ? first.condition()
                    : new HostCondition.And(List.of(first.condition(), second.condition()));
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
                look(code);
            }
            return Optional.ofNullable(best)
                    .map(found -> new Cause(
                            found.condition(),
                            found.code(),
                            new Proportion(found.failedInside(), found.inside()),
                            new Proportion(found.failed() - found.failedInside(), tried.size() - found.inside()),
                            found.p(),
                            found.adjusted()));
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

        private void look(Optional<String> code) {
            int[] failed = failedPlaces(code);
            if (failed.length < FEWEST_FAILURES) {
                return;
            }
            List<Single> singles = new ArrayList<>();
            for (Condition condition : conditions.all()) {
                long[] failures = Bits.at(failed, condition.hosts());
                int inside = Bits.count(failures);
                if (inside >= FEWEST_FAILURES) {
                    Single single = new Single(
                            condition,
                            failures,
                            inside,
                            test.p(inside, condition.count(), failed.length, tried.size()));
                    singles.add(single);
                    offer(
                            single.condition(),
                            null,
                            code,
                            inside,
                            condition.count(),
                            failed.length,
                            single.p(),
                            singleTests);
                }
            }
            List<Single> parts = singles.stream()
                    .filter(single -> single.rate() * PAIR_RATE <= 1)
                    .sorted(Comparator.comparingInt(Single::failedInside).reversed())
                    .toList();
            int fewest = fewestFailuresOfAPair(FEWEST_FAILURES, failed.length);
            for (int i = 0; i < parts.size() && parts.get(i).failedInside() >= fewest; i++) {
                for (int j = i + 1; j < parts.size() && parts.get(j).failedInside() >= fewest; j++) {
                    int inside =
                            Bits.countBoth(parts.get(i).failures(), parts.get(j).failures());
                    if (inside >= fewest) {
                        pair(parts.get(i), parts.get(j), code, inside, failed.length);
                        fewest = fewestFailuresOfAPair(fewest, failed.length);
                    }
                }
            }
        }

        /**
         * With fewer failures than this not even a pair that only failed hosts meet could stand after adjustment, or be
         * less probable than the best so far: such pairs need not be looked at. With the parts in the order of their
         * failures this spares nearly all of them.
         */
        private int fewestFailuresOfAPair(int least, int failed) {
            double most = Math.min(HIGHEST_P / FAMILIES / pairTests, best == null ? 1 : best.p()) * ROUNDING;
            int fewest = least;
            while (fewest <= failed && test.p(fewest, fewest, failed, tried.size()) > most) {
                fewest++;
            }
            return fewest;
        }

        private void pair(Single a, Single b, Optional<String> code, int inside, int failed) {
            if (a.condition().trait().equals(b.condition().trait())) {
                return;
            }
            int hosts = Bits.countBoth(a.condition().hosts(), b.condition().hosts());
            if ((double) inside / hosts < PAIR_RATE * Math.max(a.rate(), b.rate())) {
                return;
            }
            double p = test.p(inside, hosts, failed, tried.size());
            if (p <= PAIR_P * Math.min(a.p(), b.p())) {
                boolean inOrder = a.condition().text().compareTo(b.condition().text()) < 0;
                offer(
                        inOrder ? a.condition() : b.condition(),
                        inOrder ? b.condition() : a.condition(),
                        code,
                        inside,
                        hosts,
                        failed,
                        p,
                        pairTests);
            }
        }

        private int[] failedPlaces(Optional<String> code) {
            return IntStream.range(0, tried.size())
                    .filter(i -> tried.get(i).failed()
                            && (code.isEmpty() || tried.get(i).code().equals(code)))
                    .toArray();
        }

        private void offer(
                Condition first,
                Condition second,
                Optional<String> code,
                int failedInside,
                int inside,
                int failed,
                double p,
                long tests) {
            double adjusted = Math.min(1, FAMILIES * p * tests);
            if (adjusted <= HIGHEST_P) {
                Found found = new Found(first, second, code, failedInside, inside, failed, p, adjusted);
                if (best == null || BEST.compare(found, best) < 0) {
                    best = found;
                }
            }
        }
    }

    /** @param failures one bit for each failed host of the cluster */
    private record Single(Condition condition, long[] failures, int failedInside, double p) {
        double rate() {
            return (double) failedInside / condition.count();
        }
    }
}
