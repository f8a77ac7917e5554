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
        boolean speaksOf(Kind kind, Rating rating) {
            return (kinds.isEmpty() || kinds.contains(kind)) && (ratings.isEmpty() || ratings.contains(rating));
        }
    }

    /**
     * @param delay from publication to the offer, in whole days; none: never without a verdict
     * @param deadline from the offer to when it is due, in whole days; none: never due
     */
    public record Offer(Optional<Duration> delay, Optional<Duration> deadline) {
        public static final Offer NEVER = new Offer(Optional.empty(), Optional.empty());

        /** @throws IllegalArgumentException if what is never offered has a deadline */
        public Offer {
            if (delay.isEmpty() && deadline.isPresent()) {
                throw new IllegalArgumentException("what is never offered cannot become due");
            }
        }

        public static Offer afterDays(int days) {
            return new Offer(Optional.of(Duration.ofDays(days)), Optional.empty());
        }

        public Offer dueAfterDays(int days) {
            return new Offer(delay, Optional.of(Duration.ofDays(days)));
        }
    }

    public StandingRule {
        lines = List.copyOf(lines);
    }

    public Offer offerOf(Update update) {
        return offerOf(update.kind(), update.rating());
    }

    public Offer offerOf(Kind kind, Rating rating) {
        return lines.stream()
                .filter(line -> line.speaksOf(kind, rating))
                .findFirst()
                .map(Line::offer)
                .orElse(otherwise);
    }
}
