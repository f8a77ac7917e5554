package lucid.core.forecast;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.zone.ZoneOffsetTransition;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.Population;
import lucid.core.fleet.Timing;
import lucid.core.fleet.WeekSpan;

/**
 * The hours of a population as instants: when it is busy, when its windows are open, and when something may be
 * installed or restarted.
 *
 * <p>Wall times become instants once, for all days that are asked for, as sorted beginnings and ends; each question is
 * then a binary search. A beginning that a clock change skips moves to the first existing minute; of a doubled time the
 * first counts as a beginning, the second as an end.
 */
public final class Hours {

    private final Timing timing;
    private final Stretches busy;
    private final Stretches windows;

    private Hours(Timing timing, ZoneId zone, Instant from, Instant to) {
        this.timing = timing;
        this.busy = Stretches.of(timing.busy(), zone, from, to);
        this.windows = Stretches.of(timing.windows(), zone, from, to);
    }

    /** @param from earliest instant, and {@code to} the latest, that will be asked for */
    public static Hours of(Population population, Instant from, Instant to) {
        return new Hours(population.timing(), population.zone(), from, to);
    }

    public boolean isBusy(Instant at) {
        return busy.holds(at);
    }

    /**
     * The first instant at or after {@code at} at which something may be installed or restarted that is not due: within
     * a window where there are windows, else outside busy hours.
     *
     * @return none where no such instant comes in the time that was asked for
     */
    public Optional<Instant> allowed(Instant at) {
        return timing.windows().isEmpty() ? busy.free(at) : windows.next(at);
    }

    /**
     * The first instant at or after {@code at} at which something may be installed or restarted that is due: busy hours
     * give way, windows do not.
     */
    public Optional<Instant> allowedWhenDue(Instant at) {
        return timing.windows().isEmpty() ? Optional.of(at) : windows.next(at);
    }

    /**
     * When something falls due on a day of the population: at the hour at which things fall due, else as the day ends;
     * where that hour has passed, at the next.
     */
    public static Instant dueOn(LocalDate day, Population population, Instant now) {
        Optional<LocalTime> hour = population.timing().dueHour();
        if (hour.isEmpty()) {
            return day.plusDays(1).atStartOfDay(population.zone()).toInstant();
        }
        Instant due = Timing.beginning(day.atTime(hour.get()), population.zone());
        return due.isAfter(now) ? due : Timing.beginning(day.plusDays(1).atTime(hour.get()), population.zone());
    }

    /** The next stretches of time in which something may be installed or restarted, cut where the asked time ends. */
    public List<Span> nextAllowed(Instant at, int most) {
        List<Span> spans = new ArrayList<>();
        Optional<Instant> begin = allowed(at);
        while (begin.isPresent() && spans.size() < most) {
            Instant from = begin.get();
            Optional<Instant> until = timing.windows().isEmpty() ? busy.next(from) : windows.free(from);
            spans.add(new Span(from, until));
            begin = until.flatMap(this::allowed);
        }
        return spans;
    }

    /** @param until none: it goes on beyond the time that was asked for */
    public record Span(Instant from, Optional<Instant> until) {}

    private static Instant end(LocalDateTime wall, ZoneId zone) {
        ZoneOffsetTransition gap = zone.getRules().getTransition(wall);
        List<ZoneOffset> offsets = zone.getRules().getValidOffsets(wall);
        return gap != null && gap.isGap() ? gap.getInstant() : wall.toInstant(offsets.get(offsets.size() - 1));
    }

    /** Stretches of time that do not touch, as seconds since the epoch: from, until, from, until … */
    private record Stretches(long[] bounds, Instant last) {

        /** So long may a stretch begin before the day from which it is asked for. */
        private static final int DAYS_BEFORE = 8;

        static Stretches of(List<WeekSpan> spans, ZoneId zone, Instant from, Instant to) {
            List<long[]> all = new ArrayList<>();
            LocalDate last = LocalDate.ofInstant(to, zone);
            for (LocalDate day = LocalDate.ofInstant(from, zone).minusDays(DAYS_BEFORE);
                    !day.isAfter(last);
                    day = day.plusDays(1)) {
                for (WeekSpan span : spans) {
                    if (span.days().contains(day.getDayOfWeek())) {
                        LocalDate until = span.to().isAfter(span.from()) ? day : day.plusDays(1);
                        long begins =
                                Timing.beginning(day.atTime(span.from()), zone).getEpochSecond();
                        long ends = end(until.atTime(span.to()), zone).getEpochSecond();
                        if (begins < ends) {
                            all.add(new long[] {begins, ends});
                        }
                    }
                }
            }
            all.sort((a, b) -> Long.compare(a[0], b[0]));
            long[] bounds = new long[2 * all.size()];
            int size = 0;
            for (long[] one : all) {
                if (size > 0 && one[0] <= bounds[size - 1]) {
                    bounds[size - 1] = Math.max(bounds[size - 1], one[1]);
                } else {
                    bounds[size++] = one[0];
                    bounds[size++] = one[1];
                }
            }
            return new Stretches(Arrays.copyOf(bounds, size), to);
        }

        /** How many bounds lie at or before an instant: odd within a stretch. */
        private int before(Instant at) {
            int found = Arrays.binarySearch(bounds, at.getEpochSecond());
            return found >= 0 ? found + 1 : -found - 1;
        }

        boolean holds(Instant at) {
            return before(at) % 2 == 1;
        }

        /** The first instant at or after this one that lies within a stretch. */
        Optional<Instant> next(Instant at) {
            return holds(at) ? Optional.of(at) : bound(before(at));
        }

        /** The first instant at or after this one that lies outside. */
        Optional<Instant> free(Instant at) {
            return holds(at) ? bound(before(at)) : Optional.of(at);
        }

        private Optional<Instant> bound(int place) {
            return place < bounds.length
                    ? Optional.of(Instant.ofEpochSecond(bounds[place])).filter(bound -> !bound.isAfter(last))
                    : Optional.empty();
        }
    }
}
