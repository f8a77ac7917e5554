package lucid.core.weighing;

import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import lucid.core.causes.Cause;
import lucid.core.fleet.FailureClass;
import org.apache.commons.statistics.distribution.BetaDistribution;

/**
 * A part of the fleet in which failures are equally likely: the hosts of one suspected cause, or all that no cause
 * names.
 *
 * @param cause none for the last cell
 * @param tried hosts of the cell that tried the update
 * @param failures of them, by class
 * @param outside failures that reports from elsewhere add
 */
public record CellTries(Optional<Cause> cause, int tried, Map<FailureClass, Integer> failures, double outside) {

    public CellTries {
        failures = failures.isEmpty() ? Map.of() : new EnumMap<>(failures);
    }

    /** Strength of the prior of the last cell, in tries. */
    private static final double STRENGTH = 20;

    private static final double CAUSE_PRIOR = 0.5;

    public int failed() {
        return failures.values().stream().mapToInt(Integer::intValue).sum();
    }

    /**
     * What is believed of the failure rate: Beta(a + f, b + n − f), with the baseline rate as prior of the last cell.
     */
    BetaDistribution rate(double usual) {
        double a = cause.isPresent() ? CAUSE_PRIOR : STRENGTH * usual;
        double b = cause.isPresent() ? CAUSE_PRIOR : STRENGTH - STRENGTH * usual;
        return BetaDistribution.of(a + failed() + outside, b + tried - failed());
    }

    /** Harm of a failure, averaged over the failures; without any, that of degraded. */
    double harm(Weights weights) {
        int failed = failed();
        double sum = failures.entrySet().stream()
                .mapToDouble(e -> e.getValue() * weights.harms().get(e.getKey()))
                .sum();
        return failed == 0 ? weights.harms().get(FailureClass.DEGRADED) : sum / failed;
    }

    /** With more tries, of which some failed. */
    CellTries with(int more, int failedOfThem, FailureClass failureClass) {
        Map<FailureClass, Integer> next = new EnumMap<>(FailureClass.class);
        next.putAll(failures);
        next.merge(failureClass, failedOfThem, Integer::sum);
        next.values().removeIf(count -> count == 0);
        return new CellTries(cause, tried + more, next, outside);
    }
}
