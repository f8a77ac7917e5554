package lucid.simulator.living;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.simulator.living.LivingHost.Report;
import lucid.simulator.living.Orders.Order;
import lucid.simulator.living.Orders.What;
import org.junit.jupiter.api.Test;

/** A host does what it is told, in the hours in which it may. */
class LivingHostTest {

    /** A Tuesday. */
    private static final Instant BEGIN = Instant.parse("2026-11-24T09:00:00Z");

    private static final WeekHours BY_NIGHT = hours("daily 06:00-23:00");
    private static final WeekHours SUNDAYS = new WeekHours(
            ZoneOffset.UTC, List.of(), List.of(WeekHours.Span.parse("sun 02:00-05:00")), Optional.empty());
    private static final Nature SOUND = nature(Optional.empty(), (update, revision) -> Optional.empty());

    private final List<Report> reports = new ArrayList<>();

    private static WeekHours hours(String busy) {
        return new WeekHours(
                ZoneOffset.UTC, List.of(WeekHours.Span.parse(busy)), List.of(), Optional.of(LocalTime.NOON));
    }

    private static Nature nature(Optional<Nature.Voyage> away, Nature.Faults faults) {
        return new Nature(Duration.ofDays(1), Duration.ZERO, false, List.of(), away, 0, 100, false, faults);
    }

    private static Order order(What what, Optional<Instant> due) {
        return new Order(
                "D-2",
                "1",
                what,
                due,
                Optional.empty(),
                Duration.ofDays(3),
                false,
                true,
                Map.of("pkg:generic/desk", "2"));
    }

    private static Orders told(WeekHours hours, Orders.Start start, boolean earlyRestart, Order... orders) {
        return new Orders(hours, start, earlyRestart, 40, false, List.of(), List.of(orders));
    }

    private LivingHost host(Nature nature) {
        return new LivingHost("ksk-1", nature, Map.of("pkg:generic/desk?arch=all", "1"), BEGIN, BEGIN, reports::add);
    }

    private static Instant at(String time) {
        return Instant.parse("2026-11-" + time + ":00Z");
    }

    /** It lives on for some days, and is told the same whenever it asks. */
    private void live(LivingHost host, Orders told, int days) {
        Instant until = BEGIN.plus(Duration.ofDays(days));
        for (Optional<Instant> asks = host.liveUntil(until); asks.isPresent(); asks = host.liveUntil(until)) {
            host.hear(told, asks.get());
        }
    }

    private Optional<Instant> when(String what) {
        return reports.stream()
                .flatMap(report -> report.happened().stream())
                .filter(happened -> happened.what().equals(what))
                .map(LivingHost.Happened::at)
                .findFirst();
    }

    private Optional<Instant> restarted() {
        return reports.stream().map(Report::lastStart).filter(BEGIN::isBefore).findFirst();
    }

    @Test
    void itChecksInDownloadsInstallsAndRestartsOutsideBusyHours() {
        live(host(SOUND), told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.OFFERED, Optional.empty())), 4);
        assertThat(when("downloaded")).contains(at("25T09:00").plusSeconds(20));
        assertThat(when("installed")).contains(at("25T23:00"));
        assertThat(restarted()).contains(at("25T23:05"));
        assertThat(reports.get(reports.size() - 1).versions()).containsEntry("pkg:generic/desk?arch=all", "2");
    }

    @Test
    void whatIsWithheldDoesNotComeAndWhatIsWithheldInTimeIsStopped() {
        LivingHost host = host(SOUND);
        Orders offered = told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.OFFERED, Optional.empty()));
        Orders withheld = told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.WITHHELD, Optional.empty()));
        Instant asks = host.liveUntil(at("25T12:00")).orElseThrow();
        host.hear(offered, asks);
        host.hear(withheld, asks.plus(Duration.ofHours(1)));
        live(host, withheld, 6);
        assertThat(when("downloaded")).isPresent();
        assertThat(when("installed")).isEmpty();
    }

    @Test
    void busyHoursGiveWayOnceItIsDueAndWindowsDoNot() {
        Optional<Instant> noon = Optional.of(at("24T12:00"));
        Order urgent = new Order(
                "D-2",
                "1",
                What.OFFERED,
                noon,
                Optional.empty(),
                Duration.ZERO,
                false,
                true,
                Map.of("pkg:generic/desk", "2"));
        live(host(SOUND), told(BY_NIGHT, Orders.Start.AT_SHUTDOWN, false, urgent), 3);
        assertThat(when("installed")).contains(at("25T12:00"));
        reports.clear();
        live(host(SOUND), told(SUNDAYS, Orders.Start.BY_ITSELF, true, urgent), 6);
        assertThat(when("installed")).contains(at("29T02:00"));
    }

    @Test
    void whatItsOperatorAgreedIsInstalledInTheSlot() {
        Order byHand = new Order(
                "D-2",
                "1",
                What.BY_OPERATOR,
                Optional.empty(),
                Optional.of(at("27T14:00")),
                Duration.ZERO,
                false,
                true,
                Map.of("pkg:generic/desk", "2"));
        live(host(SOUND), told(BY_NIGHT, Orders.Start.BY_ITSELF, true, byHand), 6);
        assertThat(when("installed")).contains(at("27T14:00"));
    }

    @Test
    void aHostThatWasAwayHasItsTime() {
        Nature away = nature(
                Optional.of(new Nature.Voyage(at("24T10:00"), Optional.of(at("30T08:30")))),
                (update, revision) -> Optional.empty());
        live(
                host(away),
                told(BY_NIGHT, Orders.Start.BY_ITSELF, false, order(What.OFFERED, Optional.of(at("26T12:00")))),
                14);
        assertThat(when("downloaded")).contains(at("30T08:30").plusSeconds(20));
        assertThat(when("installed")).contains(at("30T23:00"));
        assertThat(restarted())
                .as("due three days after its return, at the hour at which things fall due")
                .contains(Instant.parse("2026-12-03T12:00:00Z"));
    }

    @Test
    void aFreezeLetsItWait() {
        Orders frozen = new Orders(
                BY_NIGHT,
                Orders.Start.BY_ITSELF,
                true,
                40,
                false,
                List.of(new Orders.Frozen(at("25T12:00"), at("27T06:00"))),
                List.of(order(What.OFFERED, Optional.empty())));
        live(host(SOUND), frozen, 5);
        assertThat(when("installed")).contains(at("27T23:00"));
    }

    @Test
    void whatFailsIsTriedAgainOnTheNextDaysAndThenLeft() {
        Nature flawed = nature(Optional.empty(), (update, revision) -> Optional.of(new Nature.Fault("0x7", "refused")));
        live(host(flawed), told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.OFFERED, Optional.empty())), 9);
        assertThat(reports.stream().flatMap(report -> report.happened().stream()))
                .filteredOn(happened -> happened.what().equals("failed"))
                .hasSize(3)
                .allSatisfy(happened -> assertThat(happened.fault()).isPresent());
        assertThat(when("installed")).isEmpty();
    }

    @Test
    void nothingIsHeardOfAHostThatIsDown() {
        Nature fatal = nature(Optional.empty(), (update, revision) -> Optional.of(new Nature.Fault("dark", "down")));
        live(host(fatal), told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.OFFERED, Optional.empty())), 9);
        assertThat(reports.get(reports.size() - 1).at()).isEqualTo(at("25T23:00"));
    }

    @Test
    void itRemovesWhatItIsToldToRemoveAndHasWhatItHadBefore() {
        LivingHost host = host(SOUND);
        live(host, told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.OFFERED, Optional.empty())), 3);
        live(host, told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.REMOVE, Optional.empty())), 6);
        assertThat(when("removed")).isPresent();
        assertThat(reports.get(reports.size() - 1).versions()).containsEntry("pkg:generic/desk?arch=all", "1");
    }

    @Test
    void anOperatorOrNobodyBeginsWhatIsForOperators() {
        live(host(SOUND), told(SUNDAYS, Orders.Start.BY_OPERATOR, true, order(What.OFFERED, Optional.empty())), 60);
        Instant installed = when("installed").orElseThrow();
        assertThat(SUNDAYS.allows(installed, false)).isTrue();
        reports.clear();
        Nature idle = new Nature(
                Duration.ofDays(1), Duration.ZERO, true, List.of(), Optional.empty(), 0, 100, false, SOUND.faults());
        live(host(idle), told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.OFFERED, Optional.of(BEGIN))), 9);
        assertThat(when("installed")).isEmpty();
        assertThat(reports).hasSizeGreaterThan(8);
    }

    @Test
    void whatItPassedMeanwhileIsNotInstalledOverIt() {
        LivingHost later =
                new LivingHost("ksk-1", SOUND, Map.of("pkg:generic/desk?arch=all", "3.0"), BEGIN, BEGIN, reports::add);
        live(later, told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.OFFERED, Optional.of(BEGIN))), 9);
        assertThat(when("installed")).isEmpty();
        assertThat(reports.get(reports.size() - 1).versions()).containsValue("3.0");
    }

    @Test
    void onAnEmptyBatteryOrAPaidLineItWaitsAlsoPastDue() {
        Orders due = told(BY_NIGHT, Orders.Start.BY_ITSELF, true, order(What.OFFERED, Optional.of(BEGIN)));
        for (Nature waiting : List.of(like(SOUND, 39, false), like(SOUND, 100, true))) {
            live(host(waiting), due, 9);
            assertThat(when("downloaded")).isEmpty();
            assertThat(when("installed")).isEmpty();
        }
        live(host(like(SOUND, 40, false)), due, 9);
        assertThat(when("installed")).isNotEmpty();
    }

    private static Nature like(Nature other, int charge, boolean paidLine) {
        return new Nature(
                other.rhythm(),
                other.latest(),
                other.idle(),
                other.off(),
                other.away(),
                other.homeDays(),
                charge,
                paidLine,
                other.faults());
    }

    @Test
    void clockChangesShiftItsHoursWithTheWall() {
        WeekHours vienna = new WeekHours(
                ZoneId.of("Europe/Vienna"),
                List.of(WeekHours.Span.parse("mon-fri 22:00-02:30"), WeekHours.Span.parse("sat,sun 01:00-04:00")),
                List.of(),
                Optional.of(LocalTime.NOON));
        assertThat(vienna.isBusy(Instant.parse("2026-10-23T20:30:00Z")))
                .as("summer time")
                .isTrue();
        assertThat(vienna.isBusy(Instant.parse("2026-10-26T20:30:00Z")))
                .as("winter time")
                .isFalse();
        assertThat(vienna.isBusy(Instant.parse("2026-10-26T21:30:00Z"))).isTrue();
        assertThat(vienna.firstAllowed(Instant.parse("2026-10-24T23:30:00Z"), false))
                .as("the hour that comes twice is busy twice")
                .contains(Instant.parse("2026-10-25T03:00:00Z"));
        assertThat(vienna.atDueHour(Instant.parse("2026-10-24T10:30:00Z")))
                .isEqualTo(Instant.parse("2026-10-25T11:00:00Z"));
    }
}
