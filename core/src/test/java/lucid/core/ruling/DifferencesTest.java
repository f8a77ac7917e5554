package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.ruling.Differences.Way;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class DifferencesTest {

    /** Number 3 says so; it is no host of most of these fleets. */
    private static final RoaringBitmap NOT_OBEYING = RoaringBitmap.bitmapOf(3);

    private static final Update DESK = TestFleet.update("DESK-2", RestartNeed.HOST, List.of(), "pkg:generic/desk@2");

    private static Population kiosks() {
        Population p = TestFleet.population("kiosks", "role = kiosk", 5);
        return new Population(
                p.id(),
                p.name(),
                p.condition(),
                p.includes(),
                p.excludes(),
                p.tier(),
                p.owner(),
                p.protectedHosts(),
                Optional.of("mirror"),
                p.timing(),
                p.rule());
    }

    private static Host host(int number, String role, String version, String supply) {
        HostReport report = TestFleet.report(
                number,
                NOW,
                Optional.of(NOW.minus(Duration.ofDays(30))),
                Map.of("role", text(role)),
                "pkg:generic/desk@" + version);
        return Host.first(
                number,
                new HostReport(
                        report.name(),
                        report.platform(),
                        report.at(),
                        report.traits(),
                        report.products(),
                        Optional.ofNullable(supply),
                        report.lastStart(),
                        List.of()));
    }

    private static Differences of(Decisions decisions, Host... hosts) {
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(List.of(kiosks()), new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                .with(List.of(hosts));
        return Differences.of(
                TestFleet.carriages(fleet, List.of(DESK)), decisions, NOT_OBEYING, NOW.plus(Duration.ofHours(1)));
    }

    private static Verdict force(Optional<java.time.Instant> revokedAt) {
        return new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("DESK-2"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.FORCE,
                NOW.plus(Duration.ofDays(3)),
                new Verdict.Reason(Set.of(ReasonWord.EXPOSED), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                revokedAt);
    }

    @Test
    void aHostLikeTheOthersDoesNotDiffer() {
        assertThat(of(Decisions.NONE, host(0, "kiosk", "2", "mirror")).any().isEmpty())
                .isTrue();
        assertThat(of(Decisions.NONE, host(0, "kiosk", "1", null)).any().isEmpty())
                .as("nothing is forced, and no supply is told")
                .isTrue();
    }

    @Test
    void whoLacksWhatIsForcedDiffersUntilTheForceIsTakenBack() {
        Host lacking = host(0, "kiosk", "1", "mirror");
        Host having = host(1, "kiosk", "2", "mirror");
        Differences forced = of(Decisions.NONE.with(force(Optional.empty())), lacking, having);
        assertThat(forced.in(Optional.of(Way.LACKS_FORCED)).toArray()).containsExactly(0);
        assertThat(forced.forced().get(DESK).toArray()).containsExactly(0);
        assertThat(of(Decisions.NONE.with(force(Optional.of(NOW))), lacking, having)
                        .any()
                        .isEmpty())
                .isTrue();
    }

    @Test
    void whatIsPastDueByTheRuleIsTold() {
        StandingRule rule = new StandingRule(
                List.of(new StandingRule.Line(
                        Set.of(), Set.of(), StandingRule.Offer.afterDays(2).dueAfterDays(3))),
                StandingRule.Offer.NEVER);
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(List.of(TestFleet.with(kiosks(), rule)), rule))
                .with(List.of(host(0, "kiosk", "1", "mirror"), host(1, "kiosk", "2", "mirror")));
        assertThat(Differences.of(
                                TestFleet.carriages(fleet, List.of(DESK)),
                                Decisions.NONE,
                                NOT_OBEYING,
                                NOW.plus(Duration.ofDays(4)))
                        .overdue())
                .isEmpty();
        Differences late = Differences.of(
                TestFleet.carriages(fleet, List.of(DESK)), Decisions.NONE, NOT_OBEYING, NOW.plus(Duration.ofDays(6)));
        assertThat(late.in(Optional.of(Way.PAST_RULE_DUE)).toArray()).containsExactly(0);
        assertThat(late.overdue()).containsOnlyKeys(DESK);
        assertThat(late.in(Optional.of(Way.LACKS_FORCED)).isEmpty()).isTrue();
    }

    @Test
    void anotherSupplyAndNoPopulationAndAnOutstandingRestartDiffer() {
        Host elsewhere = host(0, "kiosk", "2", "vendor");
        Host unassigned = host(1, "loan", "2", "vendor");
        Host before = host(2, "kiosk", "1", "mirror");
        HostReport after = TestFleet.report(
                2,
                NOW.plus(Duration.ofMinutes(5)),
                Optional.of(NOW.minus(Duration.ofDays(30))),
                Map.of("role", text("kiosk")),
                "pkg:generic/desk@2");
        Differences differences = of(Decisions.NONE, elsewhere, unassigned, before.after(after, Duration.ofDays(1)));
        assertThat(differences.in(Optional.of(Way.ANOTHER_SUPPLY)).toArray()).containsExactly(0);
        assertThat(differences.in(Optional.of(Way.IN_NO_POPULATION)).toArray()).containsExactly(1);
        assertThat(differences.in(Optional.of(Way.RESTART_OUTSTANDING)).toArray())
                .containsExactly(2);
        assertThat(differences.restarts().get(DESK).toArray()).containsExactly(2);
        assertThat(differences.in(Optional.empty()).toArray()).containsExactly(0, 1, 2);
    }

    @Test
    void whoSaysThatItDoesNotObeyDiffersIfItIsAHost() {
        Differences differences = of(Decisions.NONE, host(0, "kiosk", "2", "mirror"), host(3, "kiosk", "2", "mirror"));
        assertThat(differences.in(Optional.of(Way.NOT_OBEYING)).toArray()).containsExactly(3);
        assertThat(of(Decisions.NONE, host(0, "kiosk", "2", "mirror")).any().isEmpty())
                .isTrue();
    }

    @Test
    void whatIsDecidedNamesHostsThatTakeUpdatesFromElsewhere() {
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(List.of(kiosks()), new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                .with(List.of(
                        host(0, "kiosk", "1", "vendor"),
                        host(1, "kiosk", "1", "mirror"),
                        host(2, "kiosk", "2", "vendor"),
                        host(3, "loan", "1", "vendor")));
        Carriages carriages = TestFleet.carriages(fleet, List.of(DESK));
        Consequence forced = Consequences.of(
                force(Optional.empty()),
                DESK,
                carriages.of(DESK, NOW),
                fleet,
                Decisions.NONE,
                carriages.catalogue(),
                NOW);
        assertThat(forced.decided().toArray()).containsExactly(0, 1);
        assertThat(forced.otherSupply().toArray()).containsExactly(0);
    }

    @Test
    void aSilentHostDiffers() {
        Host silent = TestFleet.hostSeen(
                0, NOW.minus(Duration.ofDays(10)), Map.of("role", text("kiosk")), "pkg:generic/desk@2");
        assertThat(of(Decisions.NONE, silent).in(Optional.of(Way.UNKNOWN)).toArray())
                .containsExactly(0);
        assertThat(of(Decisions.NONE, silent).in(Optional.of(Way.LONG_SILENT)).isEmpty())
                .isTrue();
        Host gone = TestFleet.hostSeen(
                0, NOW.minus(Duration.ofDays(181)), Map.of("role", text("kiosk")), "pkg:generic/desk@2");
        assertThat(of(Decisions.NONE, gone).in(Optional.of(Way.LONG_SILENT)).toArray())
                .as("to be retired")
                .containsExactly(0);
    }
}
