package lucid.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.TestFleet;
import lucid.core.TestIds;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;
import lucid.core.fleet.Trait;
import lucid.core.fleet.WeekSpan;
import lucid.core.forecast.Forecast.Plan;
import lucid.core.forecast.Presence.Away;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Freeze;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class ForecastTest {

    /** A Monday. */
    private static final Instant DAY_0 = Instant.parse("2026-11-02T00:00:00Z");

    private static Instant day(double days) {
        return DAY_0.plusSeconds((long) (days * 86_400));
    }

    private static Population with(Timing timing) {
        return TestFleet.with(timing, TestFleet.population("kiosks", "role = kiosk", 0));
    }

    private static Timing timing(
            ZoneId zone, List<String> busy, List<String> windows, StartMode start, boolean earlyRestart) {
        return new Timing(
                zone,
                Optional.empty(),
                busy.stream().map(WeekSpan::parse).toList(),
                windows.stream().map(WeekSpan::parse).toList(),
                Optional.empty(),
                Duration.ZERO,
                start,
                earlyRestart,
                Restraint.USUAL);
    }

    private static Hours hours(Timing timing) {
        return Hours.of(with(timing), day(0), day(60));
    }

    private static HostForecast forecast(Timing timing, Plan plan, Presence presence) {
        return new Forecast(timing, hours(timing), plan).of(presence);
    }

    private static Plan plan(double offered, Double deadline, double allowance) {
        return new Plan(
                day(offered),
                Optional.ofNullable(deadline).map(ForecastTest::day),
                Duration.ofHours((long) (allowance * 24)),
                true,
                false);
    }

    private static Presence daily(Away... away) {
        return new Presence(day(0), Duration.ofDays(1), List.of(away));
    }

    private static Away away(double from, double until) {
        return new Away(day(from), Optional.of(day(until)));
    }

    @Test
    void dueFollowsTheOfferTheDeadlineAndTheTimeForAHostThatWasAway() {
        // Published on day 0, delay 5, deadline 4, allowance 3, a check-in a day.
        assertThat(forecast(Timing.ANY_TIME, plan(5, 9.0, 3), daily()).due()).contains(day(9));
        HostForecast away = forecast(Timing.ANY_TIME, plan(5, 9.0, 3), daily(away(4, 17)));
        assertThat(away.seen()).contains(day(17));
        assertThat(away.due()).contains(day(20));
        assertThat(forecast(Timing.ANY_TIME, plan(5, 9.0, 0), daily(away(4, 17)))
                        .due())
                .contains(day(17));
        assertThat(forecast(Timing.ANY_TIME, plan(5, 9.0, 3), daily(away(4, 7))).due())
                .contains(day(10));
        assertThat(forecast(Timing.ANY_TIME, plan(5, 9.0, 3), daily(away(1, 6), away(7, 17)))
                        .due())
                .contains(day(20));
        assertThat(forecast(Timing.ANY_TIME, plan(5, null, 3), daily()).due()).isEmpty();
    }

    @Test
    void dueMovesForwardToTheHourAtWhichThingsFallDue() {
        Timing noon = new Timing(
                ZoneId.of("Europe/Lisbon"),
                Optional.empty(),
                List.of(),
                List.of(),
                Optional.of(LocalTime.NOON),
                Duration.ZERO,
                StartMode.BY_ITSELF,
                true,
                Restraint.USUAL);
        assertThat(forecast(noon, plan(1, 4.0, 0), daily()).due()).contains(day(4.5));
        assertThat(forecast(noon, plan(1, 4.75, 0), daily()).due()).contains(day(5.5));
        assertThat(forecast(noon, plan(1, 4.0, 0), daily(away(4.25, 6.75))).due())
                .as("at noon it is away; back at six in the evening it is due at the next noon")
                .contains(day(7.5));
    }

    @Test
    void aDayIsDueAtTheDueHourElseAsItEnds() {
        Population plain = with(Timing.ANY_TIME);
        LocalDate day = LocalDate.of(2026, 11, 4);
        assertThat(Hours.dueOn(day, plain, day(0))).isEqualTo(day(3));
        Population noon = with(new Timing(
                ZoneOffset.UTC,
                Optional.empty(),
                List.of(),
                List.of(),
                Optional.of(LocalTime.NOON),
                Duration.ZERO,
                StartMode.BY_ITSELF,
                true,
                Restraint.USUAL));
        assertThat(Hours.dueOn(day, noon, day(2.25))).isEqualTo(day(2.5));
        assertThat(Hours.dueOn(day, noon, day(2.75))).as("the hour has passed").isEqualTo(day(3.5));
    }

    @Test
    void manyHostsAreToldByWhatStandsOut() {
        Population kiosks =
                with(timing(ZoneOffset.UTC, List.of("daily 00:00-24:00"), List.of(), StartMode.BY_ITSELF, true));
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(List.of(kiosks), kiosks.rule()))
                .with(List.of(
                        TestFleet.hostSeen(0, day(9.5), Map.of("role", TestFleet.text("kiosk"))),
                        TestFleet.hostSeen(1, day(9.75), Map.of("role", TestFleet.text("kiosk"))),
                        TestFleet.hostSeen(2, day(1), Map.of("role", TestFleet.text("kiosk")))));
        GroupForecast all = Forecasts.of(kiosks, fleet.all(), fleet, plan(10, 12.0, 0), List.of(), day(10));
        assertThat(all.inBusyHours().toArray()).containsExactly(0, 1);
        assertThat(all.silent().toArray()).containsExactly(2);
        assertThat(all.late().isEmpty()
                        && all.dueLater().isEmpty()
                        && all.notForeseen().isEmpty())
                .isTrue();
        assertThat(all.curve())
                .containsExactly(
                        new GroupForecast.Point(day(10), 0),
                        new GroupForecast.Point(day(11), 0),
                        new GroupForecast.Point(day(12), 0),
                        new GroupForecast.Point(day(12), 2));
        assertThat(Forecasts.of(kiosks, fleet.all(), fleet, plan(10, null, 0), List.of(), day(10))
                        .notForeseen()
                        .toArray())
                .containsExactly(0, 1);
    }

    @Test
    void wherePersonsBeginItMayComeAsSoonAsItIsHeardOf() {
        Population tablets = with(timing(ZoneOffset.UTC, List.of(), List.of(), StartMode.BY_PERSON, true));
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(List.of(tablets), tablets.rule()))
                .with(List.of(TestFleet.hostSeen(0, day(9.5), Map.of("role", TestFleet.text("kiosk")))));
        GroupForecast due = Forecasts.of(tablets, fleet.all(), fleet, plan(10, 12.0, 0), List.of(), day(10));
        assertThat(due.curve()).endsWith(new GroupForecast.Point(day(12), 1));
        assertThat(due.earliest()).endsWith(new GroupForecast.Point(day(10.5), 1));
        GroupForecast never = Forecasts.of(tablets, fleet.all(), fleet, plan(10, null, 0), List.of(), day(10));
        assertThat(never.curve()).containsExactly(new GroupForecast.Point(day(10), 0));
        assertThat(never.earliest()).endsWith(new GroupForecast.Point(day(10.5), 1));
        Population byItself = with(timing(ZoneOffset.UTC, List.of(), List.of(), StartMode.BY_ITSELF, true));
        GroupForecast sure = Forecasts.of(byItself, fleet.all(), fleet, plan(10, 12.0, 0), List.of(), day(10));
        assertThat(sure.earliest()).isEqualTo(sure.curve());
        Population atDue = with(timing(ZoneOffset.UTC, List.of(), List.of(), StartMode.BY_ITSELF, false));
        GroupForecast waits = Forecasts.of(atDue, fleet.all(), fleet, plan(10, 12.0, 0), List.of(), day(10));
        assertThat(waits.earliest())
                .as("somebody may start it anew once it is installed")
                .endsWith(new GroupForecast.Point(day(10.5), 1));
        GroupForecast both = Forecasts.together(List.of(due, sure));
        assertThat(both.earliest()).endsWith(new GroupForecast.Point(day(10.5), 2));
    }

    @Test
    void partsAreToldTogetherWithTheHourOfMostDownloads() {
        Population kiosks = with(Timing.ANY_TIME);
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(List.of(kiosks), kiosks.rule()))
                .with(List.of(
                        TestFleet.hostSeen(0, day(9.5), kiosk("Quay")),
                        TestFleet.hostSeen(1, day(9.51), kiosk("Quay")),
                        TestFleet.hostSeen(2, day(9.5), kiosk("Fell"))));
        GroupForecast first =
                Forecasts.of(kiosks, RoaringBitmap.bitmapOf(0, 1), fleet, plan(10, 12.0, 0), List.of(), day(10));
        GroupForecast second =
                Forecasts.of(kiosks, RoaringBitmap.bitmapOf(2), fleet, plan(12, 14.0, 0), List.of(), day(10));
        assertThat(first.peak()).contains(new GroupForecast.Peak("Quay", day(10.5), 2));
        GroupForecast both = Forecasts.together(List.of(first, second));
        assertThat(both.hosts().toArray()).containsExactly(0, 1, 2);
        assertThat(both.peak()).isEqualTo(first.peak());
        assertThat(both.curve())
                .extracting(GroupForecast.Point::hosts)
                .isSorted()
                .endsWith(3);
        assertThat(both.curve().get(both.curve().size() - 1).at()).isEqualTo(day(12.5));
    }

    private static Map<String, Trait> kiosk(String site) {
        return Map.of("role", TestFleet.text("kiosk"), "site", TestFleet.text(site));
    }

    @Test
    void whatAnOperatorBeginsIsForeseenForNobody() {
        HostForecast one = forecast(
                Timing.ANY_TIME, new Plan(day(1), Optional.of(day(3)), Duration.ZERO, true, false, true), daily());
        assertThat(one.due()).contains(day(3));
        assertThat(one.installed()).isEmpty();
        assertThat(one.late()).as("a day is a request").isFalse();
    }

    @Test
    void busyHoursGiveWayOnceItIsDueWindowsDoNot() {
        Timing busy = timing(ZoneOffset.UTC, List.of("daily 00:00-23:00"), List.of(), StartMode.BY_ITSELF, true);
        HostForecast relaxed = forecast(busy, plan(1, 9.0, 0), daily());
        assertThat(relaxed.restarted()).contains(day(1).plus(Duration.ofHours(23)));
        assertThat(relaxed.inBusyHours()).isFalse();
        HostForecast hurried = forecast(busy, plan(1, 1.5, 0), daily());
        assertThat(hurried.restarted()).contains(day(1.5));
        assertThat(hurried.inBusyHours()).isTrue();
        assertThat(hurried.late()).isFalse();

        Timing sunday = timing(ZoneOffset.UTC, List.of(), List.of("sun 02:00-05:00"), StartMode.BY_ITSELF, true);
        HostForecast waits = forecast(sunday, plan(1, 3.0, 0), daily());
        assertThat(waits.installed()).contains(day(6).plus(Duration.ofHours(2)));
        assertThat(waits.late()).isTrue();
        HostForecast outside =
                forecast(sunday, new Plan(day(1), Optional.of(day(3)), Duration.ZERO, true, true), daily());
        assertThat(outside.installed()).contains(day(3));
        assertThat(outside.late()).isFalse();
    }

    @Test
    void whatAPersonBeginsIsForeseenAtDueOnlyAndWhatAnOperatorBeginsNever() {
        Timing person = timing(ZoneOffset.UTC, List.of(), List.of(), StartMode.BY_PERSON, true);
        assertThat(forecast(person, plan(1, 4.0, 0), daily()).installed()).contains(day(4));
        assertThat(forecast(person, plan(1, null, 0), daily()).installed()).isEmpty();
        Timing operator = timing(ZoneOffset.UTC, List.of(), List.of(), StartMode.BY_OPERATOR, true);
        HostForecast asked = forecast(operator, plan(1, 4.0, 0), daily());
        assertThat(asked.installed()).isEmpty();
        assertThat(asked.due()).contains(day(4));
        assertThat(asked.late()).isFalse();
    }

    @Test
    void withoutAnEarlyRestartItComesOnlyAtDue() {
        Timing late = timing(ZoneOffset.UTC, List.of(), List.of(), StartMode.BY_ITSELF, false);
        HostForecast one = forecast(late, plan(1, 4.0, 0), daily());
        assertThat(one.installed()).contains(day(1));
        assertThat(one.restarted()).contains(day(4));
        assertThat(forecast(late, plan(1, null, 0), daily()).restarted()).isEmpty();
    }

    @Test
    void ofASilentHostNothingIsForeseen() {
        Host silent = TestFleet.hostSeen(1, day(0), Map.of());
        Presence presence = Presence.of(silent, Duration.ofDays(1), List.of(), day(4));
        HostForecast one = forecast(Timing.ANY_TIME, plan(4, 6.0, 0), presence);
        assertThat(one.seen()).isEmpty();
        assertThat(one.due()).isEmpty();
        assertThat(Presence.of(silent, Duration.ofDays(1), List.of(), day(2)).away())
                .isEmpty();
        assertThat(forecast(
                                Timing.ANY_TIME,
                                plan(2.5, 6.0, 0),
                                Presence.of(silent, Duration.ofDays(1), List.of(), day(2.5)))
                        .seen())
                .contains(day(3));
    }

    @Test
    void hoursReadAsTheyAreWritten() {
        assertThat(WeekSpan.parse("Monday-Friday 6:00 – 23:00")).hasToString("mon-fri 06:00-23:00");
        assertThat(WeekSpan.parse("sat, sun 22:00-02:00")).hasToString("sat-sun 22:00-02:00");
        assertThat(WeekSpan.parse("fri-mon 00:00-24:00")).hasToString("fri-mon 00:00-24:00");
        assertThat(WeekSpan.parse("daily 00:00-24:00")).hasToString("daily 00:00-24:00");
        for (String wrong :
                List.of("", "06:00-23:00", "mon", "someday 06:00-07:00", "mon 25:00-26:00", "m 1:00-2:00")) {
            assertThatThrownBy(() -> WeekSpan.parse(wrong)).isInstanceOf(IllegalArgumentException.class);
        }
    }

    @Test
    void hoursOverAClockChange() {
        ZoneId lisbon = ZoneId.of("Europe/Lisbon");
        // On 28 March 2027 one becomes two; on 31 October two becomes one again.
        Instant spring = Instant.parse("2027-03-27T12:00:00Z");
        Hours skipped = Hours.of(
                with(timing(lisbon, List.of("sun 01:30-04:00"), List.of(), StartMode.BY_ITSELF, true)),
                spring,
                spring.plus(Duration.ofDays(3)));
        assertThat(skipped.isBusy(Instant.parse("2027-03-28T00:59:00Z"))).isFalse();
        assertThat(skipped.isBusy(Instant.parse("2027-03-28T01:00:00Z")))
                .as("a beginning that is skipped moves to the first minute that exists")
                .isTrue();
        assertThat(skipped.allowed(Instant.parse("2027-03-28T01:00:00Z")))
                .contains(Instant.parse("2027-03-28T03:00:00Z"));
        Instant autumn = Instant.parse("2027-10-30T12:00:00Z");
        Hours doubled = Hours.of(
                with(timing(lisbon, List.of(), List.of("sun 01:15-01:45"), StartMode.BY_ITSELF, true)),
                autumn,
                autumn.plus(Duration.ofDays(3)));
        assertThat(doubled.nextAllowed(autumn, 2))
                .as("the first of a doubled time begins, the second ends")
                .containsExactly(new Hours.Span(
                        Instant.parse("2027-10-31T00:15:00Z"), Optional.of(Instant.parse("2027-10-31T01:45:00Z"))));
        Hours night = Hours.of(
                with(timing(lisbon, List.of("sat 22:00-03:00"), List.of(), StartMode.BY_ITSELF, true)),
                autumn,
                autumn.plus(Duration.ofDays(3)));
        assertThat(night.allowed(Instant.parse("2027-10-30T22:00:00Z")))
                .as("hours over midnight belong to the day on which they begin")
                .contains(Instant.parse("2027-10-31T03:00:00Z"));
    }

    private static Freeze freeze(long number, double from, double until, String... populations) {
        return new Freeze(
                new DecisionNumber.OfFreeze(number),
                TestIds.populationIds(populations),
                day(from),
                day(until),
                "holiday",
                "orrin",
                day(0),
                Optional.empty());
    }

    @Test
    void whatFallsDueInAFreezeWaitsForItsEnd() {
        Population kiosks = with(Timing.ANY_TIME);
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(List.of(kiosks), kiosks.rule()))
                .with(List.of(TestFleet.hostSeen(0, day(9.75), Map.of("role", TestFleet.text("kiosk")))));
        List<Freeze> freezes = List.of(freeze(1, 9, 14), freeze(2, 13, 20), freeze(3, 1, 30, "desks"));
        GroupForecast frozen = Forecasts.of(kiosks, fleet.all(), fleet, plan(10, 12.0, 0), freezes, day(10));
        assertThat(frozen.curve().get(frozen.curve().size() - 1).at())
                .as("its first check-in after both have ended")
                .isEqualTo(day(20.75));
        assertThat(frozen.dueLater()).isEqualTo(fleet.all());
        assertThat(frozen.silent().isEmpty()).isTrue();
        GroupForecast before =
                Forecasts.of(kiosks, fleet.all(), fleet, plan(10, 12.0, 0), List.of(freeze(3, 12, 30)), day(10));
        assertThat(before.curve().get(before.curve().size() - 1).at()).isEqualTo(day(10.75));
    }
}
