package lucid.core.pilot;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.text;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import lucid.core.TestIds;
import lucid.core.TestPilots;
import lucid.core.evidence.DismissedFailure;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.StandingRule;
import lucid.core.pilot.Progress.HostState;
import lucid.core.pilot.Progress.State;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class ProgressTest {

    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final RoaringBitmap NOBODY = new RoaringBitmap();

    private static Instant day(double days) {
        return NOW.plusSeconds((long) (86_400 * days));
    }

    /** Kiosks that were all last heard of on a day. */
    private static Fleet fleet(int hosts, double lastReport) {
        return Fleet.EMPTY
                .with(new Ladder(
                        List.of(TestFleet.population("kiosks", "role = kiosk", 5)),
                        new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                .with(IntStream.range(0, hosts)
                        .mapToObj(i -> TestFleet.hostSeen(
                                i, day(lastReport), Map.of("role", text("kiosk")), "pkg:deb/fathom/libtls@1.0"))
                        .toList());
    }

    private static Outcome installed(int host, double day) {
        return new Outcome(
                host,
                UPDATE.id(),
                Optional.empty(),
                Outcome.What.INSTALLED,
                day(day),
                Optional.empty(),
                Optional.empty());
    }

    private static Outcome failed(int host, double day, FailureClass failureClass) {
        return new Outcome(
                host,
                UPDATE.id(),
                Optional.empty(),
                Outcome.What.FAILED,
                day(day),
                Optional.of("E-7"),
                Optional.of(failureClass));
    }

    private static Pilot pilot(int hosts, String... departments) {
        return TestPilots.of(IntStream.range(0, hosts).boxed().toList(), NOW, Set.of(departments));
    }

    private static Progress progress(
            Pilot pilot, Update update, Fleet fleet, Evidence evidence, Instant now, Outcome... happened) {
        Outcomes outcomes = Outcomes.NONE.with(List.of(happened));
        return Progress.of(pilot, update, TriedHosts.of(update, outcomes, evidence, fleet, now), outcomes, fleet);
    }

    private static Progress progress(Pilot pilot, double lastReport, Outcome... happened) {
        return progress(
                pilot, UPDATE, fleet(pilot.places().size(), lastReport), Evidence.NONE, day(lastReport), happened);
    }

    private static Outcome[] installedOn(int from, int to, double day) {
        return IntStream.range(from, to).mapToObj(host -> installed(host, day)).toArray(Outcome[]::new);
    }

    private static Outcome[] with(Outcome[] some, Outcome... more) {
        List<Outcome> all = new ArrayList<>(List.of(some));
        all.addAll(List.of(more));
        return all.toArray(Outcome[]::new);
    }

    @Test
    void aHostHasSoakedOnceItReportedAfterTheSoakTime() {
        Progress early = progress(pilot(3), 3.5, installed(0, .5), installed(1, .6));
        assertThat(early.hosts())
                .extracting(Progress.OfHost::state)
                .containsExactly(HostState.SOAKED, HostState.SOAKING, HostState.NOT_TRIED);
        assertThat(early.state()).isEqualTo(State.SOAKING);
        assertThat(early.since()).contains(day(3.5));
    }

    @Test
    void whereARestartIsNeededTheHostMustHaveHadIt() {
        Update restarting = TestFleet.update("FTM-1", RestartNeed.HOST, List.of(), "pkg:deb/fathom/libtls@2.0");
        Host without = TestFleet.hostSeen(0, day(9), Map.of("role", text("kiosk")), "pkg:deb/fathom/libtls@1.0");
        Host started = Host.first(
                1,
                TestFleet.report(
                        1, day(9), Optional.of(day(2)), Map.of("role", text("kiosk")), "pkg:deb/fathom/libtls@1"));
        Fleet fleet = fleet(0, 0).with(List.of(without, started));
        Progress progress =
                progress(pilot(2), restarting, fleet, Evidence.NONE, day(9), installed(0, 1), installed(1, 1));
        assertThat(progress.hosts())
                .extracting(Progress.OfHost::state)
                .containsExactly(HostState.SOAKING, HostState.SOAKED);
    }

    @Test
    void theGateIsMetByACleanSampleOfAnySize() {
        Progress met = progress(pilot(12), 5, installedOn(0, 12, 1));
        assertThat(met.state()).isEqualTo(State.MET);
        assertThat(met.since()).as("as the last of them had soaked").contains(day(4));
        Progress almost = progress(pilot(12), 5, installedOn(0, 11, 1));
        assertThat(almost.state()).isEqualTo(State.SOAKING);
        assertThat(almost.furtherClean(pilot(12))).isEqualTo(1);
    }

    @Test
    void aSignOffThatIsAskedForIsWaitedFor() {
        Pilot pilot = pilot(12, "Ticketing", "Harbour office");
        Outcome[] clean = installedOn(0, 12, 1);
        assertThat(progress(pilot, 5, clean).state()).isEqualTo(State.AWAITS_SIGN_OFF);
        Pilot half = pilot.signedOff("Ticketing", new Pilot.SignOff("pell", day(5)));
        assertThat(half.unsigned()).containsExactly("Harbour office");
        assertThat(progress(half, 5, clean).state()).isEqualTo(State.AWAITS_SIGN_OFF);
        assertThat(progress(half.signedOff("Harbour office", new Pilot.SignOff("pell", day(5))), 5, clean)
                        .state())
                .isEqualTo(State.MET);
    }

    @Test
    void oneHostDownFailsItAndSoDoTwoOfFewThatTried() {
        assertThat(progress(pilot(58), 2, with(installedOn(0, 30, 1), failed(30, 1, FailureClass.DOWN)))
                        .state())
                .isEqualTo(State.FAILED);
        Outcome[] two = {failed(50, 1, FailureClass.DEGRADED), failed(51, 1, FailureClass.REFUSED)};
        assertThat(progress(pilot(58), 2, with(installedOn(0, 13, 1), two)).state())
                .isEqualTo(State.FAILED);
        Progress goesOn = progress(pilot(58), 2, with(installedOn(0, 18, 1), two));
        assertThat(goesOn.state()).isEqualTo(State.SOAKING);
        assertThat(goesOn.furtherClean(pilot(58))).isEqualTo(121);
    }

    @Test
    void aDismissedFailureShowsNothing() {
        Outcomes outcomes = Outcomes.NONE.with(List.of(failed(0, 1, FailureClass.DOWN)));
        Evidence dismissed = Evidence.NONE.with(new DismissedFailure(
                1,
                UPDATE.id(),
                TestIds.hostName("host-0"),
                Optional.of(new DismissedFailure.Failure("E-7", day(1))),
                "a plug was pulled",
                "orrin",
                day(1.5),
                Optional.empty()));
        Fleet fleet = fleet(2, 2);
        Progress progress = Progress.of(
                pilot(2), UPDATE, TriedHosts.of(UPDATE, outcomes, dismissed, fleet, day(2)), outcomes, fleet);
        assertThat(progress.hosts())
                .extracting(Progress.OfHost::state)
                .containsExactly(HostState.DISMISSED, HostState.NOT_TRIED);
        assertThat(progress.state()).isEqualTo(State.SOAKING);
    }

    @Test
    void whenAllHaveAnsweredAndItIsNeitherItIsExhausted() {
        Progress progress = progress(pilot(20), 5, with(installedOn(0, 19, 1), failed(19, 1, FailureClass.REFUSED)));
        assertThat(progress.state()).isEqualTo(State.EXHAUSTED);
    }

    private static List<PilotStep> due(Pilot pilot, Progress progress, RoaringBitmap named, Fleet fleet, double day) {
        Candidates candidates = Candidates.of(fleet.all(), nothing(), NOBODY, NOBODY, false, fleet);
        return PilotStep.due(pilot, progress, named, candidates, fleet, day(day));
    }

    private static TriedHosts nothing() {
        return TriedHosts.of(UPDATE, Outcomes.NONE, Evidence.NONE, fleet(1, 0), NOW);
    }

    @Test
    void aFailedGateIsKeptEvenIfTheFailureIsDismissedLater() {
        Pilot pilot = pilot(58);
        Progress failed = progress(pilot, 2, failed(0, 1, FailureClass.DOWN));
        List<PilotStep> steps = due(pilot, failed, fleet(58, 2).all(), fleet(58, 2), 2);
        assertThat(steps).singleElement().isInstanceOf(PilotStep.Failed.class);
        Pilot after = steps.get(0).after();
        assertThat(after.failedAt()).contains(day(2));
        assertThat(progress(after, 3).state()).isEqualTo(State.FAILED);
        assertThat(due(after, progress(after, 3), fleet(58, 3).all(), fleet(58, 3), 3))
                .isEmpty();
    }

    @Test
    void whatIsPreparedComesOnceWhenTheGateIsMet() {
        Pilot plain = pilot(58);
        Pilot.Then forced = new Pilot.Then(Optional.of(4));
        Pilot.Terms terms = plain.terms();
        Pilot pilot = Pilot.starting(
                plain.number(),
                new Pilot.Terms(
                        terms.gate(),
                        terms.soak(),
                        terms.traits(),
                        terms.seed(),
                        terms.alsoTier1(),
                        terms.departments(),
                        Optional.of(forced)),
                plain.places().stream().map(Pilot.Place::host).toList(),
                plain.startedAt());
        Progress met = progress(pilot, 5, installedOn(0, 58, 1));
        assertThat(met.state()).isEqualTo(State.MET);
        assertThat(due(plain, met, fleet(58, 5).all(), fleet(58, 5), 5))
                .as("where nothing is prepared, somebody is asked")
                .isEmpty();
        List<PilotStep> steps = due(pilot, met, fleet(58, 5).all(), fleet(58, 5), 5);
        assertThat(steps).singleElement().isInstanceOfSatisfying(PilotStep.Met.class, step -> assertThat(step.then())
                .isEqualTo(forced));
        Pilot after = steps.get(0).after();
        assertThat(after.metAt()).contains(day(5));
        assertThat(due(after, met, fleet(58, 6).all(), fleet(58, 6), 6))
                .as("once")
                .isEmpty();
    }

    @Test
    void whoDoesNotTryWithinSevenDaysIsReplacedAndWhoTriedKeepsCounting() {
        Fleet fleet = fleet(10, 7);
        Pilot pilot = pilot(3);
        Progress progress = progress(pilot, UPDATE, fleet, Evidence.NONE, day(7), installed(0, 1), installed(1, 6));
        assertThat(due(pilot, progress, fleet.all(), fleet, 6.9)).isEmpty();
        List<PilotStep> steps = due(pilot, progress, fleet.all(), fleet, 7);
        assertThat(steps).singleElement().isInstanceOfSatisfying(PilotStep.Replaced.class, replaced -> {
            assertThat(replaced.host()).isEqualTo(2);
            assertThat(replaced.by()).get().satisfies(by -> assertThat(by).isBetween(3, 9));
            assertThat(replaced.left()).isFalse();
            assertThat(replaced.after().sampleAt(day(7)))
                    .isEqualTo(RoaringBitmap.bitmapOf(0, 1, replaced.by().get()));
            assertThat(progress(replaced.after(), UPDATE, fleet, Evidence.NONE, day(7), installed(0, 1))
                            .hosts())
                    .extracting(Progress.OfHost::state)
                    .containsExactly(HostState.SOAKED, HostState.NOT_TRIED, HostState.REPLACED, HostState.NOT_TRIED);
        });
    }

    @Test
    void whoLeavesIsReplacedAtOnceAndOneThatNobodyCanReplaceStays() {
        Fleet fleet = fleet(10, 1);
        Pilot pilot = pilot(3);
        Progress progress = progress(pilot, UPDATE, fleet, Evidence.NONE, day(1), installed(0, .5));
        RoaringBitmap named = fleet.all();
        named.remove(2);
        assertThat(due(pilot, progress, named, fleet, 1))
                .singleElement()
                .isInstanceOfSatisfying(PilotStep.Replaced.class, replaced -> assertThat(replaced.left())
                        .isTrue());

        Fleet small = fleet(3, 8);
        Progress late = progress(pilot, UPDATE, small, Evidence.NONE, day(8), installed(0, 1));
        assertThat(due(pilot, late, small.all(), small, 8))
                .as("late, and there is nobody else")
                .isEmpty();
        named = small.all();
        named.remove(2);
        assertThat(due(pilot, late, named, small, 8))
                .singleElement()
                .isInstanceOfSatisfying(PilotStep.Replaced.class, replaced -> {
                    assertThat(replaced.by()).isEmpty();
                    assertThat(replaced.after().sampleAt(day(8))).isEqualTo(RoaringBitmap.bitmapOf(0, 1));
                });
    }

    @Test
    void whatWasToldBeforeTheSampleWasDrawnIsNotItsOwn() {
        Pilot later = TestPilots.of(List.of(0), day(5));
        assertThat(progress(later, UPDATE, fleet(1, 6), Evidence.NONE, day(6), failed(0, 1, FailureClass.DOWN))
                        .hosts())
                .extracting(Progress.OfHost::state)
                .containsExactly(HostState.NOT_TRIED);
    }
}
