package lucid.core.update;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Optional;

/**
 * Until when an update can be removed again from a host that carries it, as its vendor tells.
 *
 * @param until last day for all hosts, {@link #NEVER} where it cannot be removed at all; none: not told
 * @param days how many days after a host has installed it; none: not told
 */
public record Removable(Optional<LocalDate> until, Optional<Integer> days) {

    /** A day before any release: there is no last day on which it could be removed. */
    public static final LocalDate NEVER = LocalDate.EPOCH;

    public static final Removable NOT_TOLD = new Removable(Optional.empty(), Optional.empty());

    /** @throws IllegalArgumentException if the number of days is negative */
    public Removable {
        if (days.filter(number -> number < 0).isPresent()) {
            throw new IllegalArgumentException("the days on which it can be removed must not be negative");
        }
    }

    public static Removable until(LocalDate day) {
        return new Removable(Optional.of(day), Optional.empty());
    }

    /**
     * The last day on which a host can remove it.
     *
     * @param installed when the host installed it, where that is known
     * @param zone of the host's population
     * @return empty where nobody can tell
     */
    public Optional<LocalDate> lastDay(Optional<Instant> installed, ZoneId zone) {
        Optional<LocalDate> own = days.flatMap(
                number -> installed.map(at -> LocalDate.ofInstant(at, zone).plusDays(number)));
        return until.isPresent() && own.isPresent()
                ? Optional.of(own.get().isBefore(until.get()) ? own.get() : until.get())
                // Without the day of its install nobody knows which of the two comes first, unless the one has passed.
                : days.isPresent() && own.isEmpty() ? until.filter(NEVER::equals) : until.or(() -> own);
    }

    /** False if no host can remove it any longer. */
    public boolean isPossibleOn(LocalDate today) {
        return until.filter(last -> last.isBefore(today)).isEmpty();
    }
}
