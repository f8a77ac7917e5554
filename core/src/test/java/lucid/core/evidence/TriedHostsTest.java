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
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Kind;
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
    void anInstallCountsOnceAReportFollowedAndAsDownAfterTheUsualTime() {
        TriedHosts tried = tried(
                fleet(1, 3, 5),
                Evidence.NONE,
                outcome(0, Outcome.What.INSTALLED, 2, null),
                outcome(1, Outcome.What.INSTALLED, 1.5, null),
                outcome(2, Outcome.What.INSTALLED, 3, null));
        assertThat(tried.clean()).isEqualTo(1);
        assertThat(tried.waiting()).containsExactly(1);
        assertThat(tried.nextSilence()).contains(days(1.5).plus(Duration.ofDays(2)));
        assertThat(tried.tries())
                .filteredOn(TriedHosts.Try::failed)
                .singleElement()
                .satisfies(one -> {
                    assertThat(one.host()).isEqualTo(2);
                    assertThat(one.failure())
                            .get()
                            .isEqualTo(new TriedHosts.Failure(FailureClass.DOWN, TriedHosts.SILENT, days(1), ""));
                });
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

    @Test
    void aDismissedFailureDoesNotCount() {
        Evidence evidence = Evidence.NONE.with(new DismissedFailure(
                1, updateId("FTM-1"), hostName("host-0"), "cable", "orrin", NOW, Optional.empty()));
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

    @Test
    void baselineRatesAreThoseOfOtherUpdatesOfTheKindUntilToday() {
        Update other = TestFleet.update("FTM-2", "pkg:deb/fathom/lib@2");
        TriedHosts many = new TriedHosts(
                IntStream.range(0, 300)
                        .mapToObj(i -> new TriedHosts.Try(
                                i,
                                days(i < 200 ? 5 : 0.1),
                                Optional.empty(),
                                i < 3
                                        ? Optional.of(new TriedHosts.Failure(FailureClass.REFUSED, "E", days(5), ""))
                                        : Optional.empty()))
                        .toList(),
                List.of(),
                List.of(),
                Optional.empty());
        BaselineRates rates = BaselineRates.of(Map.of(UPDATE, many, other, many), NOW);
        assertThat(rates.of(UPDATE)).isEqualTo(new BaselineRates.Baseline(200, 3));
        assertThat(rates.of(UPDATE).mean()).isEqualTo(4.0 / 300);
        assertThat(UPDATE.kind()).isEqualTo(Kind.BUGFIX);
        assertThat(BaselineRates.UNKNOWN.of(UPDATE).mean()).isEqualTo(.01);
    }
}
