package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import lucid.core.carriage.CarriageState;
import lucid.core.docket.Cue;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.evidence.Evidence;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.Spread;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Catalogue;
import lucid.core.update.Removable;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.weighing.Weights;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/** How a verdict reaches its hosts: in parts, by operator, or by removing what is there. */
class DeliveryTest {

    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Ladder LADDER = new Ladder(
            List.of(TestFleet.population("kiosks", "role = kiosk", 60)),
            new StandingRule(List.of(), StandingRule.Offer.NEVER));
    private static final Spread TWO_PARTS = new Spread(List.of(
            new Spread.Part(day(5), RoaringBitmap.bitmapOf(0)), new Spread.Part(day(10), RoaringBitmap.bitmapOf(1))));

    private static Host kiosk(int number, String version) {
        return TestFleet.host(number, Map.of("role", TestFleet.text("kiosk")), "pkg:deb/fathom/libtls@" + version);
    }

    private static Instant day(int days) {
        return NOW.plus(Duration.ofDays(days));
    }

    private static Verdict verdict(VerdictType type, Instant end, Verdict.Delivery delivery) {
        return new Verdict(
                        verdictNumber(1),
                        new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                        type,
                        end,
                        new Verdict.Reason(Set.of(), ""),
                        new Verdict.Origin("orrin", NOW),
                        new Verdict.Overrides(Set.of(), Set.of()),
                        Optional.empty())
                .with(delivery);
    }

    private static Verdict inParts(VerdictType type) {
        return verdict(type, day(10), Verdict.Delivery.USUAL).spreadOver(TWO_PARTS);
    }

    private static final Fleet FLEET =
            Fleet.EMPTY.with(LADDER).with(List.of(kiosk(0, "1.0"), kiosk(1, "1.0"), kiosk(2, "1.0")));

    private static Ruling ruling(Verdict verdict, int host, Instant at) {
        return ruling(verdict, host, CarriageState.MISSING, at);
    }

    private static Ruling ruling(Verdict verdict, int host, CarriageState state, Instant at) {
        return Timeline.of(UPDATE, Decisions.NONE.with(verdict), FLEET, Catalogue.EMPTY.with(List.of(UPDATE)))
                .ruling(FLEET.host(host), state, at);
    }

    @Test
    void aDeferralEndsForEachPartOnItsDay() {
        Verdict verdict = inParts(VerdictType.DEFER);
        assertThat(ruling(verdict, 0, day(6)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(ruling(verdict, 1, day(6)).until()).contains(day(10));
        assertThat(ruling(verdict, 2, day(6)).until())
                .as("who is in no part follows with the last")
                .contains(day(10));
        assertThat(verdict.isLetGo()).isFalse();
    }

    @Test
    void aForceBeginsForAPartWhenTheOneBeforeIsDue() {
        Verdict verdict = inParts(VerdictType.FORCE);
        assertThat(ruling(verdict, 0, day(1)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(ruling(verdict, 0, day(1)).holds().due()).contains(day(5));
        assertThat(ruling(verdict, 1, day(1)).effect()).isEqualTo(Effect.WITHHELD);
        assertThat(ruling(verdict, 1, day(1)).holds().due()).contains(day(10));
        assertThat(ruling(verdict, 1, day(1)).until()).contains(day(5));
        assertThat(ruling(verdict, 1, day(6)).effect()).isEqualTo(Effect.OFFERED);
    }

    @Test
    void eachPartIsCuedAsItComesNear() {
        assertThat(cues(inParts(VerdictType.DEFER), day(4)))
                .filteredOn(cue -> cue.type() == Cue.Type.DEFERRAL_ENDS)
                .singleElement()
                .satisfies(cue -> {
                    assertThat(cue.when()).contains(day(5));
                    assertThat(cue.hosts()).isEqualTo(1);
                });
        assertThat(cues(inParts(VerdictType.FORCE), day(6)))
                .filteredOn(cue -> cue.type() == Cue.Type.OVERDUE)
                .singleElement()
                .satisfies(cue -> {
                    assertThat(cue.when()).contains(day(5));
                    assertThat(cue.hosts()).as("the second part is not due yet").isEqualTo(1);
                });
    }

    private static List<Cue> cues(Verdict verdict, Instant at) {
        DocketCase judged = Docket.of(
                        new Docket.Facts(
                                TestFleet.carriages(FLEET, List.of(UPDATE)),
                                Evidence.NONE,
                                Weights.USUAL,
                                Decisions.NONE.with(verdict)),
                        at)
                .find(updateId("FTM-1"))
                .orElseThrow();
        return judged.cues();
    }

    @Test
    void ninetyHostsInThreePartsAreThirtyEach() {
        Fleet fleet = Fleet.EMPTY
                .with(LADDER)
                .with(IntStream.range(0, 90).mapToObj(n -> kiosk(n, "1.0")).toList());
        Spread spread = Spread.of(fleet.all(), List.of(day(0), day(5), day(10)), "seed", fleet);
        assertThat(spread.of(fleet.all()))
                .extracting(part -> part.hosts().getCardinality())
                .containsExactly(30, 30, 30);
        int moved = spread.parts().get(0).hosts().first();
        Spread other = spread.with(Map.of(moved, 2));
        assertThat(other.of(fleet.all()))
                .extracting(part -> part.hosts().getCardinality())
                .containsExactly(29, 30, 31);
        assertThat(other.at(moved)).isEqualTo(day(10));
        assertThat(other.before(moved)).contains(day(5));
        assertThat(spread.before(moved)).isEmpty();
    }

    @Test
    void whatAnOperatorBeginsIsOfferedButNeverInstalledByItself() {
        Verdict.Delivery delivery =
                Verdict.Delivery.USUAL.by(new Verdict.ByOperator(List.of("close the till"), List.of()));
        Ruling ruling = ruling(verdict(VerdictType.FORCE, day(5), delivery), 0, day(1));
        assertThat(ruling.effect()).isEqualTo(Effect.BY_OPERATOR);
        assertThat(ruling.effect().isOffer()).isTrue();
        assertThat(ruling.holds().due()).as("as a request").contains(day(5));
    }

    @Test
    void aBlockMayRemoveItWhereItIs() {
        Verdict verdict = verdict(VerdictType.BLOCK, day(5), Verdict.Delivery.USUAL.removing());
        assertThat(ruling(verdict, 0, CarriageState.CARRIES, day(1)).effect()).isEqualTo(Effect.REMOVE);
        assertThat(ruling(verdict, 0, CarriageState.NOT_APPLICABLE, day(1)).effect())
                .isEqualTo(Effect.NOTHING_TO_DO);
        assertThat(ruling(verdict, 0, CarriageState.CARRIES, day(6)).effect())
                .as("once it has ended")
                .isEqualTo(Effect.NOTHING_TO_DO);
        assertThat(ruling(verdict, 0, CarriageState.MISSING, day(1)).effect()).isEqualTo(Effect.WITHHELD);
        Timeline timeline =
                Timeline.of(UPDATE, Decisions.NONE.with(verdict), FLEET, Catalogue.EMPTY.with(List.of(UPDATE)));
        assertThat(timeline.removed(RoaringBitmap.bitmapOf(0, 1), day(1)).toArray())
                .containsExactly(0, 1);
        assertThat(timeline.removed(RoaringBitmap.bitmapOf(0, 1), day(6)).isEmpty())
                .isTrue();
    }

    @Test
    void everyHostHasItsLastDayToRemoveIt() {
        Update update = removable(new Removable(Optional.of(LocalDate.of(2026, 12, 20)), Optional.of(10)));
        InstalledProduct had = new InstalledProduct(UPDATE.fixes().get(0).build(), "1.0");
        Outcomes outcomes = Outcomes.NONE.with(
                List.of(installed(0, day(-3)).with(Optional.of(had)), installed(1, day(-20)), installed(2, day(25))));
        Removal removal = Removal.of(update, RoaringBitmap.bitmapOf(0, 1, 2, 3), outcomes, withFour(), day(0));
        assertThat(removal.tooLate().toArray()).containsExactly(1);
        assertThat(removal.lastDays())
                .containsOnlyKeys(LocalDate.ofInstant(day(7), ZoneOffset.UTC), LocalDate.of(2026, 12, 20));
        assertThat(removal.unknown().toArray())
                .as("nobody told when it installed it")
                .containsExactly(3);
        assertThat(removal.earlier().toArray()).containsExactly(0);
        assertThat(Removal.of(
                                removable(Removable.until(Removable.NEVER)),
                                RoaringBitmap.bitmapOf(0),
                                outcomes,
                                FLEET,
                                day(0))
                        .tooLate()
                        .toArray())
                .containsExactly(0);
        assertThat(Removable.NOT_TOLD.lastDay(Optional.of(NOW), ZoneOffset.UTC)).isEmpty();
        assertThat(Removable.NOT_TOLD.isPossibleOn(LocalDate.of(2030, 1, 1))).isTrue();
        assertThatThrownBy(() -> new Removable(Optional.empty(), Optional.of(-1)))
                .hasMessageContaining("must not be negative");
    }

    private static Fleet withFour() {
        return FLEET.with(List.of(kiosk(3, "2.0")));
    }

    private static Outcome installed(int host, Instant at) {
        return new Outcome(
                host,
                updateId("FTM-1"),
                Optional.empty(),
                Outcome.What.INSTALLED,
                at,
                Optional.empty(),
                Optional.empty());
    }

    private static Update removable(Removable removable) {
        return TestFleet.update(
                TestFleet.removable(
                        TestFleet.notice(
                                "FTM-1",
                                "1",
                                RestartNeed.NONE,
                                List.of(),
                                List.of(),
                                TestFleet.update("X", "pkg:deb/fathom/libtls@2.0")
                                        .fixes()),
                        removable),
                Optional.empty(),
                NOW);
    }

    @Test
    void refusesADeliveryThatTheTypeHasNoUseFor() {
        assertThatThrownBy(() -> inParts(VerdictType.BLOCK)).hasMessageContaining("only what is deferred or forced");
        assertThatThrownBy(() -> verdict(VerdictType.FORCE, day(5), Verdict.Delivery.USUAL.removing()))
                .hasMessageContaining("what is removed is blocked");
        assertThatThrownBy(() -> verdict(VerdictType.DEFER, day(5), Verdict.Delivery.USUAL.spreadOver(TWO_PARTS)))
                .hasMessageContaining("ends with its last part");
    }
}
