package lucid.server.reporting;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.docket.Docket;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.reporting.CarryTargets;
import lucid.core.reporting.InForceCell;
import lucid.core.reporting.TimeToCarry;
import lucid.core.ruling.Timeline;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.days.KeptDays;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views.StateCounts;
import lucid.server.web.ListFile;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** How long it takes until hosts carry updates, against what was set. */
@RestController
@RequestMapping("/api/report")
class TimeToCarryController {

    private static final int LONGEST = 1_000;

    private final KeptDays days;
    private final StoredTargets targets;
    private final Clock clock;

    TimeToCarryController(KeptDays days, StoredTargets targets, Clock clock) {
        this.days = days;
        this.targets = targets;
        this.clock = clock;
    }

    /**
     * @param updates of that rating, published in the time that is asked for
     * @param target within how many days nine tenths are to have it, where that is set
     * @param all of all populations together
     * @param cells one a population
     */
    record TimeOfRating(
            Rating rating, int updates, Optional<Integer> target, TimeToCarry.Days all, List<TimeToCarry.Days> cells) {}

    record ReportPopulation(PopulationId id, String name, String owner) {}

    /**
     * A population that has missed its target for an update.
     *
     * @param lastDay of its target
     * @param have hosts that carry it
     * @param applies hosts that it is for and of which it is known whether they carry it
     * @param withheld of those that lack it, hosts from which it is withheld
     * @param nextEnd when the first of these withholdings ends
     */
    record MissedTarget(
            UpdateId update,
            String title,
            Rating rating,
            LocalDate published,
            LocalDate lastDay,
            PopulationId population,
            String name,
            String owner,
            int have,
            int applies,
            int withheld,
            Optional<Instant> nextEnd) {}

    /**
     * @param from updates published on that day or later
     * @param counted the last day that is counted; none while no day has been kept
     * @param countedSince the first day that is kept
     * @param missed what has stayed behind longest first
     */
    record TimeToCarryView(
            LocalDate from,
            Optional<LocalDate> counted,
            Optional<LocalDate> countedSince,
            List<ReportPopulation> populations,
            List<TimeOfRating> ratings,
            List<MissedTarget> missed) {}

    /** @param days how far back updates were published, from 1 to 1,000 */
    @GetMapping("/time-to-carry")
    TimeToCarryView timeToCarry(@RequestParam(defaultValue = "90") int days, Snapshot snapshot) {
        return answer(days, snapshot);
    }

    private TimeToCarryView answer(int back, Snapshot snapshot) {
        if (back < 1 || back > LONGEST) {
            throw ProblemException.badField("days", "from 1 to 1,000 days");
        }
        Instant now = clock.instant();
        LocalDate today = LocalDate.ofInstant(now, ZoneOffset.UTC);
        LocalDate from = today.minusDays(back);
        List<LocalDate> kept = days.days();
        Optional<LocalDate> last = kept.isEmpty() ? Optional.empty() : Optional.of(kept.get(kept.size() - 1));
        List<Population> populations = snapshot.fleet().ladder().entries().stream()
                .filter(entry -> !snapshot.fleet().members(entry.id()).isEmpty())
                .toList();
        List<Update> updates = snapshot.catalogue().updates().stream()
                .filter(update -> !Docket.isNoise(update)
                        && !update.isWithdrawn()
                        && !day(update).isBefore(from))
                .toList();
        Map<UpdateId, List<KeptDays.Counted>> counts = days.since(from);
        CarryTargets set = targets.targets();
        Map<Rating, List<Update>> byRating = new LinkedHashMap<>();
        Stream.of(Rating.values())
                .sorted(Comparator.reverseOrder())
                .forEach(rating -> byRating.put(rating, new ArrayList<>()));
        updates.forEach(update -> byRating.get(update.rating()).add(update));
        List<TimeOfRating> ratings = new ArrayList<>();
        byRating.forEach((rating, some) -> {
            if (!some.isEmpty()) {
                List<List<TimeToCarry.Series>> cells = populations.stream()
                        .map(population -> some.stream()
                                .flatMap(update -> last.stream()
                                        .map(until -> series(
                                                update,
                                                counts.getOrDefault(update.id(), List.of()),
                                                population.id(),
                                                until)))
                                .toList())
                        .toList();
                ratings.add(new TimeOfRating(
                        rating,
                        some.size(),
                        Optional.ofNullable(set.days().get(rating)),
                        TimeToCarry.of(cells.stream().flatMap(List::stream).toList()),
                        cells.stream().map(TimeToCarry::of).toList()));
            }
        });
        return new TimeToCarryView(
                from,
                last,
                kept.stream().findFirst(),
                populations.stream()
                        .map(entry -> new ReportPopulation(entry.id(), entry.name(), entry.owner()))
                        .toList(),
                ratings,
                missed(updates, populations, set, snapshot, now, today));
    }

    private static LocalDate day(Update update) {
        return LocalDate.ofInstant(update.published(), ZoneOffset.UTC);
    }

    /** Who waits for a restart, or only told of an install, does not carry it yet. */
    private static TimeToCarry.Series series(
            Update update, List<KeptDays.Counted> counts, PopulationId population, LocalDate until) {
        return new TimeToCarry.Series(
                day(update),
                counts.stream()
                        .map(counted -> {
                            StateCounts states = counted.counts().get(population);
                            return states == null
                                    ? new TimeToCarry.Count(counted.day(), 0, 0)
                                    : new TimeToCarry.Count(counted.day(), states.carries(), known(states));
                        })
                        .toList(),
                until);
    }

    private static int known(StateCounts states) {
        return states.carries()
                + states.restartOutstanding()
                + states.claimed()
                + states.partly()
                + states.failed()
                + states.missing();
    }

    private static List<MissedTarget> missed(
            List<Update> updates,
            List<Population> populations,
            CarryTargets set,
            Snapshot snapshot,
            Instant now,
            LocalDate today) {
        List<MissedTarget> missed = new ArrayList<>();
        for (Update update : updates) {
            Optional<LocalDate> lastDay = set.lastDay(update.rating(), day(update));
            if (lastDay.filter(today::isAfter).isEmpty()) {
                continue;
            }
            Carriage carriage = snapshot.carriage(update, now);
            Map<PopulationId, RoaringBitmap> lacking = snapshot.fleet().byEntry(carriage.lacking());
            Timeline timeline = Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue());
            for (Population entry : populations) {
                StateCounts states =
                        StateCounts.of(carriage.counts(snapshot.fleet().members(entry.id())));
                if (set.isMissed(update.rating(), day(update), states.carries(), known(states), today)) {
                    InForceCell cell = InForceCell.of(
                            timeline.groups(entry, lacking.getOrDefault(entry.id(), new RoaringBitmap()), now), now);
                    missed.add(new MissedTarget(
                            update.id(),
                            update.title(),
                            update.rating(),
                            day(update),
                            lastDay.get(),
                            entry.id(),
                            entry.name(),
                            entry.owner(),
                            states.carries(),
                            known(states),
                            cell.withheld(),
                            cell.nextEnd()));
                }
            }
        }
        missed.sort(Comparator.comparing(MissedTarget::lastDay).thenComparing(MissedTarget::update));
        return missed;
    }

    /** What missed its target, as a list. */
    @GetMapping(path = "/missed-targets.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(@RequestParam(defaultValue = "90") int days, Snapshot snapshot) {
        return ListFile.csv(
                "missed-targets.csv",
                List.of(
                        "update",
                        "title",
                        "rating",
                        "published",
                        "last day of the target",
                        "population",
                        "owner",
                        "carry it",
                        "of",
                        "withheld",
                        "next end"),
                answer(days, snapshot).missed().stream()
                        .map(one -> List.of(
                                one.update(),
                                one.title(),
                                one.rating().name().toLowerCase(),
                                one.published(),
                                one.lastDay(),
                                one.name(),
                                one.owner(),
                                one.have(),
                                one.applies(),
                                one.withheld(),
                                one.nextEnd().map(Instant::toString).orElse(""))));
    }

    /** @param days by rating; a rating that is not named has no target */
    record CarryTargetDays(Map<Rating, Integer> days) {}

    @GetMapping("/carry-targets")
    CarryTargetDays carryTargets() {
        return new CarryTargetDays(targets.targets().days());
    }

    @PutMapping("/carry-targets")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void setTargets(@RequestBody CarryTargetDays wanted, Authentication who) {
        if (wanted.days() == null) {
            throw ProblemException.badField("days", "name a number of days by rating");
        }
        try {
            targets.set(new CarryTargets(wanted.days()), who);
        } catch (IllegalArgumentException e) {
            throw ProblemException.badField("days", e.getMessage());
        }
    }
}
