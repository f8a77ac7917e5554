package lucid.core.causes;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import lucid.core.TestFleet;
import lucid.core.causes.SuspectedCauses.TriedHost;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Trait;
import org.junit.jupiter.api.Test;

/**
 * Random fleets, searched by the bits and bounds of {@link SuspectedCauses} and by asking every host for every
 * condition and pair.
 */
class SuspectedCausesFuzzing {

    @Test
    void theSearchFindsWhatLookingAtEverythingFinds() {
        int found = 0;
        for (int seed = 0; seed < 60; seed++) {
            List<TriedHost> tried = fleet(new Random(seed));
            List<Cause> causes = SuspectedCauses.find(tried);
            assertThat(causes).as("seed " + seed).isEqualTo(byLookingAtEverything(tried));
            found += causes.size();
        }
        assertThat(found).as("causes in all").isGreaterThan(60);
    }

    /** 40 to 160 hosts, of which those fail often that meet a hidden pair or have one version of an agent. */
    private static List<TriedHost> fleet(Random random) {
        List<TriedHost> tried = new ArrayList<>();
        int size = 40 + random.nextInt(120);
        int decoys = random.nextInt(4);
        for (int i = 0; i < size; i++) {
            Map<String, Trait> traits = new HashMap<>();
            int reader = random.nextInt(3);
            int free = random.nextInt(20) * 50;
            if (random.nextInt(10) > 0) {
                traits.put("reader", TestFleet.text("R" + reader));
            }
            if (random.nextInt(10) > 0) {
                traits.put("free", TestFleet.number(free));
            }
            for (int decoy = 0; decoy < decoys; decoy++) {
                traits.put(
                        "decoy" + decoy,
                        decoy % 2 == 0
                                ? TestFleet.text("v" + (random.nextInt(3) == 0 ? reader : random.nextInt(4)))
                                : TestFleet.number(random.nextInt(9)));
            }
            int agent = random.nextInt(4);
            String[] products = agent == 0 ? new String[0] : new String[] {"pkg:deb/fathom/agent@" + agent};
            boolean pair = reader == 2 && free < 400;
            boolean outage = size % 5 == 0 && i % 24 < 3;
            boolean failed = random.nextDouble() < (pair || outage || agent == 3 && size % 2 == 0 ? .75 : .02);
            tried.add(new TriedHost(
                    TestFleet.hostSeen(i, TestFleet.NOW, traits, products),
                    TestFleet.NOW.plusSeconds(3600L * (i % 24)),
                    Optional.empty(),
                    failed ? Optional.of(pair ? "A" : "B") : Optional.empty()));
        }
        return tried;
    }

    private record Candidate(String trait, Cause.Shared shared) {
        Candidate(String trait, HostCondition condition) {
            this(trait, Cause.Shared.of(condition));
        }

        long count(Stream<TriedHost> hosts) {
            return hosts.filter(one -> meets(one, shared)).count();
        }
    }

    private static boolean meets(TriedHost one, Cause.Shared shared) {
        return shared.hosts().stream().allMatch(condition -> condition.test(one.host()))
                && shared.span().contains(one.at());
    }

    private static List<Cause> byLookingAtEverything(List<TriedHost> tried) {
        List<Cause> causes = new ArrayList<>();
        List<TriedHost> left = tried;
        Optional<Cause> best = best(left);
        while (best.isPresent()) {
            Cause.Shared explained = best.get().shared();
            causes.add(best.get());
            left = left.stream().filter(one -> !meets(one, explained)).toList();
            best = best(left);
        }
        return causes;
    }

    private static final Comparator<Cause> BEST = Comparator.comparingDouble(Cause::p)
            .thenComparing(
                    Comparator.comparingInt((Cause one) -> one.inside().count()).reversed())
            .thenComparing(one -> one.shared().toString());

    private static Optional<Cause> best(List<TriedHost> tried) {
        if (tried.stream().filter(TriedHost::failed).count() < 3) {
            return Optional.empty();
        }
        List<Candidate> singles = candidates(tried);
        List<Candidate[]> pairs = new ArrayList<>();
        for (Candidate a : singles) {
            singles.stream()
                    .filter(b -> a.shared().toString().compareTo(b.shared().toString()) < 0
                            && !a.trait().equals(b.trait())
                            && a.shared().span().isAlways() == b.shared().span().isAlways())
                    .forEach(b -> pairs.add(new Candidate[] {a, b}));
        }
        Set<String> codes = new TreeSet<>();
        tried.forEach(one -> one.code().ifPresent(codes::add));
        List<Optional<String>> clusters =
                new ArrayList<>(codes.stream().map(Optional::of).toList());
        if (codes.size() > 1) {
            clusters.add(Optional.empty());
        }
        List<Cause> all = new ArrayList<>();
        for (Optional<String> code : clusters) {
            Map<Candidate, Cause> ofSingle = new HashMap<>();
            for (Candidate single : singles) {
                Cause cause = cause(tried, single.shared(), code, (long) singles.size() * clusters.size());
                ofSingle.put(single, cause);
                all.add(cause);
            }
            for (Candidate[] pair : pairs) {
                Cause cause = cause(
                        tried, both(pair[0].shared(), pair[1].shared()), code, (long) pairs.size() * clusters.size());
                boolean saysMore = Stream.of(pair)
                        .map(ofSingle::get)
                        .allMatch(parent -> cause.p() <= parent.p() / 10
                                && cause.inside().rate()
                                        >= 1.5 * parent.inside().rate());
                if (cause.inside().of() > 0 && saysMore) {
                    all.add(cause);
                }
            }
        }
        all.removeIf(one -> one.inside().count() < 3);
        Optional<Cause> best = all.stream().filter(one -> one.adjusted() <= .01).min(BEST);
        return best.map(first -> {
            List<Cause> near = all.stream()
                    .filter(other -> other.code().equals(first.code()) && other.p() <= 1000 * first.p() * (1 + 1e-9))
                    .sorted(BEST)
                    .toList();
            Cause chosen = first.shared().span().isAlways()
                    ? first
                    : like(first, near, tried).stream()
                            .filter(one -> one.shared().span().isAlways() && one.adjusted() <= .01)
                            .findFirst()
                            .orElse(first);
            return new Cause(
                    chosen.shared(),
                    chosen.code(),
                    chosen.inside(),
                    chosen.outside(),
                    chosen.p(),
                    chosen.adjusted(),
                    alike(chosen, near, all, tried, (long) singles.size() * clusters.size()));
        });
    }

    /** What the cause cannot be told apart from, read off all candidates. */
    private static List<Cause.Alike> alike(
            Cause chosen, List<Cause> near, List<Cause> all, List<TriedHost> tried, long singleTests) {
        List<Cause> candidates = new ArrayList<>(closest(chosen, near, tried));
        if (chosen.shared().hosts().orElse(null) instanceof HostCondition.And and) {
            for (HostCondition condition : and.parts()) {
                Cause part = all.stream()
                        .filter(one ->
                                one.code().equals(chosen.code()) && one.shared().equals(Cause.Shared.of(condition)))
                        .findFirst()
                        .orElseThrow();
                double more = new FisherExact(tried.size())
                        .p(
                                chosen.inside().count(),
                                chosen.inside().of(),
                                part.inside().count(),
                                part.inside().of());
                if (more * singleTests > .01) {
                    candidates.add(part);
                    candidates.addAll(closest(
                            part,
                            all.stream()
                                    .filter(other -> other.code().equals(part.code())
                                            && other.p() <= 1000 * part.p() * (1 + 1e-9))
                                    .toList(),
                            tried));
                }
            }
        }
        Set<String> seen = new TreeSet<>(Set.of(traits(chosen)));
        List<Cause> listed = new ArrayList<>(
                candidates.stream().filter(other -> seen.add(traits(other))).toList());
        List<Cause> ownCuts = near.stream()
                .filter(other ->
                        other.shared().span().isAlways() && traits(other).equals(traits(chosen)))
                .sorted(Comparator.comparingInt((Cause other) -> other.inside().of())
                        .thenComparing(other -> other.shared().toString()))
                .toList();
        Set<Integer> ends = ownCuts.isEmpty() ? Set.of() : new TreeSet<>(List.of(0, ownCuts.size() - 1));
        ends.stream()
                .map(ownCuts::get)
                .filter(other -> other.inside().of() != chosen.inside().of())
                .forEach(listed::add);
        return listed.stream()
                .sorted(closestTo(chosen, tried))
                .limit(20)
                .map(other -> new Cause.Alike(
                        other.shared(),
                        other.inside(),
                        other.outside(),
                        other.p(),
                        overlap(chosen.shared(), other.shared(), tried)))
                .toList();
    }

    private static List<Cause> closest(Cause one, List<Cause> near, List<TriedHost> tried) {
        return like(one, near, tried).stream().sorted(closestTo(one, tried)).toList();
    }

    private static Comparator<Cause> closestTo(Cause one, List<TriedHost> tried) {
        return Comparator.comparingDouble((Cause other) -> overlap(one.shared(), other.shared(), tried))
                .reversed()
                .thenComparing(BEST);
    }

    /** The names of traits in a condition, and whether it is about a beginning, an end or both. */
    private static String traits(Cause cause) {
        Set<String> names = new TreeSet<>();
        cause.shared().hosts().ifPresent(condition -> names.addAll(namesIn(condition)));
        cause.shared().span().after().ifPresent(at -> names.add(" after"));
        cause.shared().span().until().ifPresent(at -> names.add(" until"));
        return names.toString();
    }

    private static Set<String> namesIn(HostCondition condition) {
        Set<String> names = new TreeSet<>();
        if (condition instanceof HostCondition.And and) {
            and.parts().forEach(part -> names.addAll(namesIn(part)));
        } else if (condition instanceof HostCondition.Comparison comparison) {
            names.add(comparison.trait());
        } else if (condition instanceof HostCondition.Not not) {
            names.add(((HostCondition.IsSet) not.inner()).trait());
        }
        return names;
    }

    private static List<Cause> like(Cause one, List<Cause> near, List<TriedHost> tried) {
        return near.stream()
                .filter(other -> !other.shared().toString().equals(one.shared().toString())
                        && overlap(one.shared(), other.shared(), tried) >= .7)
                .toList();
    }

    private static double overlap(Cause.Shared a, Cause.Shared b, List<TriedHost> tried) {
        double both =
                tried.stream().filter(one -> meets(one, a) && meets(one, b)).count();
        return both
                / tried.stream().filter(one -> meets(one, a) || meets(one, b)).count();
    }

    private static Cause.Shared both(Cause.Shared a, Cause.Shared b) {
        List<HostCondition> conditions =
                Stream.of(a, b).flatMap(one -> one.hosts().stream()).toList();
        return new Cause.Shared(
                conditions.size() == 2
                        ? Optional.of(new HostCondition.And(conditions))
                        : conditions.stream().findFirst(),
                new Span(
                        a.span().after().or(() -> b.span().after()),
                        a.span().until().or(() -> b.span().until())));
    }

    private static Cause cause(List<TriedHost> tried, Cause.Shared where, Optional<String> code, long tests) {
        int inside = 0;
        int failedInside = 0;
        int failed = 0;
        for (TriedHost one : tried) {
            boolean meets = meets(one, where);
            boolean counts = one.failed() && (code.isEmpty() || one.code().equals(code));
            inside += meets ? 1 : 0;
            failed += counts ? 1 : 0;
            failedInside += meets && counts ? 1 : 0;
        }
        double p = new FisherExact(tried.size()).p(failedInside, inside, failed, tried.size());
        return new Cause(
                where,
                code,
                new Proportion(failedInside, inside),
                new Proportion(failed - failedInside, tried.size() - inside),
                p,
                Math.min(1, 2 * p * tests),
                List.of());
    }

    private static List<Candidate> candidates(List<TriedHost> tried) {
        List<Candidate> all = new ArrayList<>();
        Set<String> traits = new TreeSet<>(Set.of("platform", "supply"));
        tried.forEach(one -> traits.addAll(one.host().traits().keySet()));
        for (String trait : traits) {
            Set<String> seen = new TreeSet<>();
            TreeMap<BigDecimal, Boolean> numbers = new TreeMap<>();
            for (TriedHost one : tried) {
                one.host()
                        .trait(trait)
                        .filter(value -> seen.add(value.toString()))
                        .ifPresent(value -> {
                            all.add(new Candidate(
                                    trait, new HostCondition.Comparison(trait, HostCondition.Operator.EQUAL, value)));
                            if (value instanceof Trait.Number number) {
                                numbers.put(number.value(), true);
                            }
                        });
            }
            all.add(new Candidate(trait, new HostCondition.Not(new HostCondition.IsSet(trait))));
            for (BigDecimal low : numbers.keySet()) {
                if (numbers.higherKey(low) != null) {
                    Trait cut = new Trait.Number(low.add(numbers.higherKey(low)).divide(BigDecimal.valueOf(2)));
                    all.add(new Candidate(
                            trait, new HostCondition.Comparison(trait, HostCondition.Operator.AT_MOST, cut)));
                    all.add(new Candidate(
                            trait, new HostCondition.Comparison(trait, HostCondition.Operator.GREATER, cut)));
                }
            }
        }
        Set<String> versions = new TreeSet<>();
        tried.forEach(one ->
                one.host().products().stream().map(InstalledProduct::version).forEach(versions::add));
        String agent = "pkg:deb/fathom/agent";
        double share = (double) tried.stream()
                        .filter(one -> !one.host().products().isEmpty())
                        .count()
                / tried.size();
        if (share >= .05 && share <= .95) {
            versions.forEach(version -> all.add(new Candidate(
                    agent,
                    new HostCondition.Comparison(agent, HostCondition.Operator.EQUAL, new Trait.Text(version)))));
        }
        TreeSet<Instant> instants = new TreeSet<>();
        tried.forEach(one -> instants.add(one.at()));
        for (Instant low : instants) {
            if (instants.higher(low) != null) {
                Instant cut = low.plusMillis(
                        Duration.between(low, instants.higher(low)).toMillis() / 2);
                all.add(new Candidate(
                        "after", new Cause.Shared(Optional.empty(), new Span(Optional.of(cut), Optional.empty()))));
                all.add(new Candidate(
                        "until", new Cause.Shared(Optional.empty(), new Span(Optional.empty(), Optional.of(cut)))));
            }
        }
        return all.stream()
                .filter(one -> one.count(tried.stream()) >= 3 && one.count(tried.stream()) < tried.size())
                .toList();
    }
}
