package lucid.core.update;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * How often a vendor releases updates of a kind: where a population takes longer than that, the next one comes before
 * it has this one.
 *
 * @param between the median of the times between two releases of the last year
 * @param last when the last one was released
 */
public record Cadence(String vendor, Kind kind, Duration between, Instant last) {

    private static final Duration WINDOW = Duration.ofDays(365);
    private static final int FEWEST = 4;

    /**
     * The cadence of updates that follow each other.
     *
     * @return empty where fewer than four were released within a year
     */
    public static Optional<Cadence> of(String vendor, Kind kind, Catalogue catalogue, Instant now) {
        List<Instant> published = catalogue.updates().stream()
                .filter(update -> update.vendor().equals(vendor) && update.kind() == kind)
                .map(Update::published)
                .filter(at -> at.isAfter(now.minus(WINDOW)))
                .sorted(Comparator.naturalOrder())
                .toList();
        if (published.size() < FEWEST) {
            return Optional.empty();
        }
        List<Duration> between = IntStream.range(1, published.size())
                .mapToObj(place -> Duration.between(published.get(place - 1), published.get(place)))
                .sorted()
                .toList();
        return Optional.of(
                new Cadence(vendor, kind, between.get(between.size() / 2), published.get(published.size() - 1)));
    }

    /** When the next one is to be expected; it may be late already. */
    public Instant next() {
        return last.plus(between);
    }
}
