package lucid.server.populations;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.HostsByRelease;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HolidayCalendar;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.TargetRelease;
import lucid.core.fleet.Timing;
import lucid.core.forecast.Hours;
import lucid.core.update.Cadence;
import lucid.core.update.Catalogue;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;

/** What is likely to be a slip in a ladder that is being worded; nothing of it is wrong for sure. */
final class LadderWarnings {

    private static final int MOST_WARNINGS = 50;
    private static final Duration SHORT_WINDOW = Duration.ofMinutes(30);
    private static final int SUPPORT_ENDS_SOON_DAYS = 30;
    private static final int HOLIDAYS_END_SOON_DAYS = 60;
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private LadderWarnings() {}

    /**
     * Names in the ladder that no host has, populations that own nobody, and settings that do more, or less, than they
     * seem to; none of them is wrong for sure.
     */
    static List<String> of(Ladder ladder, Fleet after, Carriages carriages, Instant now) {
        List<String> warnings = new ArrayList<>();
        for (Population population : ladder.populations()) {
            Stream.of(population.includes(), population.excludes(), population.protectedHosts())
                    .flatMap(names -> names.stream().sorted())
                    .filter(name -> after.host(name).isEmpty())
                    .forEach(name -> warnings.add(population.name() + " names " + name + ", which has not reported."));
            if (after.members(population.id()).isEmpty()) {
                warnings.add(population.name() + " owns no host.");
            }
            warnings.addAll(dangers(population, now));
            warnings.addAll(overtaken(population, carriages.catalogue(), now));
            if (waitsForItself(population, ladder)) {
                warnings.add(
                        population.name()
                                + " waits for the tries of a population that waits for its own: nobody begins before the latest day.");
            }
            population
                    .staysAt()
                    .forEach(target -> warnings.addAll(dangers(
                            population,
                            HostsByRelease.of(target, after.members(population.id()), carriages.installed()),
                            now)));
        }
        ladder.holidays().forEach(calendar -> warnings.addAll(ending(calendar, now)));
        return warnings.size() <= MOST_WARNINGS ? warnings : List.copyOf(warnings.subList(0, MOST_WARNINGS));
    }

    /** Whoever plans by holidays takes those that nobody brought in for working days. */
    private static List<String> ending(HolidayCalendar calendar, Instant now) {
        LocalDate today = LocalDate.ofInstant(now, ZoneOffset.UTC);
        return calendar.knownUntil()
                .map(last -> last.isBefore(today.plusDays(HOLIDAYS_END_SOON_DAYS))
                        ? List.of("The holidays of " + calendar.name() + " are known until " + DAY.format(last)
                                + " only: bring in the next.")
                        : List.<String>of())
                .orElseGet(() -> List.of("No holidays of " + calendar.name() + " are known."));
    }

    private static List<String> dangers(Population population, HostsByRelease hosts, Instant now) {
        TargetRelease target = hosts.target();
        String release = target.product().name() + " " + target.release();
        List<String> dangers = new ArrayList<>();
        LocalDate today = LocalDate.ofInstant(now, population.zone());
        target.supportEnds()
                .filter(day -> day.isBefore(today.plusDays(SUPPORT_ENDS_SOON_DAYS)))
                .ifPresent(day -> dangers.add(population.name() + " stays at " + release + ", whose support "
                        + (day.isBefore(today) ? "has ended" : "ends") + " on " + DAY.format(day) + "."));
        if (hosts.below().isEmpty() && hosts.at().isEmpty() && hosts.above().isEmpty()) {
            dangers.add("No host of " + population.name() + " has " + target.product() + ", at whose release "
                    + target.release() + " it is to stay.");
        } else if (hosts.at().isEmpty() && hosts.below().isEmpty()) {
            dangers.add("Every host of " + population.name() + " is above " + release + " already.");
        }
        return dangers;
    }

    /**
     * What follows updates of a kind comes before they are due, or before they are offered where they never are due.
     */
    private static List<String> overtaken(Population population, Catalogue catalogue, Instant now) {
        StandingRule.Offer offer = population.rule().usualOffer(Kind.CUMULATIVE, Rating.HIGH);
        Optional<Duration> takes = offer.after()
                .map(StandingRule.AfterTries::latest)
                .or(offer::delay)
                .map(delay -> delay.plus(offer.deadline().orElse(Duration.ZERO)));
        return takes.stream()
                .flatMap(days -> catalogue.updates().stream()
                        .filter(update -> update.kind() == Kind.CUMULATIVE)
                        .map(Update::vendor)
                        .distinct()
                        .sorted()
                        .flatMap(vendor -> Cadence.of(vendor, Kind.CUMULATIVE, catalogue, now).stream())
                        .filter(cadence -> cadence.between().compareTo(days) < 0)
                        .map(cadence -> population.name() + " takes " + days.toDays()
                                + " days for a cumulative update rated High; " + cadence.vendor()
                                + " releases one every " + cadence.between().toDays()
                                + ": the next one comes first."))
                .toList();
    }

    private static boolean waitsForItself(Population population, Ladder ladder) {
        Set<PopulationId> waitedFor = new HashSet<>();
        Deque<PopulationId> next = new ArrayDeque<>(List.of(population.id()));
        while (!next.isEmpty()) {
            for (PopulationId id : waitsFor(ladder.find(next.remove()))) {
                if (id.equals(population.id())) {
                    return true;
                }
                if (waitedFor.add(id)) {
                    next.add(id);
                }
            }
        }
        return false;
    }

    private static List<PopulationId> waitsFor(Optional<Population> population) {
        return population.stream()
                .flatMap(one -> one.rule().lines().stream())
                .flatMap(line -> line.offer().after().stream())
                .map(StandingRule.AfterTries::population)
                .toList();
    }

    private static List<String> dangers(Population population, Instant now) {
        List<String> dangers = new ArrayList<>();
        boolean upgradesAtOnce = Stream.of(Rating.values())
                .flatMap(rating -> population.rule().offersOf(Kind.UPGRADE, rating).stream())
                .anyMatch(offer -> offer.delay().filter(Duration::isZero).isPresent()
                        && offer.after().isEmpty());
        if (upgradesAtOnce) {
            dangers.add(population.name() + " is offered platform upgrades on the day of their release.");
        }
        Timing timing = population.timing();
        Hours hours = Hours.of(population, now, now.plus(Duration.ofDays(60)));
        if (hours.allowed(now).isEmpty()) {
            dangers.add(population.name() + " is busy around the clock: nothing is installed there before it is due.");
        }
        if (!timing.windows().isEmpty()
                && hours.nextAllowed(now, 10).stream().allMatch(span -> span.until()
                        .filter(end -> Duration.between(span.from(), end).compareTo(SHORT_WINDOW) < 0)
                        .isPresent())) {
            dangers.add("No window of " + population.name()
                    + " lasts half an hour: an install or a restart may not fit into it.");
        }
        return dangers;
    }
}
