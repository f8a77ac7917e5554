package lucid.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.function.Predicate;
import lucid.core.TestFleet;
import lucid.core.fleet.Population;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;
import lucid.core.fleet.WeekSpan;
import lucid.core.forecast.Forecast.Plan;
import lucid.core.forecast.Presence.Away;
import org.junit.jupiter.api.Test;

/** Random plans, hours and absences, computed by {@link Forecast} and played through hour by hour. */
class ForecastFuzzing {

    private static final Instant START = Instant.parse("2027-03-20T00:00:00Z");
    private static final int HOURS = 24 * 70;
    /** Their clocks change within these weeks, by whole hours. */
    private static final List<String> ZONES = List.of("UTC", "Europe/Lisbon", "Australia/Sydney", "America/Chicago");

    private static Instant hour(int hour) {
        return START.plusSeconds(3_600L * hour);
    }

    @Test
    void aForecastIsWhatPlayingHourByHourFinds() {
        int foreseen = 0;
        int late = 0;
        int busy = 0;
        for (int seed = 0; seed < 1_500; seed++) {
            Random random = new Random(seed);
            Timing timing = timing(random);
            Population population = TestFleet.with(timing, TestFleet.population("p", "role = p", 0));
            Plan plan = new Plan(
                    hour(24 + random.nextInt(100)),
                    random.nextInt(4) == 0 ? Optional.empty() : Optional.of(hour(60 + random.nextInt(240))),
                    Duration.ofHours(24L * random.nextInt(4)),
                    random.nextBoolean(),
                    random.nextInt(4) == 0);
            Presence presence = presence(random);
            Forecast forecast = new Forecast(timing, Hours.of(population, hour(0), hour(HOURS)), plan);
            HostForecast computed = forecast.of(presence);
            assertThat(computed)
                    .as("seed %d: %s, %s, %s", seed, timing, plan, presence)
                    .isEqualTo(played(timing, plan, presence));
            Optional<Instant> inEffect = plan.restart() ? computed.restarted() : computed.installed();
            forecast.earliest(computed).ifPresent(first -> assertThat(first)
                    .as("never after it is foreseen")
                    .isBeforeOrEqualTo(inEffect.orElse(Instant.MAX)));

            foreseen += computed.installed().isPresent() ? 1 : 0;
            late += computed.late() ? 1 : 0;
            busy += computed.inBusyHours() ? 1 : 0;
        }
        assertThat(foreseen).isGreaterThan(700);
        assertThat(late).isGreaterThan(50);
        assertThat(busy).isGreaterThan(50);
    }

    @Test
    void aLaterDeadlineNeverMakesAnythingDueEarlier() {
        for (int seed = 0; seed < 500; seed++) {
            Random random = new Random(seed);
            Timing timing = timing(random);
            Presence presence = presence(random);
            Duration allowance = Duration.ofHours(24L * random.nextInt(4));
            int deadline = 60 + random.nextInt(200);
            Optional<Instant> due = played(
                            timing, new Plan(hour(30), Optional.of(hour(deadline)), allowance, true, false), presence)
                    .due();
            Optional<Instant> later = played(
                            timing,
                            new Plan(
                                    hour(30),
                                    Optional.of(hour(deadline + random.nextInt(100))),
                                    allowance,
                                    true,
                                    false),
                            presence)
                    .due();
            later.ifPresent(at -> assertThat(due.orElseThrow()).isBeforeOrEqualTo(at));
        }
    }

    private static Timing timing(Random random) {
        return new Timing(
                ZoneId.of(ZONES.get(random.nextInt(ZONES.size()))),
                Optional.empty(),
                spans(random, random.nextInt(3), 14),
                random.nextInt(3) == 0 ? spans(random, 1 + random.nextInt(2), 4) : List.of(),
                random.nextInt(3) == 0 ? Optional.of(LocalTime.of(random.nextInt(24), 0)) : Optional.empty(),
                Duration.ZERO,
                StartMode.values()[random.nextInt(StartMode.values().length)],
                random.nextBoolean(),
                Restraint.USUAL);
    }

    private static List<WeekSpan> spans(Random random, int count, int longest) {
        List<WeekSpan> spans = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            EnumSet<DayOfWeek> days = EnumSet.of(DayOfWeek.of(1 + random.nextInt(7)));
            random.ints(random.nextInt(7), 1, 8).forEach(day -> days.add(DayOfWeek.of(day)));
            int from = random.nextInt(24);
            spans.add(new WeekSpan(
                    days, LocalTime.of(from, 0), LocalTime.of((from + 1 + random.nextInt(longest)) % 24, 0)));
        }
        return spans;
    }

    private static Presence presence(Random random) {
        List<Away> away = new ArrayList<>();
        int at = 10 + random.nextInt(60);
        for (int i = random.nextInt(4); i > 0; i--) {
            int until = at + 1 + random.nextInt(200);
            boolean known = i > 1 || random.nextInt(6) > 0;
            away.add(new Away(
                    hour(at), known ? Optional.of(hour(until)) : Optional.empty(), known && random.nextInt(3) == 0));
            at = until + 1 + random.nextInt(80);
        }
        return new Presence(hour(random.nextInt(10)), Duration.ofHours(1 + random.nextInt(30)), away);
    }

    // ---- the same, hour by hour

    private static HostForecast played(Timing timing, Plan plan, Presence presence) {
        Optional<Instant> seen = first(0, at -> !at.isBefore(plan.offered()) && checksIn(presence, at));
        if (seen.isEmpty()) {
            return new HostForecast(
                    plan.offered(), seen, Optional.empty(), Optional.empty(), Optional.empty(), false, false);
        }
        Optional<Instant> due = plan.deadline().flatMap(deadline -> {
            Predicate<Instant> settled = at -> isThere(presence, at)
                    && presence.away().stream().noneMatch(one -> one.until()
                            .filter(until -> !until.isAfter(at)
                                    && until.plus(plan.allowance()).isAfter(at))
                            .isPresent());
            Optional<Instant> ripe = first(
                    0,
                    at -> !at.isBefore(deadline)
                            && !at.isBefore(seen.get().plus(plan.allowance()))
                            && settled.test(at));
            return ripe.flatMap(from -> first(
                    from,
                    at -> settled.test(at)
                            && timing.dueHour()
                                    .filter(hour -> !isFirstAtHour(at, hour, timing.zone()))
                                    .isEmpty()));
        });
        Predicate<Instant> mayAtDue = at -> due.filter(d -> !at.isBefore(d)).isPresent()
                && isThere(presence, at)
                && (plan.outsideWindows() || timing.windows().isEmpty() || within(timing.windows(), at, timing.zone()));
        Predicate<Instant> may = at -> mayAtDue.test(at)
                || isThere(presence, at)
                        && (timing.windows().isEmpty()
                                ? !within(timing.busy(), at, timing.zone())
                                : within(timing.windows(), at, timing.zone()));
        Optional<Instant> installed =
                switch (timing.start()) {
                    case BY_ITSELF -> first(seen.get(), may);
                    case BY_PERSON, AT_SHUTDOWN -> first(seen.get(), mayAtDue);
                    case BY_OPERATOR -> Optional.empty();
                };
        Optional<Instant> restarted = plan.restart()
                ? installed.flatMap(from -> first(from, timing.earlyRestart() ? may : mayAtDue))
                : Optional.empty();
        Optional<Instant> inEffect = plan.restart() ? restarted : installed;
        return new HostForecast(
                plan.offered(),
                seen,
                due,
                installed,
                restarted,
                installed.filter(at -> within(timing.busy(), at, timing.zone())).isPresent()
                        || restarted
                                .filter(at -> within(timing.busy(), at, timing.zone()))
                                .isPresent(),
                due.isPresent()
                        && timing.start() != StartMode.BY_OPERATOR
                        && inEffect.filter(at -> !at.isAfter(due.get())).isEmpty());
    }

    private static Optional<Instant> first(int from, Predicate<Instant> holds) {
        for (int hour = from; hour <= HOURS; hour++) {
            if (holds.test(hour(hour))) {
                return Optional.of(hour(hour));
            }
        }
        return Optional.empty();
    }

    private static Optional<Instant> first(Instant from, Predicate<Instant> holds) {
        return first((int) Duration.between(START, from).toHours(), holds);
    }

    private static boolean isThere(Presence presence, Instant at) {
        return presence.away().stream()
                .noneMatch(one -> !at.isBefore(one.from())
                        && (one.until().isEmpty() || at.isBefore(one.until().get())));
    }

    private static boolean checksIn(Presence presence, Instant at) {
        if (!isThere(presence, at)) {
            return false;
        }
        Instant anchor = presence.lastCheckIn();
        for (Away one : presence.away()) {
            // Whoever is frozen has checked in all the time.
            if (!one.frozen() && one.until().isPresent() && !one.until().get().isAfter(at)) {
                anchor = one.until().get();
            }
        }
        return !at.isBefore(anchor)
                && Duration.between(anchor, at).toHours() % presence.rhythm().toHours() == 0;
    }

    /** The first hour of a local day whose time is this one or later. */
    private static boolean isFirstAtHour(Instant at, LocalTime hour, ZoneId zone) {
        LocalDateTime now = LocalDateTime.ofInstant(at, zone);
        LocalDateTime before = LocalDateTime.ofInstant(at.minusSeconds(3_600), zone);
        boolean reached = !now.toLocalTime().isBefore(hour);
        boolean reachedBefore = before.toLocalDate().equals(now.toLocalDate())
                && !before.toLocalTime().isBefore(hour);
        boolean twice = LocalDateTime.ofInstant(at.minusSeconds(7_200), zone)
                        .toLocalDate()
                        .equals(now.toLocalDate())
                && !LocalDateTime.ofInstant(at.minusSeconds(7_200), zone)
                        .toLocalTime()
                        .isBefore(hour);
        return reached && !reachedBefore && !twice;
    }

    /** By asking every hour nearby whether it lies between the first at the beginning and the last before the end. */
    private static boolean within(List<WeekSpan> spans, Instant at, ZoneId zone) {
        LocalDate today = LocalDate.ofInstant(at, zone);
        for (WeekSpan span : spans) {
            for (int back = -1; back <= 2; back++) {
                LocalDate day = today.minusDays(back);
                if (span.days().contains(day.getDayOfWeek())) {
                    LocalDateTime from = day.atTime(span.from());
                    LocalDateTime to = (span.to().isAfter(span.from()) ? day : day.plusDays(1)).atTime(span.to());
                    Instant begins = null;
                    Instant ends = null;
                    for (int hour = -80; hour <= 80; hour++) {
                        Instant one = at.plusSeconds(3_600L * hour);
                        LocalDateTime wall = LocalDateTime.ofInstant(one, zone);
                        if (begins == null && !wall.isBefore(from)) {
                            begins = one;
                        }
                        if (wall.isBefore(to)) {
                            ends = one.plusSeconds(3_600);
                        }
                    }
                    if (begins != null && ends != null && !at.isBefore(begins) && at.isBefore(ends)) {
                        return true;
                    }
                }
            }
        }
        return false;
    }
}
