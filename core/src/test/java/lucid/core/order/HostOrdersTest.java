package lucid.core.order;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.populationIds;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;

/** What a host is told is what the ruling says, with all that it needs in order to obey. */
class HostOrdersTest {

    private static final Timing TIMING = new Timing(
            ZoneOffset.UTC,
            Optional.of(Duration.ofHours(12)),
            List.of(),
            List.of(),
            Optional.empty(),
            Duration.ofDays(3),
            StartMode.AT_SHUTDOWN,
            false,
            Restraint.USUAL);
    private static final Host KIOSK =
            TestFleet.host(0, Map.of("role", TestFleet.text("kiosk")), "pkg:generic/desk@1", "pkg:generic/reader@4");
    private static final Carriages CARRIAGES = TestFleet.carriages(
            Fleet.EMPTY
                    .with(new Ladder(
                            List.of(TestFleet.with(TIMING, TestFleet.population("kiosks", "role = kiosk", 5))),
                            new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                    .with(List.of(KIOSK)),
            List.of(
                    TestFleet.update("D-2", RestartNeed.HOST, List.of(), "pkg:generic/desk@2"),
                    TestFleet.update("D-3", RestartNeed.NONE, List.of("D-2"), "pkg:generic/desk@3"),
                    TestFleet.update("R-4", "pkg:generic/reader@4"),
                    TestFleet.update("OTHER", "pkg:generic/other@1")));

    private static Instant day(int days) {
        return NOW.plus(Duration.ofDays(days));
    }

    private static Verdict verdict(String update, VerdictType type, Instant end, Verdict.Delivery delivery) {
        return new Verdict(
                        verdictNumber(1),
                        new Verdict.Subject(updateId(update), "1", populationId("kiosks"), Optional.empty()),
                        type,
                        end,
                        new Verdict.Reason(Set.of(), ""),
                        new Verdict.Origin("orrin", NOW),
                        new Verdict.Overrides(Set.of(), Set.of()),
                        Optional.empty())
                .with(delivery);
    }

    private static HostOrders told(Decisions decisions, int day) {
        return HostOrders.of(KIOSK, CARRIAGES, decisions, day(day));
    }

    private static HostOrders.Order order(HostOrders told, String update) {
        return told.orders().stream()
                .filter(order -> order.update().equals(updateId(update)))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void beforeTheRuleOffersItIsWithheldUntilThatDayAndThenOffered() {
        HostOrders.Order waits = order(told(Decisions.NONE, 1), "D-3");
        assertThat(waits.effect()).isEqualTo(Effect.WITHHELD);
        assertThat(waits.until()).contains(day(5));
        HostOrders told = told(Decisions.NONE, 6);
        assertThat(told.orders()).extracting(order -> order.update().value()).containsExactly("D-3");
        assertThat(order(told, "D-3").effect()).isEqualTo(Effect.OFFERED);
        assertThat(order(told, "D-3").packages())
                .extracting(one -> one.installed().build().toString(), HostOrders.Package::version)
                .containsExactly(tuple("pkg:generic/desk", "3"));
        assertThat(told.population().timing()).isEqualTo(TIMING);
        assertThat(told.rhythm()).isEqualTo(Duration.ofHours(12));
    }

    @Test
    void aForceIsToldWithItsDayItsAllowanceAndItsWindows() {
        Decisions forced = Decisions.NONE.with(
                verdict("D-2", VerdictType.FORCE, day(4), new Verdict.Delivery(Duration.ofDays(1), true)));
        HostOrders.Order order = order(told(forced, 1), "D-2");
        assertThat(order.effect()).isEqualTo(Effect.OFFERED);
        assertThat(order.due()).contains(day(4));
        assertThat(order.allowance()).isEqualTo(Duration.ofDays(1));
        assertThat(order.outsideWindows()).isTrue();
        assertThat(order.restart()).isEqualTo(RestartNeed.HOST);
    }

    @Test
    void whatIsForcedIsToldThoughItsSuccessorWaits() {
        Decisions forced = Decisions.NONE.with(verdict("D-2", VerdictType.FORCE, day(4), Verdict.Delivery.USUAL));
        assertThat(told(forced, 1).orders())
                .extracting(order -> order.update().value(), HostOrders.Order::effect)
                .containsExactlyInAnyOrder(tuple("D-2", Effect.OFFERED), tuple("D-3", Effect.WITHHELD));
    }

    @Test
    void aFreezeOfItsPopulationIsToldBeforeItBegins() {
        Freeze freeze = new Freeze(
                new DecisionNumber.OfFreeze(1),
                populationIds("kiosks"),
                day(7),
                day(9),
                "holiday",
                "orrin",
                NOW,
                Optional.empty());
        Decisions frozen = Decisions.NONE.with(freeze);
        assertThat(told(frozen, 6).frozen()).containsExactly(new HostOrders.Frozen(day(7), day(9)));
        assertThat(order(told(frozen, 8), "D-3").effect()).isEqualTo(Effect.WITHHELD);
        assertThat(told(frozen, 10).frozen()).isEmpty();
        assertThat(told(Decisions.NONE.with(freeze.revoked(day(6))), 7).frozen())
                .isEmpty();
    }

    @Test
    void whatIsToBeRemovedIsToldThoughItIsThere() {
        assertThat(told(Decisions.NONE, 6).orders())
                .noneMatch(order -> order.update().equals(updateId("R-4")));
        Decisions removed =
                Decisions.NONE.with(verdict("R-4", VerdictType.BLOCK, day(30), Verdict.Delivery.USUAL.removing()));
        assertThat(order(told(removed, 6), "R-4").effect()).isEqualTo(Effect.REMOVE);
    }

    @Test
    void whatIsWithheldIsSoFromTheEarliestThatItContainsUntilWhatIsOffered() {
        Decisions blocked = Decisions.NONE.with(verdict("D-2", VerdictType.BLOCK, day(30), Verdict.Delivery.USUAL));
        // D-3 contains D-2 and waits with it; whatever the vendor builds between or after them has the change too.
        assertThat(told(blocked, 1).orders()).allSatisfy(order -> {
            assertThat(order.effect()).isEqualTo(Effect.WITHHELD);
            assertThat(order.packages()).allMatch(one -> one.below().isEmpty());
        });
        assertThat(told(blocked, 1).orders().stream()
                        .flatMap(order -> order.packages().stream())
                        .map(HostOrders.Package::version))
                .contains("2");
        Carriages apart = TestFleet.carriages(
                CARRIAGES.fleet(),
                List.of(TestFleet.update("D-2", "pkg:generic/desk@2"), TestFleet.update("D-3", "pkg:generic/desk@3")));
        Decisions lifted = blocked.with(new Verdict(
                verdictNumber(2),
                new Verdict.Subject(updateId("D-3"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.DEFER,
                day(1),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty()));
        HostOrders told = HostOrders.of(KIOSK, apart, lifted, day(2));
        assertThat(order(told, "D-3").effect()).isEqualTo(Effect.OFFERED);
        assertThat(order(told, "D-2").packages())
                .extracting(HostOrders.Package::version, HostOrders.Package::below)
                .containsExactly(tuple("2", Optional.of("3")));
    }

    @Test
    void somethingElseHoldsNoEarlierThanIsTold() {
        HostOrders told = told(Decisions.NONE, 1);
        assertThat(told.changesAt()).contains(day(5));
        assertThat(told(Decisions.NONE, 6).changesAt()).isEmpty();
    }

    @Test
    void aBlockThatHoldsPastARevisionWithholdsWhatTheEarlierOneBroughtToo() {
        Update first = TestFleet.update("D-2", "pkg:generic/desk@2");
        Update revised = TestFleet.update(
                TestFleet.notice(
                        "D-2",
                        "2",
                        RestartNeed.NONE,
                        List.of(),
                        List.of(),
                        TestFleet.update("D-2", "pkg:generic/desk@2.1").fixes()),
                Optional.of(first),
                day(2));
        Carriages carriages = TestFleet.carriages(CARRIAGES.fleet(), List.of(revised));
        Decisions blocked = Decisions.NONE.with(verdict("D-2", VerdictType.BLOCK, day(30), Verdict.Delivery.USUAL));
        assertThat(order(HostOrders.of(KIOSK, carriages, blocked, day(3)), "D-2")
                        .packages())
                .extracting(HostOrders.Package::version)
                .containsExactly("2");
        assertThat(order(HostOrders.of(KIOSK, carriages, Decisions.NONE, day(9)), "D-2")
                        .packages())
                .extracting(HostOrders.Package::version)
                .containsExactly("2.1");
    }

    @Test
    void ofTwoUpdatesInOneVersionARuleGivesWayToAnOfferAndABlockDoesNot() {
        Carriages both = TestFleet.carriages(
                CARRIAGES.fleet(),
                List.of(
                        TestFleet.update("ONE", "pkg:generic/desk@2"),
                        TestFleet.update("OTHER", "pkg:generic/desk@2")));
        Decisions forced = Decisions.NONE.with(verdict("ONE", VerdictType.FORCE, day(4), Verdict.Delivery.USUAL));
        HostOrders byRule = HostOrders.of(KIOSK, both, forced, day(1));
        assertThat(order(byRule, "OTHER").effect()).isEqualTo(Effect.WITHHELD);
        assertThat(order(byRule, "OTHER").packages()).isEmpty();
        Decisions blocked = Decisions.NONE.with(verdict("OTHER", VerdictType.BLOCK, day(30), Verdict.Delivery.USUAL));
        HostOrders byVerdict = HostOrders.of(KIOSK, both, blocked, day(6));
        assertThat(order(byVerdict, "ONE").effect()).isEqualTo(Effect.OFFERED);
        assertThat(order(byVerdict, "OTHER").packages())
                .extracting(HostOrders.Package::version)
                .containsExactly("2");
    }
}
