package lucid.core.evidence;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.Map;
import lucid.core.update.Kind;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;

/**
 * How often updates of a kind usually fail, learned from a year of tries. It is counted once a day (UTC), up to the
 * beginning of the day and from what is known then, so that all that is told on a day is compared with the same.
 */
public final class BaselineRates {

    public static final BaselineRates UNKNOWN = new BaselineRates(Map.of(), Map.of());

    private static final Duration HISTORY = Duration.ofDays(365);

    private final Map<Kind, int[]> byKind;
    private final Map<UpdateId, Own> byUpdate;

    /** What one update adds to its kind. */
    private record Own(Kind kind, int tries, int failures) {}

    private BaselineRates(Map<Kind, int[]> byKind, Map<UpdateId, Own> byUpdate) {
        this.byKind = byKind;
        this.byUpdate = byUpdate;
    }

    public static BaselineRates of(Map<Update, TriedHosts> tried, Instant now) {
        Instant to = now.truncatedTo(ChronoUnit.DAYS);
        Instant from = to.minus(HISTORY);
        Map<Kind, int[]> byKind = new EnumMap<>(Kind.class);
        Map<UpdateId, Own> byUpdate = new HashMap<>();
        tried.forEach((update, hosts) -> {
            int[] counts = new int[2];
            for (TriedHosts.Try one : hosts.tries()) {
                if (one.at().isAfter(from) && !one.at().isAfter(to)) {
                    counts[0]++;
                    counts[1] += one.failed() ? 1 : 0;
                }
            }
            if (counts[0] > 0) {
                byUpdate.put(update.id(), new Own(update.kind(), counts[0], counts[1]));
                int[] all = byKind.computeIfAbsent(update.kind(), kind -> new int[2]);
                all[0] += counts[0];
                all[1] += counts[1];
            }
        });
        return new BaselineRates(byKind, byUpdate);
    }

    /** @param tries of other updates of the kind; @param failures among them */
    public record Baseline(int tries, int failures) {
        /** The mean rate that is expected of an update nobody has tried: (failures + 1) / (tries + 100). */
        public double mean() {
            return (failures + 1.0) / (tries + 100.0);
        }
    }

    /** What is usual of updates like this one, without itself. */
    public Baseline of(Update update) {
        int[] all = byKind.getOrDefault(update.kind(), new int[2]);
        Own own = byUpdate.get(update.id());
        boolean counted = own != null && own.kind() == update.kind();
        return counted ? new Baseline(all[0] - own.tries(), all[1] - own.failures()) : new Baseline(all[0], all[1]);
    }
}
