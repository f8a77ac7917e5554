package lucid.core.operators;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.hostName;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.Spread;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;
import lucid.core.operators.OperatorWork.Standing;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class OperatorWorkTest {

    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Population KIOSKS = TestFleet.population("kiosks", "role = kiosk", 60);

    private static final StandingRule AT_ONCE = new StandingRule(List.of(), StandingRule.Offer.afterDays(0));

    private static Timing byOperator() {
        Timing any = Timing.ANY_TIME;
        return new Timing(
                any.zone(),
                any.rhythm(),
                any.busy(),
                any.windows(),
                any.dueHour(),
                any.allowance(),
                StartMode.BY_OPERATOR,
                any.earlyRestart(),
                any.restraint());
    }

    private static Instant day(int days) {
        return NOW.plus(Duration.ofDays(days));
    }

    private static Host kiosk(int number, String version) {
        return TestFleet.host(number, Map.of("role", TestFleet.text("kiosk")), "pkg:deb/fathom/libtls@" + version);
    }

    private static Carriages fleet(Population kiosks, Host... hosts) {
        return TestFleet.carriages(
                Fleet.EMPTY
                        .with(List.of(hosts))
                        .with(new Ladder(List.of(kiosks), new StandingRule(List.of(), StandingRule.Offer.NEVER))),
                List.of(UPDATE));
    }

    /** A force that its operator begins, due on day 5. */
    private static Verdict force(String... order) {
        return new Verdict(
                        verdictNumber(1),
                        new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                        VerdictType.FORCE,
                        day(5),
                        new Verdict.Reason(Set.of(), ""),
                        new Verdict.Origin("orrin", NOW),
                        new Verdict.Overrides(Set.of(), Set.of()),
                        Optional.empty())
                .with(Verdict.Delivery.USUAL.by(new Verdict.ByOperator(
                        List.of("close the till"),
                        List.of(order).stream().map(name -> hostName(name)).toList())));
    }

    private static Decisions decided(Verdict verdict) {
        return new Decisions(List.of(verdict), List.of(), List.of());
    }

    private static OperatorEntry said(long number, Instant at, Optional<OperatorEntry.Slot> slot, int... hosts) {
        return new OperatorEntry(number, updateId("FTM-1"), "1", RoaringBitmap.bitmapOf(hosts), slot, "", "tove", at);
    }

    private static OperatorEntry slot(long number, Instant from, int... hosts) {
        return said(number, NOW, Optional.of(new OperatorEntry.Slot(from, from.plus(Duration.ofHours(3)))), hosts);
    }

    private static List<OperatorWork> work(
            Carriages carriages, Decisions decisions, Instant at, OperatorEntry... said) {
        return OperatorWork.of(List.of(UPDATE), carriages, decisions, new OperatorEntries(List.of(said)), at);
    }

    private static List<Standing> standings(OperatorWork work) {
        return work.hosts().stream().map(OperatorWork.HostWork::standing).toList();
    }

    @Test
    void whatAVerdictHandsToOperatorsIsThereInTheOrderItNamesWithTheHostsThatLackIt() {
        Carriages carriages = fleet(KIOSKS, kiosk(0, "1.0"), kiosk(1, "2.0"), kiosk(2, "1.0"), kiosk(3, "1.0"));
        OperatorWork only =
                work(carriages, decided(force("host-3", "host-0")), day(1)).get(0);
        assertThat(only.hosts()).extracting(one -> one.host().number()).containsExactly(3, 0, 2);
        assertThat(only.concerned()).isEqualTo(4);
        assertThat(only.told().checklist()).containsExactly("close the till");
        assertThat(only.due()).contains(day(5));
        assertThat(only.amiss(day(1))).isEmpty();
        assertThat(only.amiss(day(5))).hasSize(3);
    }

    @Test
    void whatHostsBeginByThemselvesIsNoWorkAndWhatAPopulationLeavesToItsOperatorIs() {
        Population byItself = TestFleet.with(KIOSKS, AT_ONCE);
        assertThat(work(fleet(byItself, kiosk(0, "1.0")), Decisions.NONE, day(1)))
                .isEmpty();
        Population byHand = TestFleet.with(byOperator(), byItself);
        OperatorWork only =
                work(fleet(byHand, kiosk(0, "1.0")), Decisions.NONE, day(1)).get(0);
        assertThat(only.verdict()).isEmpty();
        assertThat(only.told().checklist()).isEmpty();
        assertThat(work(
                        fleet(
                                TestFleet.with(KIOSKS, new StandingRule(List.of(), StandingRule.Offer.NEVER)),
                                kiosk(0, "1.0")),
                        Decisions.NONE,
                        day(1)))
                .as("withheld")
                .isEmpty();
    }

    @Test
    void howFarEachHostIsIsTakenFromWhatWasLastSaidAndFromWhatItReportedSince() {
        Carriages carriages = fleet(KIOSKS, kiosk(0, "1.0"), kiosk(1, "1.0"), kiosk(2, "1.0"));
        Decisions decisions = decided(force());
        assertThat(standings(work(carriages, decisions, day(1), slot(1, day(2), 0, 1), slot(2, day(0), 1))
                        .get(0)))
                .containsExactly(Standing.AGREED, Standing.SLOT_PAST, Standing.NO_SLOT);
        OperatorEntry done = said(3, day(1), Optional.empty(), 0);
        assertThat(standings(work(carriages, decisions, day(2), done).get(0)))
                .as("the host's last report is older")
                .containsExactly(Standing.SAID_DONE, Standing.NO_SLOT, Standing.NO_SLOT);
        Host later =
                TestFleet.hostSeen(0, day(2), Map.of("role", TestFleet.text("kiosk")), "pkg:deb/fathom/libtls@1.0");
        Carriages reported = fleet(KIOSKS, later, kiosk(1, "1.0"));
        OperatorWork lacking = work(reported, decisions, day(3), done).get(0);
        assertThat(standings(lacking)).containsExactly(Standing.STILL_LACKS, Standing.NO_SLOT);
        assertThat(lacking.amiss(day(3))).extracting(one -> one.host().number()).containsExactly(0);
        assertThat(standings(work(reported, decisions, day(3), done, slot(4, day(4), 0))
                        .get(0)))
                .as("agreed anew")
                .containsExactly(Standing.AGREED, Standing.NO_SLOT);
    }

    @Test
    void whatARuleLeavesToOperatorsFoldsUnderTheSuccessorThatBringsIt() {
        Update successor = TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/libtls@3.0");
        Population byHand = TestFleet.with(byOperator(), TestFleet.with(KIOSKS, AT_ONCE));
        Carriages carriages = TestFleet.carriages(
                Fleet.EMPTY
                        .with(List.of(kiosk(0, "1.0"), kiosk(1, "2.0")))
                        .with(new Ladder(List.of(byHand), new StandingRule(List.of(), StandingRule.Offer.NEVER))),
                List.of(UPDATE, successor));
        List<OperatorWork> work =
                OperatorWork.of(List.of(UPDATE, successor), carriages, Decisions.NONE, OperatorEntries.NONE, day(1));
        assertThat(work).extracting(one -> one.update().id()).containsExactly(updateId("FTM-2"));
        assertThat(work.get(0).hosts()).hasSize(2);
        assertThat(OperatorWork.of(List.of(UPDATE), carriages, Decisions.NONE, OperatorEntries.NONE, day(1)))
                .as("asked for alone")
                .isEmpty();
        assertThat(OperatorWork.of(
                        List.of(UPDATE, successor), carriages, decided(force()), OperatorEntries.NONE, day(1)))
                .as("what somebody decided stays, with its steps")
                .extracting(one -> one.update().id())
                .containsExactly(updateId("FTM-1"), updateId("FTM-2"));
    }

    @Test
    void whatWasSaidOfAnotherRevisionDoesNotCount() {
        OperatorEntry older = new OperatorEntry(
                1, updateId("FTM-1"), "0", RoaringBitmap.bitmapOf(0), Optional.empty(), "", "tove", NOW);
        assertThat(standings(work(fleet(KIOSKS, kiosk(0, "1.0")), decided(force()), day(1), older)
                        .get(0)))
                .containsExactly(Standing.NO_SLOT);
    }

    @Test
    void thePartsOfAVerdictAreOneThingToDoEachHostWithItsOwnDay() {
        Verdict inParts = force().spreadOver(new Spread(List.of(
                new Spread.Part(day(2), RoaringBitmap.bitmapOf(0)),
                new Spread.Part(day(5), RoaringBitmap.bitmapOf(1)))));
        List<OperatorWork> work = work(fleet(KIOSKS, kiosk(0, "1.0"), kiosk(1, "1.0")), decided(inParts), day(3));
        assertThat(work).hasSize(1);
        assertThat(work.get(0).hosts())
                .extracting(OperatorWork.HostWork::due)
                .containsExactly(Optional.of(day(2)), Optional.of(day(5)));
        assertThat(work.get(0).amiss(day(3))).hasSize(1);
    }

    @Test
    void aSlotEndsAfterItBegins() {
        assertThatThrownBy(() -> new OperatorEntry.Slot(NOW, NOW)).isInstanceOf(IllegalArgumentException.class);
    }
}
