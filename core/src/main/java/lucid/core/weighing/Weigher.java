package lucid.core.weighing;

import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.fleet.FailureClass;
import lucid.core.gate.Gate;
import org.apache.commons.statistics.distribution.BetaDistribution;

/**
 * Weighs one update, for one population after the other.
 *
 * <p><b>Exposure</b> of waiting is the sum over the hosts that lack it of weight(tier) × openness × risk × hit share,
 * where the risk is the largest over its vulnerabilities. <b>Hazard</b> of installing is the sum of weight(tier) ×
 * max(q × harm, p × harm of the issue), where q is the failure rate of the host's cell and p how likely an open known
 * issue hits it.
 */
public final class Weigher {

    /** Tilt beyond which the numbers speak clearly: one side three times as heavy as the other. */
    private static final double CLEAR = Math.log(3);

    private static final int CLEAN_TRIES_AGAINST_VAGUE_ISSUE = 58;
    private static final int TRIES_AGAINST_VAGUE_ISSUE = 20;
    private static final int FEW_TRIES = 60;
    private static final int ENOUGH_TRIES = 20;
    private static final double HIGH_PROBABILITY = 0.1;
    private static final double RATE_OF_DOWN = 0.005;
    private static final double SURE = 0.9;
    private static final double MUCH_EXPOSURE = 0.5;
    private static final double MUCH_EXPOSURE_A_WEIGHT = 0.1;

    private final Weights weights;
    private final UpdateFacts update;
    private final List<Range> rates;
    private final List<Double> risks;
    private final double hostShare;

    public Weigher(Weights weights, UpdateFacts update) {
        this(weights, update, 1, new Rates());
    }

    /** @param known rates that were worked out before */
    public Weigher(Weights weights, UpdateFacts update, Rates known) {
        this(weights, update, 1, known);
    }

    /** @param hostShare counts every host as so many */
    Weigher(Weights weights, UpdateFacts update, double hostShare, Rates known) {
        this.weights = weights;
        this.update = update;
        this.rates = update.cells().stream()
                .map(cell -> known.of(cell.rate(update.usual().mean())))
                .toList();
        this.risks = update.vulnerabilities().stream()
                .map(vulnerability -> vulnerability.risk(weights))
                .toList();
        this.hostShare = hostShare;
    }

    /** @param carryOver true while it supersedes an update under a block and nobody has answered that */
    public Weighing weigh(PopulationFacts population, boolean carryOver) {
        List<Integer> all =
                IntStream.range(0, population.cells().size()).boxed().toList();
        double weight = weights.ofTier(population.tier());
        List<Weighing.OfCell> cells = all.stream()
                .map(place -> cell(place, population.cells().get(place), weight))
                .toList();
        double unknown = population.cells().stream()
                .flatMap(cell -> cell.exposed().stream())
                .mapToDouble(exposed -> exposed.unknown() * hostShare * exposureOfOne(exposed, weight))
                .sum();
        SuggestionRules judging = new SuggestionRules(population, cells);
        Range hazard = judging.hazard(all);
        double exposure = judging.exposure(all);
        return new Weighing(
                exposure,
                unknown,
                hazard,
                Weighing.tilt(exposure, hazard),
                cells,
                judging.harm(all),
                judging.suggest(all, carryOver));
    }

    private Weighing.OfCell cell(int place, PopulationFacts.CellHosts hosts, double weight) {
        CellTries tries = update.cells().get(place);
        Range rate = rates.get(place);
        double harm = grown(tries.harm(weights));
        double exposure = hosts.exposed().stream()
                .mapToDouble(exposed -> exposed.hosts() * hostShare * exposureOfOne(exposed, weight))
                .sum();
        Range hazard = new Range(
                hazard(hosts, weight, rate.middle(), harm),
                hazard(hosts, weight, rate.low(), harm),
                hazard(hosts, weight, rate.high(), harm));
        return new Weighing.OfCell(
                tries.cause(),
                tries.tried(),
                tries.failed(),
                tries.outside(),
                rate,
                harm,
                hosts.lacking(),
                exposure,
                hazard,
                Weighing.tilt(exposure, hazard));
    }

    private double exposureOfOne(PopulationFacts.Exposed exposed, double weight) {
        double risk =
                exposed.vulnerabilities().stream().mapToDouble(risks::get).max().orElse(0);
        return weight * weights.openness().get(exposed.facing()) * risk * weights.hitShare();
    }

    private double hazard(PopulationFacts.CellHosts hosts, double weight, double rate, double harm) {
        return hosts.endangered().stream()
                .mapToDouble(endangered -> endangered.hosts()
                        * hostShare
                        * weight
                        * hazardOfOne(endangered, rate, harm).larger())
                .sum();
    }

    /**
     * Share of a host that is lost by installing.
     *
     * @param byRate failure rate × harm of a failure
     * @param byIssue how likely the worst known issue hits × its harm, 0 without one
     */
    public record HazardOfOne(double byRate, double byIssue) {
        public double larger() {
            return Math.max(byRate, byIssue);
        }
    }

    /** @param place of the cell */
    public HazardOfOne hazardOfOne(int place, PopulationFacts.Endangered endangered) {
        return hazardOfOne(
                endangered,
                rates.get(place).middle(),
                grown(update.cells().get(place).harm(weights)));
    }

    private HazardOfOne hazardOfOne(PopulationFacts.Endangered endangered, double rate, double harm) {
        double vagueIssue = update.tried() >= TRIES_AGAINST_VAGUE_ISSUE
                ? Math.min(weights.vagueIssue(), rate)
                : weights.vagueIssue();
        double byIssue = Math.max(
                endangered.named().map(c -> weights.namedIssue() * harm(c)).orElse(0.0),
                endangered.vague().map(c -> vagueIssue * harm(c)).orElse(0.0));
        return new HazardOfOne(rate * harm, byIssue);
    }

    private double harm(FailureClass failureClass) {
        return grown(weights.harms().get(failureClass));
    }

    /** What cannot be removed again does more harm, at most that of a lost host. */
    private double grown(double harm) {
        return update.removable() ? harm : Math.min(1, harm * weights.cannotBeRemoved());
    }

    /** Draws conclusions from the numbers of some cells together. */
    private final class SuggestionRules {
        private final PopulationFacts population;
        private final List<Weighing.OfCell> cells;

        SuggestionRules(PopulationFacts population, List<Weighing.OfCell> cells) {
            this.population = population;
            this.cells = cells;
        }

        double exposure(List<Integer> places) {
            return places.stream()
                    .mapToDouble(place -> cells.get(place).exposure())
                    .sum();
        }

        Range hazard(List<Integer> places) {
            return places.stream().map(place -> cells.get(place).hazard()).reduce(Range.ZERO, Range::plus);
        }

        private Range tilt(List<Integer> places) {
            return Weighing.tilt(exposure(places), hazard(places));
        }

        private CellTries tries(int place) {
            return update.cells().get(place);
        }

        private int tried(List<Integer> places) {
            return places.stream().mapToInt(place -> tries(place).tried()).sum();
        }

        private int failed(List<Integer> places) {
            return places.stream().mapToInt(place -> tries(place).failed()).sum();
        }

        /** Harm in evidence. */
        Set<HarmSeen> harm(List<Integer> places) {
            Set<HarmSeen> seen = EnumSet.noneOf(HarmSeen.class);
            int clean = tried(places) - failed(places);
            boolean issue = places.stream()
                    .flatMap(place -> population.cells().get(place).endangered().stream())
                    .anyMatch(hosts -> hosts.named().isPresent()
                            || hosts.vague().isPresent() && clean < CLEAN_TRIES_AGAINST_VAGUE_ISSUE);
            if (issue) {
                seen.add(HarmSeen.KNOWN_ISSUE);
            }
            if (failed(places) >= 2
                    && Weigher.aboveUsual(
                                    tried(places),
                                    failed(places),
                                    outside(places),
                                    update.usual().mean())
                            >= SURE) {
                seen.add(HarmSeen.FAILURES_ABOVE_USUAL);
            }
            int down = places.stream()
                    .mapToInt(place -> tries(place).failures().getOrDefault(FailureClass.DOWN, 0))
                    .sum();
            if (down >= 1
                    && (tried(places) <= FEW_TRIES
                            || BetaDistribution.of(1.0 + down, 1.0 + tried(places) - down)
                                            .survivalProbability(RATE_OF_DOWN)
                                    >= SURE)) {
                seen.add(HarmSeen.HOSTS_DOWN);
            }
            return seen;
        }

        private double outside(List<Integer> places) {
            return places.stream().mapToDouble(place -> tries(place).outside()).sum();
        }

        /**
         * The cells of causes each by itself first: a block narrowed to them, then the remaining hosts from the top.
         */
        Suggestion suggest(List<Integer> places, boolean carryOver) {
            if (population.hosts() == 0) {
                return Suggestion.of(Suggestion.Type.NONE);
            }
            if (carryOver) {
                return Suggestion.of(Suggestion.Type.CARRY_OVER);
            }
            List<Integer> blocked = places.stream()
                    .filter(place -> cells.get(place).cause().isPresent()
                            && cells.get(place).lacking() > 0
                            && speaksForBlock(List.of(place)))
                    .toList();
            List<Integer> rest =
                    places.stream().filter(place -> !blocked.contains(place)).toList();
            if (blocked.isEmpty()) {
                return Suggestion.of(suggest(places));
            }
            boolean anyLeft = rest.stream()
                    .anyMatch(place -> population.cells().get(place).lacking()
                                    + population.cells().get(place).restartOutstanding()
                            > 0);
            return new Suggestion(
                    Suggestion.Type.BLOCK, blocked, anyLeft ? Optional.of(suggest(rest)) : Optional.empty());
        }

        private Suggestion.Type suggest(List<Integer> places) {
            if (speaksForForce(places)) {
                return Suggestion.Type.FORCE;
            }
            if (speaksForBlock(places)) {
                return Suggestion.Type.BLOCK;
            }
            if (speaksForPilot(places)) {
                return Suggestion.Type.PILOT;
            }
            return tilt(places).low() > 0 && tried(places) >= ENOUGH_TRIES
                    ? Suggestion.Type.LET_GO
                    : Suggestion.Type.LEAVE_TO_RULE;
        }

        private boolean speaksForForce(List<Integer> places) {
            boolean knownExploited = matters(places).stream().anyMatch(VulnerabilityRisk::knownExploited);
            boolean likely = matters(places).stream()
                    .anyMatch(w ->
                            w.probability().filter(p -> p >= HIGH_PROBABILITY).isPresent());
            return tilt(places).low() > CLEAR && (knownExploited || likely && tried(places) >= ENOUGH_TRIES);
        }

        private boolean speaksForBlock(List<Integer> places) {
            return tilt(places).high() < -CLEAR && !harm(places).isEmpty();
        }

        private boolean speaksForPilot(List<Integer> places) {
            double exposure = exposure(places);
            if (exposure > 0 && !harm(places).isEmpty()) {
                return true;
            }
            boolean risky =
                    switch (update.kind()) {
                        case UPGRADE, DRIVER, FIRMWARE -> true;
                        default ->
                            exposure >= MUCH_EXPOSURE || exposure >= MUCH_EXPOSURE_A_WEIGHT * weightOfHosts(places);
                    };
            return risky && !Gate.USUAL.isMet(tried(places), failed(places));
        }

        private double weightOfHosts(List<Integer> places) {
            int hosts = places.stream()
                    .map(population.cells()::get)
                    .mapToInt(cell -> cell.lacking() + cell.restartOutstanding())
                    .sum();
            return hosts == 0 ? Double.POSITIVE_INFINITY : hosts * hostShare * weights.ofTier(population.tier());
        }

        /** Vulnerabilities that matter on some of these hosts. */
        private List<VulnerabilityRisk> matters(List<Integer> places) {
            return places.stream()
                    .flatMap(place -> population.cells().get(place).exposed().stream())
                    .flatMap(exposed -> exposed.vulnerabilities().stream())
                    .distinct()
                    .map(update.vulnerabilities()::get)
                    .toList();
        }
    }

    /**
     * How sure it is that an update fails more than twice as often as usual.
     *
     * @param outside failures that reports from elsewhere add
     * @param usual mean rate of other updates of its kind
     */
    public static double aboveUsual(int tried, int failed, double outside, double usual) {
        return new CellTries(
                        Optional.empty(),
                        tried,
                        failed == 0 ? Map.of() : Map.of(FailureClass.DEGRADED, failed),
                        outside)
                .rate(usual)
                .survivalProbability(Math.min(1, 2 * usual));
    }
}
