package lucid.core.fleet;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;

/**
 * What happens to an update that nobody has judged.
 *
 * @param lines the first one that speaks of an update's kind and rating counts
 * @param otherwise for updates that no line speaks of
 */
public record StandingRule(List<Line> lines, Offer otherwise) {

    /** @param kinds empty: all; @param ratings empty: all */
    public record Line(Set<Kind> kinds, Set<Rating> ratings, Offer offer) {
        boolean speaksOf(Update update) {
            return (kinds.isEmpty() || kinds.contains(update.kind()))
                    && (ratings.isEmpty() || ratings.contains(update.rating()));
        }
    }

    /** @param delay from publication to the offer, in whole days; none: never without a verdict */
    public record Offer(Optional<Duration> delay) {
        public static final Offer NEVER = new Offer(Optional.empty());

        public static Offer afterDays(int days) {
            return new Offer(Optional.of(Duration.ofDays(days)));
        }
    }

    public StandingRule {
        lines = List.copyOf(lines);
    }

    public Offer offerOf(Update update) {
        return lines.stream()
                .filter(line -> line.speaksOf(update))
                .findFirst()
                .map(Line::offer)
                .orElse(otherwise);
    }
}
