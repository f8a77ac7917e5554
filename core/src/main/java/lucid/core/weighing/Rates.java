package lucid.core.weighing;

import java.util.HashMap;
import java.util.Map;
import org.apache.commons.statistics.distribution.BetaDistribution;

/**
 * What is believed of failure rates, with 90 % intervals. Most updates of a docket share one, and its quantiles are
 * expensive: each is worked out once.
 */
public final class Rates {

    private record Shape(double alpha, double beta) {}

    private final Map<Shape, Range> known = new HashMap<>();

    Range of(BetaDistribution rate) {
        return known.computeIfAbsent(
                new Shape(rate.getAlpha(), rate.getBeta()),
                shape -> new Range(
                        rate.getMean(),
                        rate.inverseCumulativeProbability(0.05),
                        rate.inverseCumulativeProbability(0.95)));
    }
}
