package lucid.core.ruling;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;

/**
 * Between two instants nothing is offered, installed or restarted on the hosts of some populations, whatever the
 * update. What falls due meanwhile waits. A freeze of all populations is "stop everything".
 *
 * @param populations entries of the ladder that it is for; empty: all
 * @param until after {@code from}, at most {@link #LONGEST} after it
 */
public record Freeze(
        DecisionNumber.OfFreeze number,
        Set<PopulationId> populations,
        Instant from,
        Instant until,
        String reason,
        String author,
        Instant createdAt,
        Optional<Instant> revokedAt)
        implements Decision {

    public static final Duration LONGEST = Duration.ofDays(35);

    /** @throws IllegalArgumentException if it does not end after it begins, or lasts too long */
    public Freeze {
        populations = Set.copyOf(populations);
        if (!until.isAfter(from) || Duration.between(from, until).compareTo(LONGEST) > 0) {
            throw new IllegalArgumentException("a freeze ends after it begins, at most " + LONGEST.toDays() + " days");
        }
    }

    public boolean isOfAll() {
        return populations.isEmpty();
    }

    public boolean covers(PopulationId population) {
        return populations.isEmpty() || populations.contains(population);
    }

    @Override
    public boolean covers(Host host, Population entry) {
        return covers(entry.id());
    }

    /** True if it is made, not taken back, and holds at {@code instant}. */
    public boolean standsAt(Instant instant) {
        return isMadeBy(instant) && !instant.isBefore(from) && instant.isBefore(until);
    }

    public Freeze revoked(Instant instant) {
        return new Freeze(number, populations, from, until, reason, author, createdAt, Optional.of(instant));
    }
}
