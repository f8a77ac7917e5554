package lucid.core.weighing;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.EnumMap;
import java.util.Map;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.update.Kind;
import lucid.core.update.Update;

/**
 * How often updates of a kind usually fail, learned from a year of tries of all their revisions. Updates found bad are
 * left out: one of them would be everybody's usual rate, and then everybody's excuse. It is counted once a day (UTC),
 * up to the beginning of the day and from what is known then, so that all that is told on a day is compared with the
 * same.
 */
public final class BaselineRates {

    public static final BaselineRates UNKNOWN = new BaselineRates(Map.of());

    private static final Duration HISTORY = Duration.ofDays(365);

    private final Map<Kind, Baseline> byKind;

    private BaselineRates(Map<Kind, Baseline> byKind) {
        this.byKind = byKind;
    }

    /**
     * @param tries of updates of a kind
     * @param failures among them
     */
    public record Baseline(int tries, int failures) {

        public static final Baseline NONE = new Baseline(0, 0);

        private static final int FEWEST_TRIES = 100;
        private static final double WITHOUT_HISTORY = 0.003;
        private static final double LOWEST = 0.001;
        private static final double HIGHEST = 0.02;

        /** How often sound updates of the kind fail: 0.001 to 0.02, and 0.003 from fewer than 100 tries. */
        public double rate() {
            return tries < FEWEST_TRIES
                    ? WITHOUT_HISTORY
                    : Math.max(LOWEST, Math.min(HIGHEST, (double) failures / tries));
        }

        private Baseline plus(Baseline other) {
            return new Baseline(tries + other.tries, failures + other.failures);
        }
    }

    /** @param tried hosts that tried any revision of each update */
    public static BaselineRates of(Map<Update, TriedHosts> tried, Instant now) {
        Instant to = now.truncatedTo(ChronoUnit.DAYS);
        Instant from = to.minus(HISTORY);
        Map<Kind, Baseline> byKind = new EnumMap<>(Kind.class);
        tried.forEach((update, hosts) -> {
            CellTries tries = counted(hosts, from, to);
            if (tries.tried() > 0 && !isBad(tries)) {
                byKind.merge(update.kind(), new Baseline(tries.tried(), tries.failed()), Baseline::plus);
            }
        });
        return new BaselineRates(byKind);
    }

    private static CellTries counted(TriedHosts hosts, Instant from, Instant to) {
        int tried = 0;
        Map<FailureClass, Integer> failures = new EnumMap<>(FailureClass.class);
        for (TriedHosts.Try one : hosts.tries()) {
            if (one.at().isAfter(from) && !one.at().isAfter(to)) {
                tried++;
                one.failure().ifPresent(failure -> failures.merge(failure.failureClass(), 1, Integer::sum));
            }
        }
        return CellTries.of(tried, failures);
    }

    /** Judged by the rate without history, since what is usual is only being counted. */
    private static boolean isBad(CellTries tries) {
        return !HarmInEvidence.of(tries, Baseline.NONE.rate(), false, false).isEmpty();
    }

    /** What is usual of updates like this one. */
    public Baseline of(Update update) {
        return byKind.getOrDefault(update.kind(), Baseline.NONE);
    }
}
