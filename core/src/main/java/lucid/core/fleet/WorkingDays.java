package lucid.core.fleet;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * On which days somebody is there to see what goes wrong on the hosts of a population: from Monday to Friday, but for
 * its holidays, in its time zone.
 */
public final class WorkingDays {

    private static final Set<DayOfWeek> WEEKEND = Set.of(DayOfWeek.SATURDAY, DayOfWeek.SUNDAY);

    private final Population population;
    private final List<HolidayCalendar> holidays;

    private WorkingDays(Population population, List<HolidayCalendar> holidays) {
        this.population = population;
        this.holidays = holidays;
    }

    public static WorkingDays of(Population population, Ladder ladder) {
        return new WorkingDays(
                population,
                ladder.holidays().stream()
                        .filter(calendar -> calendar.countsFor(population.id()))
                        .toList());
    }

    /**
     * Why few are there on a day, or on the next.
     *
     * @param holiday its name; none for a weekend
     */
    public record FewThere(When when, Optional<String> holiday) {}

    /** A weekend begins with its Friday evening, and a holiday with the evening before. */
    public enum When {
        ON_HOLIDAY,
        BEFORE_HOLIDAY,
        ON_WEEKEND,
        BEFORE_WEEKEND
    }

    /** Why few are there to see what begins at an instant; none: they are there on that day and on the next. */
    public Optional<FewThere> fewThere(Instant at) {
        LocalDate day = LocalDate.ofInstant(at, population.zone());
        return holiday(day)
                .map(name -> new FewThere(When.ON_HOLIDAY, Optional.of(name)))
                .or(() -> WEEKEND.contains(day.getDayOfWeek())
                        ? Optional.of(new FewThere(When.ON_WEEKEND, Optional.empty()))
                        : Optional.empty())
                .or(() -> holiday(day.plusDays(1)).map(name -> new FewThere(When.BEFORE_HOLIDAY, Optional.of(name))))
                .or(() -> WEEKEND.contains(day.plusDays(1).getDayOfWeek())
                        ? Optional.of(new FewThere(When.BEFORE_WEEKEND, Optional.empty()))
                        : Optional.empty());
    }

    /** How much of the time between two instants is on working days; zero if the second is not the later. */
    public Duration between(Instant from, Instant until) {
        Duration sum = Duration.ZERO;
        Instant at = from;
        while (at.isBefore(until)) {
            LocalDate day = LocalDate.ofInstant(at, population.zone());
            Instant next = day.plusDays(1).atStartOfDay(population.zone()).toInstant();
            Instant end = next.isBefore(until) ? next : until;
            if (!WEEKEND.contains(day.getDayOfWeek()) && holiday(day).isEmpty()) {
                sum = sum.plus(Duration.between(at, end));
            }
            at = next;
        }
        return sum;
    }

    private Optional<String> holiday(LocalDate day) {
        return holidays.stream()
                .flatMap(calendar -> calendar.on(day).stream())
                .map(Holiday::name)
                .findFirst();
    }
}
