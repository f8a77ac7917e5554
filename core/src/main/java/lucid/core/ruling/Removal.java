package lucid.core.ruling;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * What a block that removes an update from the hosts that carry it can do there.
 *
 * @param hosts from which it is to be removed
 * @param lastDays of the hosts that can still remove it and of which that is known: by the last day on which they can,
 *     in the zone of their population
 * @param tooLate hosts that can remove it no longer, or never could
 * @param unknown hosts of which nobody can tell until when: no day is told, or not when they installed it
 * @param earlier hosts of which it is known what they had before, to which they would go back
 */
public record Removal(
        RoaringBitmap hosts,
        SortedMap<LocalDate, RoaringBitmap> lastDays,
        RoaringBitmap tooLate,
        RoaringBitmap unknown,
        RoaringBitmap earlier) {

    /** @param hosts that carry it, and from which it is to be removed */
    public static Removal of(Update update, RoaringBitmap hosts, Outcomes outcomes, Fleet fleet, Instant now) {
        Removal removal =
                new Removal(hosts, new TreeMap<>(), new RoaringBitmap(), new RoaringBitmap(), new RoaringBitmap());
        Map<Integer, Outcome> last = outcomes.last(update.id());
        for (int host : hosts) {
            ZoneId zone = fleet.ladder().entryOf(fleet.host(host)).zone();
            Optional<Outcome> installed =
                    Optional.ofNullable(last.get(host)).filter(outcome -> outcome.what() == Outcome.What.INSTALLED);
            if (installed.flatMap(Outcome::before).isPresent()) {
                removal.earlier().add(host);
            }
            Optional<LocalDate> day = update.removable().lastDay(installed.map(Outcome::at), zone);
            if (day.isEmpty()) {
                removal.unknown().add(host);
            } else if (day.get().isBefore(LocalDate.ofInstant(now, zone))) {
                removal.tooLate().add(host);
            } else {
                removal.lastDays()
                        .computeIfAbsent(day.get(), at -> new RoaringBitmap())
                        .add(host);
            }
        }
        return removal;
    }
}
