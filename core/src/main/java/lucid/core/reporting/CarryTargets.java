package lucid.core.reporting;

import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.Rating;

/**
 * Within how many days from its release nine tenths of the hosts of a population are to carry an update.
 *
 * @param days by rating, from 1; updates of other ratings have no target
 */
public record CarryTargets(Map<Rating, Integer> days) {

    /** Which share of the hosts that it is for is to have it by then. */
    public static final double SHARE = .9;

    /**
     * Critical 15 and High 30 days (Binding Operational Directive 19-02, Cybersecurity and Infrastructure Security
     * Agency, 2019).
     */
    public static final CarryTargets USUAL = new CarryTargets(Map.of(Rating.CRITICAL, 15, Rating.HIGH, 30));

    private static final int MOST_DAYS = 366;

    /** @throws IllegalArgumentException if a number of days is not from 1 to 366 */
    public CarryTargets {
        days = Map.copyOf(days);
        days.forEach((rating, number) -> {
            if (number < 1 || number > MOST_DAYS) {
                throw new IllegalArgumentException(
                        "the target for " + rating.name().toLowerCase() + " is from 1 to " + MOST_DAYS + " days");
            }
        });
    }

    /** The last day of its target. */
    public Optional<LocalDate> lastDay(Rating rating, LocalDate published) {
        return Optional.ofNullable(days.get(rating)).map(published::plusDays);
    }

    /**
     * Whether a population has missed its target for an update.
     *
     * @param have hosts that have it
     * @param applies hosts that it is for and of which it is known whether they have it
     */
    public boolean isMissed(Rating rating, LocalDate published, int have, int applies, LocalDate today) {
        return applies > 0
                && have < SHARE * applies - 1e-9
                && lastDay(rating, published).filter(today::isAfter).isPresent();
    }
}
