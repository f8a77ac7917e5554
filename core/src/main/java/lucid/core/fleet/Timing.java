package lucid.core.fleet;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.zone.ZoneOffsetTransition;
import java.util.List;
import java.util.Optional;

/**
 * When the hosts of a population report, and when what is offered to them may disturb whoever works with them.
 *
 * @param zone in which its hours and days are told
 * @param rhythm how often its hosts report; none: {@link Host#DEFAULT_RHYTHM}
 * @param busy hours in which nothing is installed or restarted before it is due
 * @param windows the only hours in which anything is installed or restarted, also past due; none: any that are not busy
 * @param dueHour time of the day to which a due instant moves forward; none: it stays as it is
 * @param allowance how long a host that was away has after its return until anything is due; not negative
 * @param start how an offered update begins
 * @param earlyRestart whether a restart comes as soon as it may; else only when it is due
 * @param restraint when its hosts keep from installing by themselves, also past due
 */
public record Timing(
        ZoneId zone,
        Optional<Duration> rhythm,
        List<WeekSpan> busy,
        List<WeekSpan> windows,
        Optional<LocalTime> dueHour,
        Duration allowance,
        StartMode start,
        boolean earlyRestart,
        Restraint restraint) {

    /** Hosts for which nobody has to wait: no hours, by itself. */
    public static final Timing ANY_TIME = new Timing(
            ZoneOffset.UTC,
            Optional.empty(),
            List.of(),
            List.of(),
            Optional.empty(),
            Duration.ZERO,
            StartMode.BY_ITSELF,
            true,
            Restraint.USUAL);

    public Timing {
        busy = List.copyOf(busy);
        windows = List.copyOf(windows);
        if (allowance.isNegative()) {
            throw new IllegalArgumentException("the time for a host that was away must not be negative");
        }
    }

    /** A due instant moves forward to the hour at which things fall due. */
    public Instant atDueHour(Instant at) {
        return dueHour.map(hour -> next(at, hour)).orElse(at);
    }

    private Instant next(Instant at, LocalTime hour) {
        LocalDate day = LocalDate.ofInstant(at, zone);
        Instant today = beginning(day.atTime(hour), zone);
        return today.isBefore(at) ? beginning(day.plusDays(1).atTime(hour), zone) : today;
    }

    /** A wall time that a clock change skips moves to the first existing minute; of a doubled one the first counts. */
    public static Instant beginning(LocalDateTime wall, ZoneId zone) {
        ZoneOffsetTransition gap = zone.getRules().getTransition(wall);
        return gap != null && gap.isGap()
                ? gap.getInstant()
                : wall.toInstant(zone.getRules().getValidOffsets(wall).get(0));
    }
}
