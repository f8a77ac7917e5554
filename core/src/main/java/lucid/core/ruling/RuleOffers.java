package lucid.core.ruling;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Stream;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Update;

/**
 * When standing rules offer an update that nobody has judged. The delay counts from publication, but from the first
 * reading of a document that was already older than the delay when it was read; while the fleet is watchful it is
 * doubled. Where a rule waits for the tries of another population, it counts from when these have shown enough.
 */
final class RuleOffers {

    private final Update update;
    /** The one that was declared last comes first. */
    private final List<Caution> cautions;

    private final List<TriesShown> shown;

    RuleOffers(Update update, List<Caution> cautions, List<TriesShown> shown) {
        this.update = update;
        this.cautions = cautions.stream()
                .sorted(Comparator.comparing(Caution::number).reversed())
                .toList();
        this.shown = shown;
    }

    Optional<Caution> cautionAt(Instant at) {
        return cautions.stream().filter(caution -> caution.standsAt(at)).findFirst();
    }

    private boolean standsAt(Caution.Level level, Instant at) {
        return cautionAt(at).filter(caution -> caution.level() == level).isPresent();
    }

    /** True if what the rule says lets it go, whatever the release of a population or the fleet's caution say. */
    boolean hasPassed(StandingRule.Offer offer, Instant at) {
        return begin(offer, standsAt(Caution.Level.WATCHFUL, at) ? 2 : 1, at)
                .filter(begin -> !begin.isAfter(at))
                .isPresent();
    }

    boolean offers(Population entry, StandingRule.Offer offer, Instant at) {
        return entry.heldBelow(update).isEmpty() && !standsAt(Caution.Level.JUDGED_ONLY, at) && hasPassed(offer, at);
    }

    /**
     * When they offer it, as it looks at an instant: when they did, if they offer it then; else when they next will;
     * never, if empty. What its vendor has withdrawn, or what has no fixed version, is never offered by a rule, nor
     * what is above the release of the population.
     */
    Optional<Instant> offeredAt(Population entry, StandingRule.Offer offer, Instant at) {
        return offers(entry, offer, at)
                ? begin(offer, 1, at)
                : firstChange(offer, at, instant -> offers(entry, offer, instant));
    }

    /** The next instant at which the rule, by its delay alone, will have let it go. */
    Optional<Instant> passesAt(StandingRule.Offer offer, Instant at) {
        return firstChange(offer, at, instant -> hasPassed(offer, instant));
    }

    private Optional<Instant> firstChange(StandingRule.Offer offer, Instant at, Predicate<Instant> when) {
        return changes(offer)
                .filter(instant -> instant.isAfter(at))
                .sorted()
                .filter(when)
                .findFirst();
    }

    /** The instants at which what a rule says may change. */
    Stream<Instant> changes(StandingRule.Offer offer) {
        return Stream.of(
                        Stream.of(1, 2).flatMap(times -> begin(offer, times, Instant.MAX).stream()),
                        offer.after().flatMap(this::shownBy).stream()
                                .flatMap(tries -> Stream.concat(tries.metAt().stream(), tries.failedAt().stream())),
                        offer.after().stream().flatMap(after -> Stream.of(1, 2).map(times -> latest(after, times))),
                        offer.after().isEmpty() || offer.delay().isEmpty()
                                ? Stream.<Instant>empty()
                                : offer.after().flatMap(this::shownBy).flatMap(TriesShown::metAt).stream()
                                        .flatMap(met -> Stream.of(1, 2)
                                                .map(times -> met.plus(
                                                        offer.delay().get().multipliedBy(times)))),
                        cautions.stream().flatMap(caution -> Stream.of(caution.createdAt(), caution.until())),
                        cautions.stream().flatMap(caution -> caution.revokedAt().stream()))
                .flatMap(instants -> instants);
    }

    /** The end of the delay, so many times over, by what is known at an instant; none: nobody can tell, or never. */
    private Optional<Instant> begin(StandingRule.Offer offer, int times, Instant known) {
        if (!update.canBeOffered() || offer.delay().isEmpty()) {
            return Optional.empty();
        }
        Duration delay = offer.delay().get();
        if (offer.after().isEmpty()) {
            return Optional.of(start(delay).plus(delay.multipliedBy(times)));
        }
        Optional<TriesShown> tries = shownBy(offer.after().get());
        if (tries.flatMap(TriesShown::failedAt).filter(at -> !at.isAfter(known)).isPresent()) {
            return Optional.empty();
        }
        Instant latest = latest(offer.after().get(), times);
        return Optional.of(tries.flatMap(TriesShown::metAt)
                .filter(at -> !at.isAfter(known))
                .map(at -> at.plus(delay.multipliedBy(times)))
                .filter(latest::isAfter)
                .orElse(latest));
    }

    private Instant latest(StandingRule.AfterTries after, int times) {
        return start(after.latest()).plus(after.latest().multipliedBy(times));
    }

    /** Other fixes than those that were tried show nothing of these. */
    private Optional<TriesShown> shownBy(StandingRule.AfterTries after) {
        return shown.stream()
                .filter(tries -> tries.population().equals(after.population()))
                .filter(tries -> Stream.concat(tries.metAt().stream(), tries.failedAt().stream())
                        .allMatch(at -> update.newFixesAfter(at).isEmpty()))
                .findFirst();
    }

    private Instant start(Duration delay) {
        boolean readLate =
                Duration.between(update.published(), update.firstRead()).compareTo(delay) > 0;
        return readLate ? update.firstRead() : update.published();
    }
}
