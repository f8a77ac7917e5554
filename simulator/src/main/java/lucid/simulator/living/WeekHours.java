package lucid.simulator.living;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Hours that come back every week, gone through minute by minute: as plain as can be, since what is reckoned more
 * cleverly elsewhere is checked against it.
 *
 * @param busy in which nothing is done that is not due
 * @param windows the only ones in which anything is done; none: any that are not busy
 */
public record WeekHours(ZoneId zone, List<Span> busy, List<Span> windows, Optional<LocalTime> dueHour) {

    /** A window may be rare; what comes later than this never comes. */
    private static final Duration AHEAD = Duration.ofDays(40);

    /** Wall times on some days of the week; what ends at or before its beginning ends on the next day. */
    public record Span(Set<DayOfWeek> days, LocalTime from, LocalTime to) {

        /** @param text such as "mon-fri 06:00-23:00", "sat,sun 22:00-02:00" or "daily 00:00-24:00" */
        public static Span parse(String text) {
            String[] parts = text.strip().toLowerCase(Locale.ROOT).split("\\s+");
            String[] times = parts[1].split("-");
            Set<DayOfWeek> days = EnumSet.noneOf(DayOfWeek.class);
            for (String part : parts[0].split(",")) {
                String[] ends = part.equals("daily") ? new String[] {"mon", "sun"} : part.split("-");
                DayOfWeek day = day(ends[0]);
                days.add(day);
                while (day != day(ends[ends.length - 1])) {
                    day = day.plus(1);
                    days.add(day);
                }
            }
            return new Span(
                    days,
                    LocalTime.parse(times[0]),
                    times[1].equals("24:00") ? LocalTime.MIDNIGHT : LocalTime.parse(times[1]));
        }

        private static DayOfWeek day(String word) {
            return Arrays.stream(DayOfWeek.values())
                    .filter(day -> day.name().toLowerCase(Locale.ROOT).startsWith(word))
                    .findFirst()
                    .orElseThrow();
        }

        boolean holds(LocalDateTime wall) {
            LocalDate day = wall.toLocalDate();
            return Stream.of(day, day.minusDays(1))
                    .filter(begun -> days.contains(begun.getDayOfWeek()))
                    .anyMatch(begun -> !wall.isBefore(begun.atTime(from))
                            && wall.isBefore((to.isAfter(from) ? begun : begun.plusDays(1)).atTime(to)));
        }
    }

    public boolean isBusy(Instant at) {
        return holds(busy, at);
    }

    private boolean holds(List<Span> spans, Instant at) {
        LocalDateTime wall = LocalDateTime.ofInstant(at, zone);
        return spans.stream().anyMatch(span -> span.holds(wall));
    }

    /** @param due true if busy hours give way */
    boolean allows(Instant at, boolean due) {
        return windows.isEmpty() ? due || !isBusy(at) : holds(windows, at);
    }

    /** The first minute from an instant on at which something may be done. */
    Optional<Instant> firstAllowed(Instant from, boolean due) {
        Instant last = from.plus(AHEAD);
        for (Instant at = from; at.isBefore(last); at = nextMinute(at)) {
            if (allows(at, due)) {
                return Optional.of(at);
            }
        }
        return Optional.empty();
    }

    private static Instant nextMinute(Instant at) {
        return at.truncatedTo(ChronoUnit.MINUTES).plus(1, ChronoUnit.MINUTES);
    }

    /** The first instant from this one on at which the clock shows the hour at which things fall due. */
    Instant atDueHour(Instant from) {
        if (dueHour.isEmpty()) {
            return from;
        }
        LocalDate day = LocalDate.ofInstant(from, zone);
        Instant today = day.atTime(dueHour.get()).atZone(zone).toInstant();
        return today.isBefore(from)
                ? day.plusDays(1).atTime(dueHour.get()).atZone(zone).toInstant()
                : today;
    }
}
