package lucid.server.populations;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZonedDateTime;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;
import lucid.core.fleet.WeekSpan;
import lucid.core.fleet.WorkingDays;
import lucid.core.forecast.Forecast;
import lucid.core.forecast.HostForecast;
import lucid.core.forecast.Hours;
import lucid.core.forecast.Presence;
import lucid.core.update.Kind;
import lucid.core.update.Rating;

/**
 * When the hosts of a population may be disturbed, and what that means for an update that is published now.
 *
 * @param busyHours as they are written in the format populations-1, as are {@code windows}
 * @param leastBattery per cent of charge under which a host on battery waits
 * @param overPaidLine whether hosts go on over a line that is paid by what goes over it
 * @param week by day, from Monday on, what each half-hour is; a clock change of this week shows
 * @param nextAllowed the next stretches in which a restart is allowed
 * @param worked what happens to a High security update that is published now
 */
record TimingView(
        List<String> busyHours,
        List<String> windows,
        Optional<LocalTime> dueHour,
        long allowanceDays,
        StartMode start,
        boolean earlyRestart,
        int leastBattery,
        boolean overPaidLine,
        List<List<HalfHour>> week,
        List<Hours.Span> nextAllowed,
        WorkedView worked) {

    private static final int SPANS = 3;
    private static final int HALF_HOURS = 48;
    private static final Duration AHEAD = Duration.ofDays(400);

    /** What a half-hour is, as it begins. */
    enum HalfHour {
        ALLOWED,
        BUSY,
        /** Allowed, because a window is open. */
        WINDOW,
        /** Not allowed, because no window is open. */
        CLOSED
    }

    /**
     * @param offered none: it waits for a verdict; where it waits for the tries of another population, at the latest
     * @param due none: never
     * @param fewThere why few are there to see what the offer begins; none: they are
     * @param restarted of a host that reports as it is offered; none: not foreseen
     */
    record WorkedView(
            Optional<Instant> offered,
            Optional<WorkingDays.FewThere> fewThere,
            Optional<Instant> due,
            Optional<Instant> restarted) {}

    static TimingView of(Population population, Ladder ladder, Instant now) {
        Timing timing = population.timing();
        Hours hours = Hours.of(population, now.minus(Duration.ofDays(8)), now.plus(AHEAD));
        return new TimingView(
                timing.busy().stream().map(WeekSpan::toString).toList(),
                timing.windows().stream().map(WeekSpan::toString).toList(),
                timing.dueHour(),
                timing.allowance().toDays(),
                timing.start(),
                timing.earlyRestart(),
                timing.restraint().leastBattery(),
                timing.restraint().overPaidLine(),
                week(population, hours, now),
                hours.nextAllowed(now, SPANS),
                worked(population, WorkingDays.of(population, ladder), hours, now));
    }

    private static List<List<HalfHour>> week(Population population, Hours hours, Instant now) {
        LocalDate monday =
                LocalDate.ofInstant(now, population.zone()).with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
        List<List<HalfHour>> week = new ArrayList<>();
        for (int day = 0; day < DayOfWeek.values().length; day++) {
            List<HalfHour> halves = new ArrayList<>();
            for (int half = 0; half < HALF_HOURS; half++) {
                Instant at = ZonedDateTime.of(
                                monday.plusDays(day), LocalTime.MIN.plusMinutes(30L * half), population.zone())
                        .toInstant();
                halves.add(halfHour(population.timing(), hours, at));
            }
            week.add(halves);
        }
        return week;
    }

    private static HalfHour halfHour(Timing timing, Hours hours, Instant at) {
        boolean allowed = hours.allowed(at).filter(at::equals).isPresent();
        if (timing.windows().isEmpty()) {
            return allowed ? HalfHour.ALLOWED : HalfHour.BUSY;
        }
        return allowed ? HalfHour.WINDOW : HalfHour.CLOSED;
    }

    private static WorkedView worked(Population population, WorkingDays days, Hours hours, Instant now) {
        StandingRule.Offer rule = population.rule().usualOffer(Kind.SECURITY, Rating.HIGH);
        if (rule.delay().isEmpty()) {
            return new WorkedView(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
        }
        // Nobody knows when the tries of others will have shown enough.
        Instant offered = now.plus(rule.after()
                .map(StandingRule.AfterTries::latest)
                .orElse(rule.delay().get()));
        Forecast forecast = new Forecast(
                population.timing(),
                hours,
                new Forecast.Plan(
                        offered,
                        rule.deadline().map(offered::plus),
                        population.timing().allowance(),
                        true,
                        false));
        // A host whose check-in happens to come with the offer: others follow within their rhythm.
        HostForecast host = forecast.of(new Presence(offered, Duration.ofDays(1), List.of()));
        return new WorkedView(Optional.of(offered), days.fewThere(offered), host.due(), host.restarted());
    }
}
