package lucid.core.fleet;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;

/**
 * What happens to an update that nobody has judged.
 *
 * @param lines the first one that speaks of an update's kind and rating, and of the host, counts
 * @param otherwise for updates that no line speaks of
 */
public record StandingRule(List<Line> lines, Offer otherwise) {

    /** @param kinds empty: all; @param ratings empty: all; @param hosts none: every host of the population */
    public record Line(Set<Kind> kinds, Set<Rating> ratings, Optional<HostCondition> hosts, Offer offer) {

        public Line(Set<Kind> kinds, Set<Rating> ratings, Offer offer) {
            this(kinds, ratings, Optional.empty(), offer);
        }

        boolean speaksOf(Kind kind, Rating rating) {
            return (kinds.isEmpty() || kinds.contains(kind)) && (ratings.isEmpty() || ratings.contains(rating));
        }
    }

    /**
     * When it is offered, and due.
     *
     * @param delay from publication to the offer, in whole days; none: never without a verdict
     * @param deadline from the offer to when it is due, in whole days; none: never due
     * @param after where it waits for the tries of another population: the delay counts from when these show enough
     */
    public record Offer(Optional<Duration> delay, Optional<Duration> deadline, Optional<AfterTries> after) {
        public static final Offer NEVER = new Offer(Optional.empty(), Optional.empty(), Optional.empty());

        /** @throws IllegalArgumentException if what is never offered has a deadline, or waits for somebody */
        public Offer {
            if (delay.isEmpty() && (deadline.isPresent() || after.isPresent())) {
                throw new IllegalArgumentException("what is never offered cannot become due");
            }
        }

        public static Offer afterDays(int days) {
            return new Offer(Optional.of(Duration.ofDays(days)), Optional.empty(), Optional.empty());
        }

        public Offer dueAfterDays(int days) {
            return new Offer(delay, Optional.of(Duration.ofDays(days)), after);
        }

        /** @param days from publication, after which it is offered whatever the others have shown */
        public Offer afterTriesOf(PopulationId population, int days) {
            return new Offer(delay, deadline, Optional.of(new AfterTries(population, Duration.ofDays(days))));
        }
    }

    /**
     * "After the pilot of population X": the tries of its hosts, in a pilot or not, must show that the update fails
     * seldom enough. If they fail, nothing is offered until somebody judges.
     *
     * @param latest from publication: then it is offered although they have not shown it
     */
    public record AfterTries(PopulationId population, Duration latest) {}

    public StandingRule {
        lines = List.copyOf(lines);
    }

    /** What it says for one host. */
    public Offer offerOf(Update update, Host host) {
        return lines.stream()
                .filter(line -> line.speaksOf(update.kind(), update.rating()))
                .filter(line -> line.hosts().filter(hosts -> !hosts.test(host)).isEmpty())
                .findFirst()
                .map(Line::offer)
                .orElse(otherwise);
    }

    /** What it says for those hosts of which no line speaks apart. */
    public Offer usualOffer(Kind kind, Rating rating) {
        List<Offer> offers = offersOf(kind, rating);
        return offers.get(offers.size() - 1);
    }

    /** All that it says for some host, in the order of its lines. */
    public List<Offer> offersOf(Kind kind, Rating rating) {
        List<Offer> offers = new ArrayList<>();
        for (Line line : lines) {
            if (line.speaksOf(kind, rating)) {
                offers.add(line.offer());
                if (line.hosts().isEmpty()) {
                    return offers;
                }
            }
        }
        offers.add(otherwise);
        return offers;
    }

    /** By what it tells hosts apart, for this update. */
    public List<HostCondition> conditionsFor(Update update) {
        return lines.stream()
                .filter(line -> line.speaksOf(update.kind(), update.rating()))
                .flatMap(line -> line.hosts().stream())
                .toList();
    }
}
