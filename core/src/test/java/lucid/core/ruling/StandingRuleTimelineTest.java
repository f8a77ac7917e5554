package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;
import static org.assertj.core.api.Assertions.within;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.CarriageState;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Catalogue;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;

/** What standing rules say: by traits, when it is due, and after the tries of others. */
class StandingRuleTimelineTest {

    private static final PopulationId BENCH = populationId("bench");
    private static final StandingRule NEVER = new StandingRule(List.of(), StandingRule.Offer.NEVER);
    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Host KIOSK = kiosk(0, "R1");
    private static final Host OTHER_READER = kiosk(1, "R2");

    private static Host kiosk(int number, String reader) {
        return TestFleet.host(
                number,
                Map.of("role", TestFleet.text("kiosk"), "reader", TestFleet.text(reader)),
                "pkg:deb/fathom/libtls@1.0");
    }

    private static Instant day(double days) {
        return NOW.plusSeconds(Math.round(days * 86_400));
    }

    private static Ladder ladder(StandingRule kiosks) {
        return new Ladder(
                List.of(
                        TestFleet.with(TestFleet.population("kiosks", "role = kiosk", 5), kiosks),
                        TestFleet.population("bench", "role = bench", 0)),
                NEVER);
    }

    private static StandingRule rule(StandingRule.Offer offer) {
        return new StandingRule(List.of(new StandingRule.Line(Set.of(), Set.of(), offer)), StandingRule.Offer.NEVER);
    }

    private static Ruling ruling(Ladder ladder, Decisions decisions, Host host, Instant at) {
        return ruling(UPDATE, ladder, decisions, host, at);
    }

    private static Ruling ruling(Update update, Ladder ladder, Decisions decisions, Host host, Instant at) {
        Fleet fleet = Fleet.EMPTY.with(ladder).with(List.of(KIOSK, OTHER_READER));
        return Timeline.of(update, decisions, fleet, Catalogue.EMPTY.with(List.of(update)))
                .ruling(host, CarriageState.MISSING, at);
    }

    private static Verdict block(Instant from, Instant until) {
        return verdict(VerdictType.BLOCK, from, until);
    }

    private static Verdict verdict(VerdictType type, Instant from, Instant until) {
        return new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                type,
                until,
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", from),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    @Test
    void aLineMaySpeakOfSomeHostsOnly() {
        Ladder ladder = ladder(new StandingRule(
                List.of(
                        new StandingRule.Line(
                                Set.of(),
                                Set.of(),
                                Optional.of(HostConditions.parse("reader = R2")),
                                StandingRule.Offer.afterDays(9)),
                        new StandingRule.Line(Set.of(), Set.of(), StandingRule.Offer.afterDays(3))),
                StandingRule.Offer.NEVER));
        assertThat(ruling(ladder, Decisions.NONE, KIOSK, day(4)).effect()).isEqualTo(Effect.OFFERED);
        Ruling waits = ruling(ladder, Decisions.NONE, OTHER_READER, day(4));
        assertThat(waits.effect()).isEqualTo(Effect.WITHHELD);
        assertThat(waits.until()).contains(day(9));
        Fleet fleet = Fleet.EMPTY.with(ladder).with(List.of(KIOSK, OTHER_READER));
        Timeline timeline = Timeline.of(UPDATE, Decisions.NONE, fleet, Catalogue.EMPTY.with(List.of(UPDATE)));
        assertThat(timeline.groups(fleet.all(), day(4))).hasSize(2);
        assertThat(timeline.offeredByRule(fleet.all(), day(1)))
                .extracting(of -> of.at().orElseThrow(), of -> of.hosts().first())
                .containsExactlyInAnyOrder(tuple(day(3), 0), tuple(day(9), 1));
        assertThat(timeline.offeredByRule(fleet.ladder().populations().get(0), day(1)))
                .as("first to anybody")
                .contains(day(3));
    }

    @Test
    void whatTheRuleOffersIsDueAfterItsDeadline() {
        Ladder ladder = ladder(rule(StandingRule.Offer.afterDays(5).dueAfterDays(4)));
        assertThat(ruling(ladder, Decisions.NONE, KIOSK, day(4)).holds().due()).isEmpty();
        assertThat(ruling(ladder, Decisions.NONE, KIOSK, day(6)).holds().due()).contains(day(9));
        assertThat(ruling(ladder, Decisions.NONE, KIOSK, day(30)).holds().due())
                .as("it stays due when that is past")
                .contains(day(9));
    }

    @Test
    void aDeadlineCountsFromTheEndOfTheLastWithholding() {
        Ladder ladder = ladder(rule(StandingRule.Offer.afterDays(5).dueAfterDays(4)));
        Decisions blocked = Decisions.NONE.with(block(day(7), day(20)));
        assertThat(ruling(ladder, blocked, KIOSK, day(6)).holds().due()).contains(day(9));
        assertThat(ruling(ladder, blocked, KIOSK, day(21)).holds().due())
                .as("nothing is released that is overdue already")
                .contains(day(24));
        Decisions takenBack = Decisions.NONE.with(block(day(7), day(20)).revoked(day(12)));
        assertThat(ruling(ladder, takenBack, KIOSK, day(21)).holds().due()).contains(day(16));
        Decisions before = Decisions.NONE.with(block(day(1), day(3)));
        assertThat(ruling(ladder, before, KIOSK, day(6)).holds().due())
                .as("a block that was over before the rule offered it changes nothing")
                .contains(day(9));
    }

    @Test
    void whatWasDeferredOrLetGoFallsDueByTheRuleToo() {
        Ladder ladder = ladder(rule(StandingRule.Offer.afterDays(5).dueAfterDays(4)));
        Decisions deferred = Decisions.NONE.with(verdict(VerdictType.DEFER, day(1), day(10)));
        assertThat(ruling(ladder, deferred, KIOSK, day(8)).holds().due()).isEmpty();
        assertThat(ruling(ladder, deferred, KIOSK, day(11)).holds().due()).contains(day(14));
        Decisions letGo = Decisions.NONE.with(verdict(VerdictType.DEFER, day(1), day(1)));
        assertThat(ruling(ladder, letGo, KIOSK, day(2)).holds().due())
                .as("the rule would not offer it yet")
                .isEmpty();
        assertThat(ruling(ladder, letGo, KIOSK, day(6)).holds().due())
                .as("no earlier than by the rule alone")
                .contains(day(9));
        Ladder never = ladder(rule(StandingRule.Offer.NEVER));
        assertThat(ruling(never, letGo, KIOSK, day(40)).holds().due()).isEmpty();
    }

    @Test
    void whatFallsDueInAFreezeWaitsAndAFreezeBeginsNoDeadlineAnew() {
        Ladder ladder = ladder(rule(StandingRule.Offer.afterDays(5).dueAfterDays(4)));
        Decisions before = Decisions.NONE.with(freeze(day(6), day(7)));
        assertThat(ruling(ladder, before, KIOSK, day(8)).holds().due())
                .as("it was over before it was due")
                .contains(day(9));
        Decisions meanwhile = Decisions.NONE.with(freeze(day(8), day(12)));
        assertThat(ruling(ladder, meanwhile, KIOSK, day(13)).holds().due()).contains(day(12));
        Decisions takenBack = Decisions.NONE.with(freeze(day(8), day(12)).revoked(day(8.5)));
        assertThat(ruling(ladder, takenBack, KIOSK, day(13)).holds().due()).contains(day(9));
    }

    private static Freeze freeze(Instant from, Instant until) {
        return new Freeze(new DecisionNumber.OfFreeze(1), Set.of(), from, until, "", "orrin", from, Optional.empty());
    }

    @Test
    void aRuleThatWasChangedMakesNothingOverdue() {
        StandingRule with = rule(StandingRule.Offer.afterDays(5).dueAfterDays(4));
        Ladder before = ladder(rule(StandingRule.Offer.afterDays(5))).following(Ladder.EMPTY, day(0));
        Ladder after = ladder(with).following(before, day(30));
        assertThat(ruling(after, Decisions.NONE, KIOSK, day(30)).holds().due()).contains(day(34));
        Ladder renamed = ladder(with).following(after, day(40));
        assertThat(ruling(renamed, Decisions.NONE, KIOSK, day(41)).holds().due())
                .as("what says the same is as old as it was")
                .contains(day(34));
        assertThat(after.saysTheSameAs(renamed)).isTrue();
    }

    @Test
    void aRuleWaitsForTheTriesOfOthers() {
        Ladder ladder = ladder(
                rule(StandingRule.Offer.afterDays(2).afterTriesOf(BENCH, 14).dueAfterDays(3)));
        TriesShown nothing = TriesShown.nothing(updateId("FTM-1"), BENCH);
        Ruling waiting = ruling(ladder, Decisions.NONE, KIOSK, day(5));
        assertThat(waiting.effect()).isEqualTo(Effect.WITHHELD);
        assertThat(waiting.until()).as("at the latest").contains(day(14));

        Decisions met = Decisions.NONE.withShown(List.of(nothing.met(day(4))));
        assertThat(ruling(ladder, met, KIOSK, day(5)).until()).contains(day(6));
        assertThat(ruling(ladder, met, KIOSK, day(7)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(ruling(ladder, met, KIOSK, day(7)).holds().due()).contains(day(9));
        assertThat(ruling(ladder, Decisions.NONE.withShown(List.of(nothing.met(day(13)))), KIOSK, day(14))
                        .effect())
                .as("never later than the latest day")
                .isEqualTo(Effect.OFFERED);

        Decisions failed = Decisions.NONE.withShown(List.of(nothing.met(day(4)).failed(day(8))));
        assertThat(ruling(ladder, failed, KIOSK, day(7)).effect())
                .as("nobody knew yet")
                .isEqualTo(Effect.OFFERED);
        Ruling withheld = ruling(ladder, failed, KIOSK, day(20));
        assertThat(withheld.effect()).isEqualTo(Effect.WITHHELD);
        assertThat(withheld.holds().isNever()).as("until somebody judges").isTrue();

        Update revised = TestFleet.update(
                TestFleet.notice(
                        "FTM-1",
                        "2",
                        RestartNeed.NONE,
                        List.of(),
                        List.of(),
                        TestFleet.update("X", "pkg:deb/fathom/libtls@2.1").fixes()),
                Optional.of(UPDATE),
                day(9));
        assertThat(ruling(revised, ladder, failed, KIOSK, day(20)).effect())
                .as("other fixes were not tried: it is offered on the latest day")
                .isEqualTo(Effect.OFFERED);
    }

    @Test
    void aChangeOfTheRuleTellsWhatFallsDueAndHowMuchLaterItIsOffered() {
        Ladder before = ladder(rule(StandingRule.Offer.afterDays(5))).following(Ladder.EMPTY, day(-50));
        Fleet fleet = Fleet.EMPTY.with(before).with(List.of(KIOSK, OTHER_READER));
        LadderChange later = LadderChange.of(
                TestFleet.carriages(fleet, List.of(UPDATE)),
                Decisions.NONE,
                ladder(rule(StandingRule.Offer.afterDays(8).dueAfterDays(1))).following(before, day(1)),
                day(1));
        assertThat(later.offers()).singleElement().satisfies(change -> {
            assertThat(change.hostDays()).isCloseTo(6, within(1e-9));
            assertThat(change.offered().isEmpty()).isTrue();
        });
        LadderChange due = LadderChange.of(
                TestFleet.carriages(fleet, List.of(UPDATE)),
                Decisions.NONE,
                ladder(rule(StandingRule.Offer.afterDays(5).dueAfterDays(1))).following(before, day(6)),
                day(6));
        assertThat(due.offers())
                .singleElement()
                .satisfies(change -> assertThat(change.dueSooner().toArray()).containsExactly(0, 1));
        LadderChange never = LadderChange.of(
                TestFleet.carriages(fleet, List.of(UPDATE)),
                Decisions.NONE,
                ladder(NEVER).following(before, day(1)),
                day(1));
        assertThat(never.offers())
                .singleElement()
                .satisfies(change -> assertThat(change.offersEnd().toArray()).containsExactly(0, 1));
    }
}
