package lucid.core.weighing;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import lucid.core.fleet.FailureClass;
import lucid.core.update.Product;

/**
 * What would have to be otherwise for the suggestion to be another: found by weighing anew, one input after the other.
 */
public final class FlipPoints {

    private static final int MOST_FAILURES = 20;
    private static final int MOST_CLEAN_TRIES = 500;
    private static final double PROBABILITY_STEP = 0.001;
    private static final List<Double> HOST_SHARES = List.of(0.9, 1.1, 0.8, 1.25, 0.7, 1.5, 0.6, 1.75, 0.5, 2.0);

    private final Weights weights;
    private final UpdateFacts update;
    private final PopulationFacts population;
    private final boolean carryOver;
    private final Rates rates = new Rates();
    private final Suggestion now;

    private FlipPoints(Weights weights, UpdateFacts update, PopulationFacts population, boolean carryOver) {
        this.weights = weights;
        this.update = update;
        this.population = population;
        this.carryOver = carryOver;
        this.now = suggestion(update);
    }

    /** At most one for each input; an input that changes nothing within its range has none. */
    public static List<FlipPoint> of(
            Weights weights, UpdateFacts update, PopulationFacts population, boolean carryOver) {
        FlipPoints points = new FlipPoints(weights, update, population, carryOver);
        if (carryOver || !points.now.type().isSuggestion()) {
            return List.of();
        }
        List<FlipPoint> found = new ArrayList<>();
        points.failures().ifPresent(found::add);
        points.cleanTries().ifPresent(found::add);
        points.probability().ifPresent(found::add);
        points.knownExploited().ifPresent(found::add);
        points.hosts().ifPresent(found::add);
        return found;
    }

    private Suggestion suggestion(UpdateFacts facts) {
        return new Weigher(weights, facts, rates).weigh(population, carryOver).suggestion();
    }

    private Optional<FlipPoint> flip(FlipPoint.Input input, double value, Suggestion other) {
        return other.equals(now) ? Optional.empty() : Optional.of(new FlipPoint(input, value, other));
    }

    /**
     * More tries fall into the last cell of the products that most hosts of the population lack: whoever fails or not
     * next has no known cause.
     */
    private UpdateFacts withTries(int more, int failed) {
        int last = lastCell();
        FailureClass worst = update.cells().stream()
                .flatMap(cell -> cell.failures().keySet().stream())
                .max(Comparator.naturalOrder())
                .orElse(FailureClass.DEGRADED);
        List<CellTries> cells = new ArrayList<>(update.cells());
        cells.set(last, cells.get(last).with(more, failed, worst));
        return update.withCells(cells);
    }

    private int lastCell() {
        Map<List<Product>, Integer> lacking = new HashMap<>();
        for (int place = 0; place < update.cells().size(); place++) {
            lacking.merge(
                    update.cells().get(place).products(),
                    population.cells().get(place).lacking(),
                    Integer::sum);
        }
        return IntStream.range(0, update.cells().size())
                .filter(place -> update.cells().get(place).cause().isEmpty())
                .boxed()
                .max(Comparator.comparing((Integer place) ->
                                lacking.get(update.cells().get(place).products()))
                        .thenComparing(Comparator.reverseOrder()))
                .orElseThrow();
    }

    private Optional<FlipPoint> failures() {
        return IntStream.rangeClosed(1, MOST_FAILURES)
                .boxed()
                .flatMap(more -> flip(FlipPoint.Input.FAILURES, more, suggestion(withTries(more, more))).stream())
                .findFirst();
    }

    /** In steps that grow, then back to the first: clean tries only ever make the hazard smaller. */
    private Optional<FlipPoint> cleanTries() {
        int low = 0;
        int high = 1;
        while (suggestion(withTries(high, 0)).equals(now)) {
            if (high == MOST_CLEAN_TRIES) {
                return Optional.empty();
            }
            low = high;
            high = Math.min(MOST_CLEAN_TRIES, high * 2);
        }
        while (high - low > 1) {
            int middle = (low + high) / 2;
            if (suggestion(withTries(middle, 0)).equals(now)) {
                low = middle;
            } else {
                high = middle;
            }
        }
        return flip(FlipPoint.Input.CLEAN_TRIES, high, suggestion(withTries(high, 0)));
    }

    /** The vulnerability with the largest risk. */
    private int mostSevere() {
        return IntStream.range(0, update.vulnerabilities().size())
                .boxed()
                .max(Comparator.comparingDouble((Integer place) ->
                                update.vulnerabilities().get(place).risk(weights))
                        .thenComparing(Comparator.<Integer>naturalOrder().reversed()))
                .orElse(-1);
    }

    private UpdateFacts with(int place, VulnerabilityRisk vulnerability) {
        List<VulnerabilityRisk> vulnerabilities = new ArrayList<>(update.vulnerabilities());
        vulnerabilities.set(place, vulnerability);
        return update.withVulnerabilities(vulnerabilities);
    }

    /** Upwards from the present probability, else downwards. */
    private Optional<FlipPoint> probability() {
        int place = mostSevere();
        if (place < 0 || update.vulnerabilities().get(place).knownExploited()) {
            return Optional.empty();
        }
        VulnerabilityRisk vulnerability = update.vulnerabilities().get(place);
        double present = vulnerability.likelihood(weights);
        return bisect(vulnerability, place, present, 1).or(() -> bisect(vulnerability, place, present, 0));
    }

    private Optional<FlipPoint> bisect(VulnerabilityRisk vulnerability, int place, double present, double end) {
        if (suggestion(with(place, vulnerability.with(end))).equals(now)) {
            return Optional.empty();
        }
        double same = present;
        double other = end;
        while (Math.abs(other - same) > PROBABILITY_STEP) {
            double middle = (same + other) / 2;
            if (suggestion(with(place, vulnerability.with(middle))).equals(now)) {
                same = middle;
            } else {
                other = middle;
            }
        }
        double rounded = end > present
                ? Math.ceil(other / PROBABILITY_STEP) * PROBABILITY_STEP
                : Math.floor(other / PROBABILITY_STEP) * PROBABILITY_STEP;
        return flip(
                FlipPoint.Input.PROBABILITY,
                Math.round(rounded / PROBABILITY_STEP) * PROBABILITY_STEP,
                suggestion(with(place, vulnerability.with(rounded))));
    }

    private Optional<FlipPoint> knownExploited() {
        int place = mostSevere();
        if (place < 0) {
            return Optional.empty();
        }
        boolean known = update.vulnerabilities().stream().anyMatch(VulnerabilityRisk::knownExploited);
        UpdateFacts otherwise = known
                ? update.withVulnerabilities(update.vulnerabilities().stream()
                        .map(w -> w.with(false))
                        .toList())
                : with(place, update.vulnerabilities().get(place).with(true));
        return flip(FlipPoint.Input.KNOWN_EXPLOITED, known ? 0 : 1, suggestion(otherwise));
    }

    /** The share nearest to the present number that changes it. */
    private Optional<FlipPoint> hosts() {
        return HOST_SHARES.stream()
                .flatMap(share -> flip(
                        FlipPoint.Input.HOSTS,
                        share,
                        new Weigher(weights, update, share, rates)
                                .weigh(population, carryOver)
                                .suggestion())
                        .stream())
                .findFirst();
    }
}
