package lucid.core.weighing;

import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.causes.Cause;
import lucid.core.fleet.FailureClass;
import lucid.core.update.Product;

/**
 * A part of the fleet in which failures are equally likely: hosts that lack the same products of the update and meet
 * the same suspected cause, or none.
 *
 * @param products of the update that hosts of the cell have, where others have others of it; tries on one say nothing
 *     of another. Empty where all hosts are told apart by causes alone
 * @param cause none for the last cell of its products
 * @param tried hosts of the cell that tried the update
 * @param failures of them, by class
 * @param outside failures that reports from elsewhere add, by class; each counts as a try too
 * @param downElsewhere hosts that reports from elsewhere tell to have gone down
 */
public record CellTries(
        List<Product> products,
        Optional<Cause> cause,
        int tried,
        Map<FailureClass, Integer> failures,
        Map<FailureClass, Double> outside,
        int downElsewhere) {

    /** The prior of the harm of a failure: as if half a failure of class degraded had been seen. */
    private static final double PRIOR_FAILURES = 0.5;

    public CellTries {
        products = List.copyOf(products);
        failures = failures.isEmpty() ? Map.of() : new EnumMap<>(failures);
        outside = outside.isEmpty() ? Map.of() : new EnumMap<>(outside);
    }

    /** Tries that nothing tells apart. */
    public static CellTries of(int tried, Map<FailureClass, Integer> failures) {
        return new CellTries(List.of(), Optional.empty(), tried, failures, Map.of(), 0);
    }

    public int failed() {
        return failures.values().stream().mapToInt(Integer::intValue).sum();
    }

    public int clean() {
        return tried - failed();
    }

    public int down() {
        return failures.getOrDefault(FailureClass.DOWN, 0);
    }

    /** Failures that reports from elsewhere add, of all classes. */
    public double failedElsewhere() {
        return outside.values().stream().mapToDouble(Double::doubleValue).sum();
    }

    /** @param usual how often sound updates of the kind fail */
    public FailureRate rate(double usual) {
        return new FailureRate(usual, tried + failedElsewhere(), failed() + failedElsewhere());
    }

    /** Harm of a failure: what failures did so far, with half a failure of class degraded beside them. */
    double harm(Weights weights) {
        double sum = PRIOR_FAILURES * weights.harms().get(FailureClass.DEGRADED);
        for (FailureClass failureClass : FailureClass.values()) {
            sum += weights.harms().get(failureClass)
                    * (failures.getOrDefault(failureClass, 0) + outside.getOrDefault(failureClass, 0.0));
        }
        return sum / (PRIOR_FAILURES + failed() + failedElsewhere());
    }

    /** With more tries, of which some failed. */
    CellTries with(int more, int failedOfThem, FailureClass failureClass) {
        Map<FailureClass, Integer> next = new EnumMap<>(FailureClass.class);
        next.putAll(failures);
        next.merge(failureClass, failedOfThem, Integer::sum);
        next.values().removeIf(count -> count == 0);
        return new CellTries(products, cause, tried + more, next, outside, downElsewhere);
    }

    /** Both together, as of one cell. */
    CellTries plus(CellTries other) {
        Map<FailureClass, Integer> all = new HashMap<>(failures);
        other.failures.forEach((failureClass, count) -> all.merge(failureClass, count, Integer::sum));
        Map<FailureClass, Double> elsewhere = new HashMap<>(outside);
        other.outside.forEach((failureClass, count) -> elsewhere.merge(failureClass, count, Double::sum));
        return new CellTries(products, cause, tried + other.tried, all, elsewhere, downElsewhere + other.downElsewhere);
    }
}
