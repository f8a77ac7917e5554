package lucid.core.evidence;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.hostName;
import static lucid.core.TestIds.updateId;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.TestFleet;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.StandingRule;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;

class TriedHostsTest {

    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/lib@2");
    private static final Ladder LADDER = new Ladder(
            List.of(TestFleet.population("kiosks", "name is set", 3)),
            new StandingRule(List.of(), StandingRule.Offer.NEVER));

    private static Instant days(double days) {
        return NOW.minus(Duration.ofMinutes((long) (days * 24 * 60)));
    }

    /** Hosts by the days since their last report. */
    private static Fleet fleet(double... lastReports) {
        List<Host> hosts = new ArrayList<>();
        for (int i = 0; i < lastReports.length; i++) {
            hosts.add(TestFleet.hostSeen(i, days(lastReports[i]), Map.of(), "pkg:deb/fathom/lib@1"));
        }
        return Fleet.EMPTY.with(LADDER).with(hosts);
    }

    private static Outcome outcome(int host, Outcome.What what, double daysAgo, FailureClass failureClass) {
        return new Outcome(
                host,
                updateId("FTM-1"),
                Optional.empty(),
                what,
                days(daysAgo),
                Optional.of("E-" + failureClass),
                Optional.ofNullable(failureClass));
    }

    private static TriedHosts tried(Fleet fleet, Evidence evidence, Outcome... outcomes) {
        return TriedHosts.of(UPDATE, Outcomes.NONE.with(List.of(outcomes)), evidence, fleet, NOW);
    }

    @Test
    void anInstallIsCleanOnceAReportFollowsADayOrMoreAfterIt() {
        TriedHosts tried = tried(
                fleet(1, 3, 1),
                Evidence.NONE,
                outcome(0, Outcome.What.INSTALLED, 2, null),
                outcome(1, Outcome.What.INSTALLED, 1.5, null),
                outcome(2, Outcome.What.INSTALLED, 1.5, null));
        assertThat(tried.clean()).isEqualTo(1);
        assertThat(tried.waiting())
                .as("one has not reported, one only half a day later")
                .containsExactly(1, 2);
        assertThat(tried.nextChange()).contains(days(1.5).plus(Duration.ofDays(2)));
    }

    /** A population of which some tried it, and how many days ago each host was last heard of. */
    private static TriedHosts silence(int tried, int silentOfThem, int untried, int silentOfThose) {
        double[] lastReports = new double[tried + untried];
        List<Outcome> outcomes = new ArrayList<>();
        for (int i = 0; i < lastReports.length; i++) {
            boolean silent = i < tried ? i < silentOfThem : i - tried < silentOfThose;
            lastReports[i] = silent ? 3.1 : .1;
            if (i < tried) {
                outcomes.add(outcome(i, Outcome.What.INSTALLED, 3, null));
            }
        }
        return tried(fleet(lastReports), Evidence.NONE, outcomes.toArray(Outcome[]::new));
    }

    @Test
    void hostsThatFallSilentMoreOftenThanThoseThatDidNotTryItAreDown() {
        TriedHosts panels = silence(8, 3, 50, 0);
        assertThat(panels.down()).isEqualTo(3);
        assertThat(panels.tries()).filteredOn(TriedHosts.Try::failed).first().satisfies(one -> assertThat(one.failure())
                .get()
                .isEqualTo(new TriedHosts.Failure(FailureClass.DOWN, TriedHosts.SILENT, days(1), "")));
    }

    /** An office is switched off from Friday to Monday: silence there says nothing of what was installed on Friday. */
    @Test
    void silenceThatOthersShareIsNoFailure() {
        TriedHosts office = silence(40, 30, 60, 45);
        assertThat(office.failed()).isZero();
        assertThat(office.waiting()).hasSize(30);
        assertThat(office.clean()).isEqualTo(10);
        assertThat(silence(8, 1, 50, 0).down())
                .as("one silent host of eight may be chance")
                .isZero();
    }

    @Test
    void whoDidNotTryItButWasSilentBeforeIsNotComparedWith() {
        double[] lastReports = new double[60];
        List<Outcome> outcomes = new ArrayList<>();
        for (int i = 0; i < 60; i++) {
            lastReports[i] = i < 3 ? 3.1 : i < 10 || i > 30 ? .1 : 40;
            if (i < 10) {
                outcomes.add(outcome(i, Outcome.What.INSTALLED, 3, null));
            }
        }
        assertThat(tried(fleet(lastReports), Evidence.NONE, outcomes.toArray(Outcome[]::new))
                        .down())
                .as("twenty hosts have been away for forty days")
                .isEqualTo(3);
    }

    @Test
    void theLongestAbsenceHalfAsLongAgainIsNoSilence() {
        Host away = TestFleet.hostSeen(0, days(30), Map.of())
                .after(TestFleet.report(0, days(20), Optional.empty(), Map.of()), Duration.ofDays(1));
        assertThat(away.silentAfterInstall(days(10), Duration.ofDays(1))).isEqualTo(days(10).plus(Duration.ofDays(15)));
    }

    @Test
    void whatAPersonRemovedAgainHadFailed() {
        TriedHosts tried = tried(fleet(0), Evidence.NONE, outcome(0, Outcome.What.REMOVED, 2, null));
        assertThat(tried.tries()).singleElement().satisfies(one -> assertThat(one.failure())
                .get()
                .isEqualTo(new TriedHosts.Failure(FailureClass.DEGRADED, TriedHosts.REMOVED, days(2), "")));
    }

    @Test
    void theWorstOfThirtyDaysCounts() {
        TriedHosts tried = tried(
                fleet(0),
                Evidence.NONE,
                outcome(0, Outcome.What.FAILED, 50, FailureClass.DOWN),
                outcome(0, Outcome.What.FAILED, 9, FailureClass.DEGRADED),
                outcome(0, Outcome.What.FAILED, 8, FailureClass.REFUSED),
                outcome(0, Outcome.What.INSTALLED, 2, null));
        assertThat(tried.tries()).singleElement().satisfies(one -> assertThat(one.failure())
                .get()
                .extracting(TriedHosts.Failure::failureClass)
                .isEqualTo(FailureClass.DEGRADED));
        assertThat(tried(
                                fleet(0),
                                Evidence.NONE,
                                outcome(0, Outcome.What.FAILED, 50, FailureClass.DOWN),
                                outcome(0, Outcome.What.INSTALLED, 2, null))
                        .clean())
                .isEqualTo(1);
    }

    @Test
    void aReportThatNamesAHostIsItsFailureAndOthersAreNot() {
        FailureReport report = new FailureReport(
                "desk/1",
                updateId("FTM-1"),
                Optional.of("screen dark"),
                FailureClass.DOWN,
                "",
                List.of(hostName("host-0"), hostName("host-9")),
                7,
                Optional.empty(),
                "desk",
                days(1));
        Evidence evidence = Evidence.NONE.withReports(List.of(report));
        TriedHosts tried = tried(
                fleet(0, 0),
                evidence,
                outcome(0, Outcome.What.INSTALLED, 2, null),
                outcome(1, Outcome.What.INSTALLED, 2, null));
        assertThat(tried.tried()).isEqualTo(2);
        assertThat(tried.down()).isEqualTo(1);
        assertThat(tried(fleet(0, 0), evidence).failed())
                .as("also without an outcome")
                .isEqualTo(1);
    }

    private static Evidence dismissed(Optional<DismissedFailure.Failure> failure, Instant at) {
        return Evidence.NONE.with(new DismissedFailure(
                1, updateId("FTM-1"), hostName("host-0"), failure, "cable", "orrin", at, Optional.empty()));
    }

    @Test
    void aDismissedFailureDoesNotCount() {
        Evidence evidence = dismissed(Optional.of(new DismissedFailure.Failure("E-REFUSED", days(3))), NOW);
        TriedHosts tried = tried(fleet(0), evidence, outcome(0, Outcome.What.FAILED, 3, FailureClass.REFUSED));
        assertThat(tried.tried()).isZero();
        assertThat(tried.dismissed()).containsExactly(0);
        assertThat(tried(
                                fleet(0),
                                evidence,
                                outcome(0, Outcome.What.FAILED, 3, FailureClass.REFUSED),
                                outcome(0, Outcome.What.INSTALLED, 2, null))
                        .clean())
                .isEqualTo(1);
    }

    @Test
    void whoDismissesOneFailureDismissesNoLaterOne() {
        Outcome earlier = outcome(0, Outcome.What.FAILED, 3, FailureClass.REFUSED);
        Outcome later = outcome(0, Outcome.What.FAILED, 1, FailureClass.REFUSED);
        Evidence one = dismissed(Optional.of(new DismissedFailure.Failure("E-REFUSED", days(3))), days(2));
        assertThat(tried(fleet(0), one, earlier, later).failed()).isEqualTo(1);
        Evidence ofAnOlderVersion = dismissed(Optional.empty(), days(2));
        assertThat(tried(fleet(0), ofAnOlderVersion, earlier).failed()).isZero();
        assertThat(tried(fleet(0), ofAnOlderVersion, earlier, later).failed()).isEqualTo(1);
    }

    @Test
    void aDismissedSilenceIsNeitherCleanNorFailed() {
        double[] lastReports = new double[58];
        List<Outcome> outcomes = new ArrayList<>();
        for (int i = 0; i < 58; i++) {
            lastReports[i] = i < 3 ? 3.1 : .1;
            if (i < 8) {
                outcomes.add(outcome(i, Outcome.What.INSTALLED, 3, null));
            }
        }
        TriedHosts tried = tried(
                fleet(lastReports),
                dismissed(Optional.of(new DismissedFailure.Failure(TriedHosts.SILENT, days(1))), NOW),
                outcomes.toArray(Outcome[]::new));
        assertThat(tried.down()).isEqualTo(2);
        assertThat(tried.clean()).isEqualTo(5);
        assertThat(tried.dismissed()).containsExactly(0);
    }

    @Test
    void whatWasTriedOfOtherFixesWasNotTriedOfThese() {
        Update revised = TestFleet.update(
                TestFleet.notice(
                        "FTM-1",
                        "2",
                        RestartNeed.NONE,
                        List.of(),
                        List.of(),
                        TestFleet.update("FTM-1", "pkg:deb/fathom/lib@3").fixes()),
                Optional.of(UPDATE),
                NOW);
        assertThat(revised.revisionsWithTheseFixes())
                .extracting(r -> r.revision())
                .containsExactly("2");
        Outcome ofTheFirst = new Outcome(
                0,
                updateId("FTM-1"),
                Optional.of("1"),
                Outcome.What.FAILED,
                days(1),
                Optional.empty(),
                Optional.empty());
        assertThat(TriedHosts.of(revised, Outcomes.NONE.with(List.of(ofTheFirst)), Evidence.NONE, fleet(0), NOW)
                        .tried())
                .isZero();
    }
}
