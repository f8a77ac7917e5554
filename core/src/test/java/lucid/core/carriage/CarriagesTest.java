package lucid.core.carriage;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.updateId;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.TestFleet;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.update.AffectedRange;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.PackageReference;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;

/** The states that need more than versions, each as a story of one host. */
class CarriagesTest {

    private static final String LIB = "pkg:deb/fathom/libtls@";
    private static final Update UPDATE = TestFleet.update("FTM-1", RestartNeed.HOST, List.of(), LIB + "2.0");

    private static Instant hours(int hours) {
        return NOW.plus(Duration.ofHours(hours));
    }

    private static HostReport report(int at, int lastStart, String version) {
        return TestFleet.report(0, hours(at), Optional.of(hours(lastStart)), Map.of(), LIB + version);
    }

    private static Host host(HostReport... reports) {
        Host host = Host.first(0, reports[0]);
        for (HostReport report : Arrays.asList(reports).subList(1, reports.length)) {
            host = host.after(report, Host.DEFAULT_RHYTHM);
        }
        return host;
    }

    private static Carriage carriage(Update update, List<Update> updates, Host host, int now, Outcome... outcomes) {
        Fleet fleet = Fleet.EMPTY.with(List.of(host));
        return new Carriages(
                        Catalogue.EMPTY.with(updates),
                        fleet,
                        TestFleet.index(List.of(host), false),
                        TestFleet.index(List.of(host), true),
                        Outcomes.NONE.with(List.of(outcomes)))
                .of(update, hours(now));
    }

    private static CarriageState state(Host host, int now, Outcome... outcomes) {
        return carriage(UPDATE, List.of(UPDATE), host, now, outcomes).of(0);
    }

    private static Outcome outcome(Outcome.What what, int at) {
        return new Outcome(
                0, updateId("FTM-1"), Optional.of("1"), what, hours(at), Optional.of("E-7"), Optional.empty());
    }

    @Test
    void anInstallWithoutARestartIsOutstandingUntilTheHostStarts() {
        Host installed = host(report(0, -10, "1.0"), report(24, -10, "2.0"));
        assertThat(state(installed, 25)).isEqualTo(CarriageState.RESTART_OUTSTANDING);
        assertThat(state(installed.after(report(48, -10, "2.1"), Host.DEFAULT_RHYTHM), 49))
                .as("another install changes nothing")
                .isEqualTo(CarriageState.RESTART_OUTSTANDING);
        assertThat(state(installed.after(report(48, 30, "2.0"), Host.DEFAULT_RHYTHM), 49))
                .isEqualTo(CarriageState.CARRIES);
        assertThat(state(host(report(0, -10, "1.0"), report(24, 20, "2.0")), 25))
                .as("started between the reports")
                .isEqualTo(CarriageState.CARRIES);
        assertThat(state(host(report(0, -10, "1.0"), report(24, 20, "2.0")), 25, outcome(Outcome.What.INSTALLED, 21)))
                .as("but told to have installed later")
                .isEqualTo(CarriageState.RESTART_OUTSTANDING);
    }

    @Test
    void aRestartThatCameBetweenTwoInstallsCountsForTheFirst() {
        Host host = host(report(0, -10, "1.0"), report(24, 20, "2.0"), report(48, 20, "2.1"));
        Update next = TestFleet.update("FTM-2", RestartNeed.HOST, List.of(), LIB + "2.1");
        assertThat(state(host, 49)).isEqualTo(CarriageState.CARRIES);
        assertThat(carriage(next, List.of(next), host, 49).of(0)).isEqualTo(CarriageState.RESTART_OUTSTANDING);
    }

    @Test
    void aToldInstallIsClaimedThenUnknownAndAReportSettlesIt() {
        Host host = host(report(0, -10, "1.0"));
        Outcome installed = outcome(Outcome.What.INSTALLED, 2);
        assertThat(state(host, 3, installed)).isEqualTo(CarriageState.CLAIMED);
        assertThat(state(host, 49, installed)).isEqualTo(CarriageState.CLAIMED);
        assertThat(state(host, 50, installed)).as("silent after install").isEqualTo(CarriageState.UNKNOWN);
        assertThat(state(host.after(report(24, 23, "1.0"), Host.DEFAULT_RHYTHM), 25, installed))
                .as("told, but not found")
                .isEqualTo(CarriageState.MISSING);
        Outcome ofAnotherRevision = new Outcome(
                0,
                updateId("FTM-1"),
                Optional.of("0"),
                Outcome.What.INSTALLED,
                hours(2),
                Optional.empty(),
                Optional.empty());
        assertThat(state(host, 3, ofAnotherRevision)).isEqualTo(CarriageState.MISSING);
    }

    @Test
    void aHostThatIsOftenAwayIsWaitedForLonger() {
        Host seafarer = host(report(-480, -500, "1.0"), report(-96, -500, "1.0"));
        Outcome installed = outcome(Outcome.What.INSTALLED, 0);
        assertThat(seafarer.absences()).hasSize(1);
        assertThat(state(seafarer, 500, installed)).isEqualTo(CarriageState.CLAIMED);
        assertThat(state(seafarer, 576, installed)).isEqualTo(CarriageState.UNKNOWN);
    }

    @Test
    void aFailureIsKeptUntilTheFixIsFound() {
        Host host = host(report(0, -10, "1.0"));
        Outcome failed = outcome(Outcome.What.FAILED, 2);
        assertThat(state(host, 3, failed)).isEqualTo(CarriageState.FAILED);
        assertThat(state(host.after(report(24, -10, "1.0"), Host.DEFAULT_RHYTHM), 25, failed))
                .isEqualTo(CarriageState.FAILED);
        assertThat(state(host.after(report(24, 20, "2.0"), Host.DEFAULT_RHYTHM), 25, failed))
                .isEqualTo(CarriageState.CARRIES);
        Carriage removed =
                carriage(UPDATE, List.of(UPDATE), host(report(0, -10, "2.0")), 3, outcome(Outcome.What.REMOVED, 2));
        assertThat(removed.of(0)).isEqualTo(CarriageState.FAILED);
        assertThat(removed.lacking().contains(0)).isTrue();
    }

    @Test
    void whoCarriesASuccessorCarriesIt() {
        Update successor = TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/libtls3@1.0");
        Host host = Host.first(
                0, TestFleet.report(0, NOW, Optional.empty(), Map.of(), LIB + "1.0", "pkg:deb/fathom/libtls3@1.0"));
        Carriage carriage = carriage(UPDATE, List.of(UPDATE, successor), host, 1);
        assertThat(carriage.of(0)).isEqualTo(CarriageState.CARRIES);
        assertThat(carriage.viaSuccessor().contains(0)).isTrue();
        assertThat(carriage(UPDATE, List.of(UPDATE), host, 1).of(0)).isEqualTo(CarriageState.MISSING);
    }

    @Test
    void theLevelIsTheNewestUpdateOfTheTrackThatIsReached() {
        Fix tracks = new Fix(
                PackageReference.parse("pkg:generic/cistern").build(),
                List.of(AffectedRange.between("8.0", "8.7"), AffectedRange.between("9.0", "9.4")));
        Update both = TestFleet.update(
                TestFleet.notice("CST-14", "1", RestartNeed.NONE, List.of(), List.of(), List.of(tracks)),
                Optional.empty(),
                NOW);
        Update early = TestFleet.update("CST-13", "pkg:generic/cistern@8.5");
        Host host = Host.first(0, TestFleet.report(0, NOW, Optional.empty(), Map.of(), "pkg:generic/cistern@8.7.1"));
        Carriages carriages = TestFleet.carriages(Fleet.EMPTY.with(List.of(host)), List.of(both, early));
        assertThat(carriages.level(host.products().get(0))).hasValueSatisfying(level -> {
            assertThat(level.update().id()).isEqualTo(updateId("CST-14"));
            assertThat(level.track()).contains("8.0");
        });
        Host lower = Host.first(0, TestFleet.report(0, NOW, Optional.empty(), Map.of(), "pkg:generic/cistern@8.6"));
        assertThat(carriages.level(lower.products().get(0)))
                .hasValueSatisfying(level -> assertThat(level.update().id()).isEqualTo(updateId("CST-13")));
        Host lowest = Host.first(0, TestFleet.report(0, NOW, Optional.empty(), Map.of(), "pkg:generic/cistern@7"));
        assertThat(carriages.level(lowest.products().get(0))).isEmpty();
    }
}
