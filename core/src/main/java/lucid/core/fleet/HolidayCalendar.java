package lucid.core.fleet;

import java.time.LocalDate;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The holidays of a place, and whose they are.
 *
 * @param populations for which they count; none: for all
 * @param days in their order
 */
public record HolidayCalendar(String name, Set<PopulationId> populations, List<Holiday> days) {

    public HolidayCalendar {
        populations = Set.copyOf(populations);
        days = days.stream()
                .distinct()
                .sorted(Comparator.comparing(Holiday::first).thenComparing(Holiday::name))
                .toList();
    }

    public boolean countsFor(PopulationId population) {
        return populations.isEmpty() || populations.contains(population);
    }

    public Optional<Holiday> on(LocalDate day) {
        return days.stream().filter(holiday -> holiday.isOn(day)).findFirst();
    }

    /** The last day of which it says anything; none if it says nothing. */
    public Optional<LocalDate> knownUntil() {
        return days.stream().map(Holiday::last).max(Comparator.naturalOrder());
    }
}
