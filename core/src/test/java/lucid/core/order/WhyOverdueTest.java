package lucid.core.order;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

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
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;
import lucid.core.fleet.Trait;
import lucid.core.fleet.WeekSpan;
import lucid.core.order.HeardBy.Hearing;
import lucid.core.order.WhyOverdue.Why;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/** Each host that lacks what is due stands once, under what is known to keep it. */
class WhyOverdueTest {

    private static final String LACKS = "pkg:generic/desk@1";
    private static final Update UPDATE = TestFleet.update("D-2", "pkg:generic/desk@2");
    private static final Instant DUE = NOW.minus(Duration.ofHours(5));

    private static Timing timing(StartMode start, String... windows) {
        return new Timing(
                ZoneOffset.UTC,
                Optional.empty(),
                List.of(),
                List.of(windows).stream().map(WeekSpan::parse).toList(),
                Optional.empty(),
                Duration.ZERO,
                start,
                true,
                Restraint.USUAL);
    }

    private static Carriages carriages(Timing timing) {
        Map<String, Trait> desk = Map.of("role", TestFleet.text("desk"));
        return TestFleet.carriages(
                Fleet.EMPTY
                        .with(new Ladder(
                                List.of(TestFleet.with(timing, TestFleet.population("desks", "role = desk", 5))),
                                new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                        .with(List.of(
                                TestFleet.hostSeen(0, NOW.minus(Duration.ofDays(20)), desk, LACKS),
                                TestFleet.host(1, desk, LACKS),
                                TestFleet.host(2, desk, LACKS),
                                TestFleet.host(
                                        3,
                                        Map.of("role", TestFleet.text("desk"), "paid_line", new Trait.Truth(true)),
                                        LACKS),
                                TestFleet.host(4, desk, LACKS))),
                List.of(UPDATE));
    }

    private static Verdict force(Instant due, Verdict.Delivery delivery) {
        return new Verdict(
                        verdictNumber(1),
                        new Verdict.Subject(updateId("D-2"), "1", populationId("desks"), Optional.empty()),
                        VerdictType.FORCE,
                        due,
                        new Verdict.Reason(Set.of(), ""),
                        new Verdict.Origin("orrin", NOW.minus(Duration.ofDays(3))),
                        new Verdict.Overrides(Set.of(), Set.of()),
                        Optional.empty())
                .with(delivery);
    }

    private static final WhyOverdue.Said SAID = new WhyOverdue.Said(
            Map.of(Hearing.NOT_YET, RoaringBitmap.bitmapOf(0, 1), Hearing.IN_FORCE, RoaringBitmap.bitmapOf(2, 3, 4)),
            RoaringBitmap.bitmapOf(2));

    private static WhyOverdue why(Verdict force, Timing timing) {
        return WhyOverdue.of(force, UPDATE, RoaringBitmap.bitmapOf(0, 1, 2, 3, 4), SAID, carriages(timing), NOW);
    }

    @Test
    void eachUnderTheFirstReasonThatIsKnownOfIt() {
        WhyOverdue why = why(force(DUE, Verdict.Delivery.USUAL), timing(StartMode.BY_ITSELF));
        assertThat(why.hosts())
                .isEqualTo(Map.of(
                        Why.SILENT, RoaringBitmap.bitmapOf(0),
                        Why.NOT_REACHED, RoaringBitmap.bitmapOf(1),
                        Why.INSTALLS_NOTHING, RoaringBitmap.bitmapOf(2),
                        Why.PAID_LINE, RoaringBitmap.bitmapOf(3),
                        Why.NOT_KNOWN, RoaringBitmap.bitmapOf(4)));
        assertThat(why.nextWindow()).isEmpty();
    }

    @Test
    void whatIsNotDueYetIsOverdueNowhere() {
        assertThat(why(force(NOW.plusSeconds(1), Verdict.Delivery.USUAL), timing(StartMode.BY_ITSELF))
                        .hosts())
                .isEmpty();
        assertThat(why(force(NOW, Verdict.Delivery.USUAL), timing(StartMode.BY_ITSELF))
                        .hosts())
                .hasSize(5);
    }

    @Test
    void withoutAWindowSinceItWaitsForTheNext() {
        // 24 November 2026 is a Tuesday.
        WhyOverdue why = why(force(DUE, Verdict.Delivery.USUAL), timing(StartMode.BY_ITSELF, "sun 02:00-05:00"));
        assertThat(why.hosts()).containsEntry(Why.NO_WINDOW, RoaringBitmap.bitmapOf(4));
        assertThat(why.nextWindow()).contains(Instant.parse("2026-11-29T02:00:00Z"));
        assertThat(why(force(DUE, Verdict.Delivery.USUAL), timing(StartMode.BY_ITSELF, "tue 05:00-06:00"))
                        .hosts())
                .as("one has come and gone")
                .containsEntry(Why.NOT_KNOWN, RoaringBitmap.bitmapOf(4));
    }

    @Test
    void whereAnOperatorBeginsItIsTheOperators() {
        assertThat(why(force(DUE, Verdict.Delivery.USUAL), timing(StartMode.BY_OPERATOR))
                        .hosts())
                .containsEntry(Why.BY_OPERATOR, RoaringBitmap.bitmapOf(3, 4))
                .doesNotContainKey(Why.PAID_LINE);
    }
}
