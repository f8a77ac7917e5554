package lucid.core.weighing;

import java.util.List;
import java.util.stream.IntStream;
import lucid.core.fleet.FailureClass;

/**
 * Weighs one update, for one population after the other.
 *
 * <p><b>Exposure</b> of waiting is the sum over the hosts that lack it of weight(tier) × openness × risk × hit share,
 * where the risk is the largest over its vulnerabilities. <b>Hazard</b> of installing is the sum of weight(tier) ×
 * max(q × harm, p × harm of the issue), where q is the failure rate of the host's cell and p how likely an open known
 * issue hits it. <b>Usual hazard</b> is that of an update of its kind of which nothing is known.
 */
public final class Weigher {

    /** From so many tries on a known issue that names no hosts counts no more than they show. */
    private static final int TRIES_AGAINST_VAGUE_ISSUE = 20;

    private final Weights weights;
    private final UpdateFacts update;
    private final List<Range> rates;
    private final double usualHazard;
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
        double usual = update.usual().rate();
        this.rates =
                update.cells().stream().map(cell -> known.of(cell.rate(usual))).toList();
        this.usualHazard = known.of(new FailureRate(usual, 0, 0)).middle()
                * weights.harms().get(FailureClass.DEGRADED);
        this.risks = update.vulnerabilities().stream()
                .map(vulnerability -> vulnerability.risk(weights))
                .toList();
        this.hostShare = hostShare;
    }

    /** @param carryOver true while it supersedes an update under a block and nobody has answered that */
    public Weighing weigh(PopulationFacts population, boolean carryOver) {
        double weight = weights.ofTier(population.tier());
        List<Weighing.OfCell> cells = IntStream.range(0, population.cells().size())
                .mapToObj(place -> cell(place, population.cells().get(place), weight))
                .toList();
        List<Double> exploited = population.cells().stream()
                .map(hosts -> hosts.exposed().stream()
                        .mapToDouble(exposed -> exposed.hosts() * hostShare * exploitedExposureOfOne(exposed, weight))
                        .sum())
                .toList();
        double unknown = population.cells().stream()
                .flatMap(cell -> cell.exposed().stream())
                .mapToDouble(exposed -> exposed.unknown() * hostShare * exposureOfOne(exposed, weight))
                .sum();
        double exposure = cells.stream().mapToDouble(Weighing.OfCell::exposure).sum();
        double usual = cells.stream().mapToDouble(Weighing.OfCell::usual).sum();
        Range hazard = cells.stream().map(Weighing.OfCell::hazard).reduce(Range.ZERO, Range::plus);
        Suggestions suggestions = new Suggestions(update, population, cells, exploited, weight, hostShare);
        return new Weighing(
                exposure,
                unknown,
                hazard,
                usual,
                Weighing.tilt(exposure, usual, hazard),
                cells,
                suggestions.harm(suggestions.places()),
                suggestions.suggest(carryOver));
    }

    private Weighing.OfCell cell(int place, PopulationFacts.CellHosts hosts, double weight) {
        CellTries tries = update.cells().get(place);
        Range rate = rates.get(place);
        double harm = grown(tries.harm(weights));
        double exposure = hosts.exposed().stream()
                .mapToDouble(exposed -> exposed.hosts() * hostShare * exposureOfOne(exposed, weight))
                .sum();
        double usual = weight
                * usualHazard
                * hostShare
                * hosts.endangered().stream()
                        .mapToInt(PopulationFacts.Endangered::hosts)
                        .sum();
        Range hazard = new Range(
                hazard(place, hosts, weight, rate.middle()),
                hazard(place, hosts, weight, rate.low()),
                hazard(place, hosts, weight, rate.high()));
        return new Weighing.OfCell(
                tries.products(),
                tries.cause(),
                tries.tried(),
                tries.failed(),
                tries.failedElsewhere(),
                rate,
                harm,
                hosts.lacking(),
                exposure,
                hazard,
                usual,
                Weighing.tilt(exposure, usual, hazard));
    }

    private double exposureOfOne(PopulationFacts.Exposed exposed, double weight) {
        double risk =
                exposed.vulnerabilities().stream().mapToDouble(risks::get).max().orElse(0);
        return weight * weights.openness().get(exposed.facing()) * risk * weights.hitShare();
    }

    private double exploitedExposureOfOne(PopulationFacts.Exposed exposed, double weight) {
        double risk = exposed.vulnerabilities().stream()
                .filter(place -> update.vulnerabilities().get(place).knownExploited())
                .mapToDouble(risks::get)
                .max()
                .orElse(0);
        return weight * weights.openness().get(exposed.facing()) * risk * weights.hitShare();
    }

    private double hazard(int place, PopulationFacts.CellHosts hosts, double weight, double rate) {
        return hosts.endangered().stream()
                .mapToDouble(endangered -> endangered.hosts()
                        * hostShare
                        * weight
                        * hazardOfOne(place, endangered, rate).larger())
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
        return hazardOfOne(place, endangered, rates.get(place).middle());
    }

    private HazardOfOne hazardOfOne(int place, PopulationFacts.Endangered endangered, double rate) {
        CellTries tries = update.cells().get(place);
        double vagueIssue = tries.tried() >= TRIES_AGAINST_VAGUE_ISSUE
                ? Math.min(weights.vagueIssue(), rate)
                : weights.vagueIssue();
        double byIssue = Math.max(
                endangered.named().map(c -> weights.namedIssue() * harm(c)).orElse(0.0),
                endangered.vague().map(c -> vagueIssue * harm(c)).orElse(0.0));
        return new HazardOfOne(rate * grown(tries.harm(weights)), byIssue);
    }

    private double harm(FailureClass failureClass) {
        return grown(weights.harms().get(failureClass));
    }

    /** What cannot be removed again does more harm, at most that of a lost host. */
    private double grown(double harm) {
        return update.removable() ? harm : Math.min(1, harm * weights.cannotBeRemoved());
    }
}
