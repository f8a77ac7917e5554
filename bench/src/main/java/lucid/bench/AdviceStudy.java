package lucid.bench;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeMap;
import lucid.core.fleet.FailureClass;
import lucid.core.gate.PilotGate;
import lucid.core.update.AttackVector;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.weighing.BaselineRates;
import lucid.core.weighing.CellTries;
import lucid.core.weighing.FailureRate;
import lucid.core.weighing.PopulationFacts;
import lucid.core.weighing.Rates;
import lucid.core.weighing.UpdateFacts;
import lucid.core.weighing.VulnerabilityRisk;
import lucid.core.weighing.Weigher;
import lucid.core.weighing.Weighing;
import lucid.core.weighing.Weights;
import org.apache.commons.statistics.distribution.BetaDistribution;

/**
 * What following the suggestions costs, in points (one: a host of tier 4 lost), against simple ways of doing without
 * them, and against who knows what will come. In each world thirty updates come out for four populations. How often an
 * update fails is drawn from the sorts of the model; its vulnerability is exploited as often as its probability says,
 * from a random day on, which is known two days later. What fails costs its harm; what is exploited costs a thirtieth
 * of its consequence on each day and host that still lacks it. What lacks it at the end owes what updates usually cost.
 */
public final class AdviceStudy {

    private static final int WORLDS = 200;
    private static final int UPDATES = 30;
    private static final int DAYS = 45;
    private static final int SOAK = 3;
    private static final int KNOWN_AFTER = 2;
    private static final int RULE_DAYS = 10;
    private static final double USUAL = BaselineRates.Baseline.NONE.rate();
    private static final double USUAL_MEAN = new FailureRate(USUAL, 0, 0).mean();
    private static final Rates RATES = new Rates();

    /** @param delay of its rule, in days */
    private record Place(int tier, int hosts, Weights.Facing facing, int delay) {}

    private static final List<Place> PLACES = List.of(
            new Place(4, 12, Weights.Facing.INTERNAL, 0),
            new Place(3, 157, Weights.Facing.INTERNAL, RULE_DAYS),
            new Place(2, 63, Weights.Facing.PUBLIC, RULE_DAYS + 4),
            new Place(1, 58, Weights.Facing.INTERNAL, 28));

    /** What an update is in truth. */
    private record Truth(double rate, Optional<VulnerabilityRisk> risk, int exploitedFrom, long seed) {
        static Truth draw(SplittableRandom random) {
            double sort = random.nextDouble();
            double rate = sort < .9
                    ? beta(random, .5, .5 * (1 - USUAL) / USUAL)
                    : sort < .97 ? beta(random, 1, 15) : beta(random, 2, 1);
            if (random.nextInt(100) < 40) {
                return new Truth(rate, Optional.empty(), Integer.MAX_VALUE, random.nextLong());
            }
            double base = 4 + 5.8 * random.nextDouble();
            double probability = random.nextInt(100) < 85
                    ? .0005 + .01 * random.nextDouble()
                    : Math.min(.9, .02 - .1 * Math.log(1 - random.nextDouble()));
            boolean exploited = random.nextDouble() < probability;
            return new Truth(
                    rate,
                    Optional.of(new VulnerabilityRisk(
                            "CVE-2026-9000001",
                            Optional.empty(),
                            false,
                            Optional.of(probability),
                            base >= 9 ? Rating.CRITICAL : base >= 7 ? Rating.HIGH : Rating.MEDIUM,
                            random.nextBoolean() ? AttackVector.NETWORK : AttackVector.LOCAL,
                            Optional.of(base))),
                    exploited ? random.nextInt(20) : Integer.MAX_VALUE,
                    random.nextLong());
        }

        private static double beta(SplittableRandom random, double alpha, double beta) {
            return BetaDistribution.of(alpha, beta).inverseCumulativeProbability(random.nextDouble());
        }

        /** What the analyst knows of it on a day. */
        Optional<VulnerabilityRisk> known(int day) {
            return risk.map(of -> new VulnerabilityRisk(
                    of.id(),
                    of.closedBy(),
                    day - KNOWN_AFTER >= exploitedFrom,
                    of.probability(),
                    of.rating(),
                    of.vector(),
                    of.base()));
        }
    }

    /** How one population stands. */
    private static final class State {
        private final Place place;
        private int installed;
        /** Hosts that tried up to yesterday, and those of them that failed, by class. */
        private int tried;

        private final Map<FailureClass, Integer> failures = new EnumMap<>(FailureClass.class);
        private int refused;
        private boolean released;

        private State(Place place) {
            this.place = place;
        }

        private int lacking() {
            return place.hosts() - installed;
        }
    }

    /** How many hosts of a population may have it by the end of a day. */
    private interface Way {
        int mayHave(int day, State of, List<State> all, Truth truth);
    }

    private static final Map<String, Way> RULES_OF_THUMB = Map.of(
            "everything at once", (day, of, all, truth) -> of.place.hosts(),
            "everything after 14 days", (day, of, all, truth) -> day >= 14 ? of.place.hosts() : 0,
            "a pilot, then all", AdviceStudy::pilotThenAll,
            "as the rules say", (day, of, all, truth) -> day >= of.place.delay() ? of.place.hosts() : 0);

    private static int pilotThenAll(int day, State of, List<State> all, Truth truth) {
        int sample = Math.min(of.place.hosts(), 58);
        PilotGate gate = new PilotGate(.05, sample);
        int failed = of.failures.values().stream().mapToInt(Integer::intValue).sum();
        of.released |= day >= SOAK && of.tried >= sample && gate.isMet(of.tried - failed, failed);
        return of.released
                ? of.place.hosts()
                : gate.isFailed(of.tried, failed, of.failures.getOrDefault(FailureClass.DOWN, 0)) ? 0 : sample;
    }

    /** As the suggestion of each day says. */
    private record Advised(Weights weights) implements Way {
        @Override
        public int mayHave(int day, State of, List<State> all, Truth truth) {
            if (of.lacking() == 0) {
                return 0;
            }
            int tried = all.stream().mapToInt(state -> state.tried).sum();
            Map<FailureClass, Integer> failures = new EnumMap<>(FailureClass.class);
            all.forEach(state -> state.failures.forEach((kind, count) -> failures.merge(kind, count, Integer::sum)));
            Optional<VulnerabilityRisk> risk = truth.known(day);
            int lacking = of.lacking();
            Weighing weighing = new Weigher(
                            weights,
                            new UpdateFacts(
                                    risk.isPresent() ? Kind.SECURITY : Kind.BUGFIX,
                                    risk.stream().toList(),
                                    true,
                                    false,
                                    List.of(CellTries.of(tried, failures)),
                                    BaselineRates.Baseline.NONE),
                            RATES)
                    .weigh(
                            new PopulationFacts(
                                    of.place.tier(),
                                    List.of(new PopulationFacts.CellHosts(
                                            lacking,
                                            0,
                                            List.of(new PopulationFacts.Exposed(
                                                    lacking,
                                                    0,
                                                    of.place.facing(),
                                                    risk.isPresent() ? Set.of(0) : Set.of())),
                                            List.of(new PopulationFacts.Endangered(
                                                    lacking, Optional.empty(), Optional.empty())),
                                            0,
                                            0,
                                            0))),
                            false);
            return switch (weighing.suggestion().type()) {
                case FORCE, LET_GO -> of.place.hosts();
                case PILOT -> Math.min(of.place.hosts(), 58);
                case LEAVE_TO_RULE -> day >= of.place.delay() ? of.place.hosts() : 0;
                default -> 0;
            };
        }
    }

    /** @return what it costs, in points */
    private static double cost(Truth truth, Way way, List<Place> places) {
        List<State> states = places.stream().map(State::new).toList();
        double cost = 0;
        for (int day = 0; day < DAYS; day++) {
            int[] may = new int[states.size()];
            for (int i = 0; i < may.length; i++) {
                may[i] = way.mayHave(day, states.get(i), states, truth);
            }
            for (int i = 0; i < may.length; i++) {
                State of = states.get(i);
                // A third of those that may have it get it on each day.
                int more = Math.max(0, may[i] - of.installed);
                cost += install(of, Math.min(more, Math.max(5, (more + 2) / 3)), truth);
                cost += exploited(of, truth, day);
            }
        }
        for (State of : states) {
            cost += of.lacking() * weight(of) * USUAL_MEAN * .4;
        }
        return cost;
    }

    private static double weight(State of) {
        return Weights.USUAL.ofTier(of.place.tier());
    }

    private static double install(State of, int hosts, Truth truth) {
        double cost = 0;
        for (int host = of.installed; host < of.installed + hosts; host++) {
            SplittableRandom chance = new SplittableRandom(truth.seed() + 31L * of.place.tier() + 1009L * host);
            chance.nextLong();
            if (chance.nextDouble() < truth.rate()) {
                int kind = chance.nextInt(10);
                FailureClass failure =
                        kind < 6 ? FailureClass.REFUSED : kind < 9 ? FailureClass.DEGRADED : FailureClass.DOWN;
                of.failures.merge(failure, 1, Integer::sum);
                of.refused += failure == FailureClass.REFUSED ? 1 : 0;
                cost += weight(of) * Weights.USUAL.harms().get(failure);
            }
        }
        of.installed += hosts;
        of.tried += hosts;
        return cost;
    }

    private static double exploited(State of, Truth truth, int day) {
        return day < truth.exploitedFrom()
                ? 0
                : truth.risk()
                        .map(risk -> (of.lacking() + of.refused)
                                * weight(of)
                                * Weights.USUAL.openness().get(of.place.facing())
                                * Weights.USUAL.vectors().get(risk.vector())
                                * risk.countedBase(Weights.USUAL)
                                / 10
                                / 30)
                        .orElse(0.0);
    }

    /** Each population gets it on the day that turns out to be the best one, or never. */
    private static double hindsight(Truth truth) {
        double sum = 0;
        for (Place place : PLACES) {
            double best = Double.MAX_VALUE;
            for (int from = 0; from <= DAYS; from++) {
                int begin = from;
                best = Math.min(
                        best, cost(truth, (day, of, all, any) -> day >= begin ? place.hosts() : 0, List.of(place)));
            }
            sum += best;
        }
        return sum;
    }

    private static Weights scaled(double hitShare, double harm) {
        Weights usual = Weights.USUAL;
        Map<FailureClass, Double> harms = new EnumMap<>(FailureClass.class);
        usual.harms().forEach((kind, of) -> harms.put(kind, of * harm));
        return new Weights(
                usual.tiers(),
                usual.openness(),
                usual.likelihoods(),
                usual.knownExploited(),
                usual.vectors(),
                usual.bases(),
                hitShare,
                harms,
                usual.namedIssue(),
                usual.vagueIssue(),
                usual.cannotBeRemoved());
    }

    public static void main(String[] arguments) {
        Map<String, Way> ways = new TreeMap<>(RULES_OF_THUMB);
        ways.put("suggestions", new Advised(Weights.USUAL));
        ways.put("suggestions, exposure x 1/2", new Advised(scaled(.5, 1)));
        ways.put("suggestions, hazard x 1/2", new Advised(scaled(1, .5)));
        Map<String, Double> sums = new TreeMap<>();
        Map<String, Integer> best = new TreeMap<>();
        double hindsight = 0;
        for (int world = 0; world < WORLDS; world++) {
            SplittableRandom random = new SplittableRandom(world * 104_729L + 17);
            Map<String, Double> costs = new TreeMap<>();
            for (int update = 0; update < UPDATES; update++) {
                Truth truth = Truth.draw(random);
                ways.forEach((name, way) -> costs.merge(name, cost(truth, way, PLACES), Double::sum));
                hindsight += hindsight(truth);
            }
            costs.forEach((name, cost) -> {
                sums.merge(name, cost, Double::sum);
                boolean beatsAll = RULES_OF_THUMB.keySet().stream().allMatch(rule -> cost <= costs.get(rule));
                best.merge(name, beatsAll ? 1 : 0, Integer::sum);
            });
        }
        System.out.printf("hindsight: %.1f points a world of %d updates%n", hindsight / WORLDS, UPDATES);
        for (Map.Entry<String, Double> of : sums.entrySet()) {
            System.out.printf(
                    "%-28s %8.1f points a world, %.2f x hindsight; no rule of thumb cheaper in %d of %d worlds%n",
                    of.getKey(), of.getValue() / WORLDS, of.getValue() / hindsight, best.get(of.getKey()), WORLDS);
        }
    }
}
