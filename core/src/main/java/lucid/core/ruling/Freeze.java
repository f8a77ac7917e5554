package lucid.core.ruling;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Spread;
import org.roaringbitmap.RoaringBitmap;

/**
 * Between two instants nothing is offered, installed or restarted on the hosts of some populations, whatever the
 * update. What falls due meanwhile waits. A freeze of all populations is "stop everything".
 *
 * @param populations entries of the ladder that it is for; empty: all
 * @param until after {@code from}, at most {@link #LONGEST} after it; where its end is spread, that of the last part
 * @param spread its end, where it does not come for all hosts at once
 */
public record Freeze(
        DecisionNumber.OfFreeze number,
        Set<PopulationId> populations,
        Instant from,
        Instant until,
        Optional<Spread> spread,
        String reason,
        String author,
        Instant createdAt,
        Optional<Instant> revokedAt)
        implements Decision {

    public static final Duration LONGEST = Duration.ofDays(35);

    /** @throws IllegalArgumentException if it does not end after it begins, or lasts too long */
    public Freeze {
        populations = Set.copyOf(populations);
        if (spread.filter(parts -> !parts.last().equals(until)
                        || !parts.parts().get(0).at().isAfter(from))
                .isPresent()) {
            throw new IllegalArgumentException("the parts of a freeze's end come after it begins, the last as it ends");
        }
        if (!until.isAfter(from) || Duration.between(from, until).compareTo(LONGEST) > 0) {
            throw new IllegalArgumentException("a freeze ends after it begins, at most " + LONGEST.toDays() + " days");
        }
    }

    /** Ends for all hosts at once. */
    public Freeze(
            DecisionNumber.OfFreeze number,
            Set<PopulationId> populations,
            Instant from,
            Instant until,
            String reason,
            String author,
            Instant createdAt,
            Optional<Instant> revokedAt) {
        this(number, populations, from, until, Optional.empty(), reason, author, createdAt, revokedAt);
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

    /** When it ends for a host. */
    public Instant endFor(int host) {
        return spread.map(parts -> parts.at(host)).orElse(until);
    }

    /** The parts in which it ends for these hosts: one, unless its end is spread. */
    public List<Spread.Part> parts(RoaringBitmap hosts) {
        return spread.map(parts -> parts.of(hosts)).orElseGet(() -> List.of(new Spread.Part(until, hosts)));
    }

    /** True while it holds for a host that it covers. */
    boolean standsFor(int host, Instant instant) {
        return standsAt(instant) && instant.isBefore(endFor(host));
    }

    /** With an end that comes for some hosts earlier than for others. */
    public Freeze spreadOver(Spread parts) {
        return new Freeze(
                number, populations, from, parts.last(), Optional.of(parts), reason, author, createdAt, revokedAt);
    }

    /** True if it is made, not taken back, and holds for some host at {@code instant}. */
    public boolean standsAt(Instant instant) {
        return isMadeBy(instant) && !instant.isBefore(from) && instant.isBefore(until);
    }

    public Freeze revoked(Instant instant) {
        return new Freeze(number, populations, from, until, spread, reason, author, createdAt, Optional.of(instant));
    }
}
