package lucid.core.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.Host;

/**
 * When a host can be reached: it checks in every so often, but for stretches in which it is silent or frozen; it checks
 * in as it comes back.
 *
 * @param lastCheckIn from which its check-ins are counted on
 * @param rhythm between two check-ins, above 0
 * @param away the earliest first; they do not overlap
 */
public record Presence(Instant lastCheckIn, Duration rhythm, List<Away> away) {

    /** A host that missed so many check-ins is silent. */
    private static final int SILENT_AFTER = 3;

    /**
     * @param until when it comes back; none: nobody knows
     * @param frozen true if it is there and checks in, but nothing may be done on it
     */
    public record Away(Instant from, Optional<Instant> until, boolean frozen) {
        /** A host of which nothing is heard. */
        public Away(Instant from, Optional<Instant> until) {
            this(from, until, false);
        }

        boolean holds(Instant at) {
            return !at.isBefore(from)
                    && until.filter(back -> !at.isBefore(back)).isEmpty();
        }
    }

    public Presence {
        away = away.stream().sorted(Comparator.comparing(Away::from)).toList();
    }

    /**
     * As it is known at {@code now}: a host that is silent comes back nobody knows when.
     *
     * @param freezes of its population, which do not overlap
     */
    public static Presence of(Host host, Duration rhythm, List<Away> freezes, Instant now) {
        boolean silent =
                host.lastReport().plus(rhythm.multipliedBy(SILENT_AFTER)).isBefore(now);
        return new Presence(
                host.lastReport(),
                rhythm,
                silent ? List.of(new Away(host.lastReport().plus(rhythm), Optional.empty())) : freezes);
    }

    /**
     * The first check-in at or after an instant at which something may be done on it; none if it is away then and
     * nobody knows until when.
     */
    Optional<Instant> checkIn(Instant from) {
        Instant at = from;
        Instant anchor = lastCheckIn;
        for (Away one : away) {
            Instant next = counted(anchor, at);
            if (next.isBefore(one.from())) {
                return Optional.of(next);
            }
            if (one.until().isEmpty()) {
                return Optional.empty();
            }
            if (one.frozen()) {
                at = one.until().get().isAfter(at) ? one.until().get() : at;
                continue;
            }
            anchor = one.until().get();
            if (!anchor.isBefore(at)) {
                return Optional.of(anchor);
            }
        }
        return Optional.of(counted(anchor, at));
    }

    private Instant counted(Instant anchor, Instant at) {
        if (!at.isAfter(anchor)) {
            return anchor;
        }
        long rhythms = (Duration.between(anchor, at).toMillis() + rhythm.toMillis() - 1) / rhythm.toMillis();
        return anchor.plus(rhythm.multipliedBy(rhythms));
    }

    /** The first instant at or after this one at which it is there. */
    Optional<Instant> there(Instant at) {
        return thereFor(at, Duration.ZERO);
    }

    /** The first instant at or after this one at which it is there, and has been for so long since it was last away. */
    Optional<Instant> thereFor(Instant at, Duration since) {
        Instant next = at;
        for (Away one : away) {
            if (one.from().isAfter(next)) {
                break;
            }
            if (one.until().isEmpty()) {
                return Optional.empty();
            }
            Instant settled = one.until().get().plus(since);
            if (settled.isAfter(next)) {
                next = settled;
            }
        }
        return Optional.of(next);
    }
}
