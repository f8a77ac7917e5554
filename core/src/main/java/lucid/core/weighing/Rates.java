package lucid.core.weighing;

import java.util.HashMap;
import java.util.Map;

/**
 * Failure rates with their 90 % intervals. Most updates of a docket share one, and its quantiles are expensive: each is
 * worked out once.
 */
public final class Rates {

    private final Map<FailureRate, Range> known = new HashMap<>();

    Range of(FailureRate rate) {
        return known.computeIfAbsent(rate, FailureRate::range);
    }
}
