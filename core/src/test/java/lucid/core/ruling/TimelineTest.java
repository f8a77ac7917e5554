package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.acknowledgementNumber;
import static lucid.core.TestIds.exceptionNumber;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.populationIds;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.TestFleet;
import lucid.core.TestPilots;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.docket.Cue;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.evidence.Evidence;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.StandingRule;
import lucid.core.pilot.Pilot;
import lucid.core.update.AffectedRange;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.Product;
import lucid.core.update.Removable;
import lucid.core.update.Requirement;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateNotice;
import lucid.core.weighing.Weights;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class TimelineTest {

    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Ladder LADDER = new Ladder(
            List.of(TestFleet.population("kiosks", "role = kiosk", 5)),
            new StandingRule(List.of(), StandingRule.Offer.NEVER));
    private static final Host KIOSK = kiosk(0, "R2", "1.0");

    private static Host kiosk(int number, String reader, String version) {
        return TestFleet.host(
                number,
                Map.of("role", TestFleet.text("kiosk"), "reader", TestFleet.text(reader)),
                "pkg:deb/fathom/libtls@" + version);
    }

    private static Instant day(int days) {
        return NOW.plus(Duration.ofDays(days));
    }

    private static Verdict verdict(long number, VerdictType type, Instant end, long... overrides) {
        return new Verdict(
                verdictNumber(number),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                type,
                end,
                new Verdict.Reason(Set.of(ReasonWord.ROUTINE), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(
                        Arrays.stream(overrides)
                                .mapToObj(DecisionNumber.OfVerdict::new)
                                .collect(Collectors.toSet()),
                        Set.of()),
                Optional.empty());
    }

    private static Verdict narrowed(Verdict v, String condition) {
        return new Verdict(
                v.number(),
                new Verdict.Subject(
                        v.updateId(), v.revision(), v.populationId(), Optional.of(HostConditions.parse(condition))),
                v.type(),
                v.end(),
                new Verdict.Reason(v.reasons(), v.words()),
                new Verdict.Origin(v.author(), v.createdAt()),
                new Verdict.Overrides(v.overrides(), v.overriddenExceptions()),
                v.revokedAt());
    }

    private static ExceptionGrant exception(long number, ExceptionGrant.Scope scope, Effect effect, Instant until) {
        return new ExceptionGrant(
                exceptionNumber(number),
                scope,
                HostConditions.parse("name = host-0"),
                effect,
                until,
                "certificate",
                "orrin",
                "",
                "orrin",
                NOW,
                Optional.empty());
    }

    private static Ruling ruling(Decisions decisions, Instant at) {
        return Timeline.of(UPDATE, decisions, FLEET, Catalogue.EMPTY).ruling(KIOSK, CarriageState.MISSING, at);
    }

    private static Decisions verdicts(Verdict... verdicts) {
        return new Decisions(List.of(verdicts), List.of(), List.of());
    }

    @Test
    void whoCarriesItHasNothingToDo() {
        Ruling ruling = Timeline.of(UPDATE, verdicts(verdict(1, VerdictType.FORCE, day(2))), FLEET, Catalogue.EMPTY)
                .ruling(KIOSK, CarriageState.CARRIES, NOW);
        assertThat(ruling.effect()).isEqualTo(Effect.NOTHING_TO_DO);
        assertThat(ruling.until()).isEmpty();
    }

    @Test
    void withoutVerdictTheStandingRuleWithholdsUntilItsDelayIsOver() {
        Ruling ruling = ruling(Decisions.NONE, NOW);
        assertThat(ruling.effect()).isEqualTo(Effect.WITHHELD);
        assertThat(ruling.until()).contains(day(5));
        assertThat(ruling(Decisions.NONE, day(5)).effect()).isEqualTo(Effect.OFFERED);
    }

    @Test
    void whatCannotBeInstalledOrWasWithdrawnIsOfferedByNobody() {
        Update nothing = TestFleet.update(
                TestFleet.notice(
                        "FTM-1",
                        "1",
                        RestartNeed.NONE,
                        List.of(),
                        List.of(),
                        List.of(new Fix(UPDATE.fixes().get(0).build(), List.of(AffectedRange.upTo("1.9"))))),
                Optional.empty(),
                NOW);
        Verdict force = verdict(1, VerdictType.FORCE, day(2));
        Verdict letGo = verdict(2, VerdictType.DEFER, NOW);
        Decisions offers = verdicts(force, letGo)
                .with(exception(3, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.OFFERED, day(9)));
        assertThat(ruling(offers, day(1)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(Timeline.of(nothing, offers, FLEET, Catalogue.EMPTY).ruling(KIOSK, CarriageState.MISSING, day(1)))
                .satisfies(ruling -> {
                    assertThat(ruling.effect()).isEqualTo(Effect.WITHHELD);
                    assertThat(ruling.holds().clause()).isEqualTo(RuleMatch.Clause.STANDING_RULE);
                    assertThat(ruling.until()).isEmpty();
                });
    }

    @Test
    void hostsInNoPopulationFollowTheFleetsRule() {
        Host unassigned = TestFleet.host(1, Map.of(), "pkg:deb/fathom/libtls@1.0");
        Ruling ruling = Timeline.of(UPDATE, Decisions.NONE, FLEET, Catalogue.EMPTY)
                .ruling(unassigned, CarriageState.MISSING, day(500));
        assertThat(ruling.effect()).isEqualTo(Effect.WITHHELD);
        assertThat(ruling.until()).isEmpty();
    }

    @Test
    void theDelayCountsFromFirstReadingOfADocumentThatWasAlreadyOlder() {
        Update old = TestFleet.update(
                new UpdateNotice(
                        updateId("FTM-1"),
                        "t",
                        "",
                        "",
                        "1",
                        day(-30),
                        Kind.BUGFIX,
                        Optional.empty(),
                        Optional.empty(),
                        Removable.NOT_TOLD,
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        UPDATE.fixes()),
                Optional.empty(),
                NOW);
        assertThat(Timeline.of(old, Decisions.NONE, FLEET, Catalogue.EMPTY)
                        .offeredByRule(LADDER.populations().get(0), NOW))
                .contains(day(5));
    }

    @Test
    void aBlockEndsByItself() {
        Ruling ruling = ruling(verdicts(verdict(1, VerdictType.BLOCK, day(20))), NOW);
        assertThat(ruling.effect()).isEqualTo(Effect.WITHHELD);
        assertThat(ruling.holds().clause()).isEqualTo(RuleMatch.Clause.VERDICT);
        assertThat(ruling.until())
                .as("the rule would offer from day 5, the block ends on day 20")
                .contains(day(20));
        assertThat(ruling.chain())
                .extracting(RuleMatch::clause)
                .containsExactly(RuleMatch.Clause.VERDICT, RuleMatch.Clause.STANDING_RULE);
    }

    @Test
    void theUntilIsWhenTheWholeListGivesAnotherAnswer() {
        assertThat(ruling(verdicts(verdict(1, VerdictType.BLOCK, day(3))), NOW).until())
                .as("the block ends on day 3, but the rule withholds until day 5")
                .contains(day(5));
    }

    @Test
    void aDeferralsEndIsAnOffer() {
        Decisions deferred = verdicts(verdict(1, VerdictType.DEFER, day(9)));
        assertThat(ruling(deferred, day(6)).effect()).isEqualTo(Effect.WITHHELD);
        assertThat(ruling(deferred, day(9)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(ruling(verdicts(verdict(1, VerdictType.DEFER, NOW)), NOW).effect())
                .as("let it go now")
                .isEqualTo(Effect.OFFERED);
    }

    @Test
    void aForceStandsUntilItIsCarriedAlsoWhenItIsPastDue() {
        Decisions forced = verdicts(verdict(1, VerdictType.FORCE, day(2)));
        for (int days : List.of(0, 2, 40)) {
            assertThat(ruling(forced, day(days)).effect()).isEqualTo(Effect.OFFERED);
            assertThat(ruling(forced, day(days)).holds().due()).contains(day(2));
        }
        Verdict older = verdict(1, VerdictType.FORCE, day(2));
        Decisions lapsed = verdicts(new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.FORCE,
                day(2),
                new Verdict.Reason(older.reasons(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Verdict.Delivery.USUAL,
                older.then(),
                Optional.empty(),
                Optional.of(day(2)),
                Optional.empty()));
        assertThat(ruling(lapsed, day(3)).holds().clause())
                .as("as forces ended once")
                .isEqualTo(RuleMatch.Clause.STANDING_RULE);
    }

    @Test
    void aPilotOffersToItsSampleAndWithholdsFromTheRestUntilItEnds() {
        Host other = kiosk(1, "R2", "1.0");
        Fleet fleet = FLEET.with(List.of(other));
        Pilot pilot = TestPilots.of(List.of(0), NOW);
        Verdict verdict = verdict(1, VerdictType.DEFER, day(9)).with(pilot);
        Timeline timeline = Timeline.of(UPDATE, verdicts(verdict), fleet, Catalogue.EMPTY);
        assertThat(timeline.ruling(KIOSK, CarriageState.MISSING, day(1)).effect())
                .isEqualTo(Effect.OFFERED);
        assertThat(timeline.ruling(other, CarriageState.MISSING, day(1))).satisfies(ruling -> {
            assertThat(ruling.effect()).isEqualTo(Effect.WITHHELD);
            assertThat(ruling.holds().source()).contains(verdictNumber(1));
            assertThat(ruling.until()).as("then the rule, which offers by then").contains(day(9));
        });
        assertThat(timeline.groups(fleet.all(), day(1))).hasSize(2);

        Verdict failed = verdict.with(pilot.failed(day(3)));
        Timeline after = Timeline.of(UPDATE, verdicts(failed), fleet, Catalogue.EMPTY);
        assertThat(after.ruling(KIOSK, CarriageState.MISSING, day(2)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(after.ruling(KIOSK, CarriageState.MISSING, day(3)).effect())
                .as("the sampled host that has not installed it")
                .isEqualTo(Effect.WITHHELD);
    }

    @Test
    void aPilotGoesOverNoBlockThatItDoesNotName() {
        Verdict block = verdict(1, VerdictType.BLOCK, day(20));
        Pilot pilot = TestPilots.of(List.of(0), NOW);
        Verdict silent = verdict(2, VerdictType.DEFER, day(9)).with(pilot);
        assertThat(ruling(verdicts(block, silent), day(1)).effect()).isEqualTo(Effect.WITHHELD);
        Verdict naming = verdict(2, VerdictType.DEFER, day(9), 1).with(pilot);
        assertThat(ruling(verdicts(block, naming), day(1)).effect()).isEqualTo(Effect.OFFERED);
    }

    @Test
    void aReplacedHostIsOfferedItOnlyWhileItWasSampled() {
        Pilot pilot = TestPilots.of(List.of(0), NOW).without(0, day(4));
        Verdict verdict = verdict(1, VerdictType.DEFER, day(9)).with(pilot);
        assertThat(ruling(verdicts(verdict), day(3)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(ruling(verdicts(verdict), day(4)).effect()).isEqualTo(Effect.WITHHELD);
    }

    private static Freeze freeze(long number, int from, int until, String... populations) {
        return new Freeze(
                new DecisionNumber.OfFreeze(number),
                populationIds(populations),
                day(from),
                day(until),
                "holiday",
                "orrin",
                NOW,
                Optional.empty());
    }

    @Test
    void aFreezeWithholdsWhateverIsOfferedUntilItEnds() {
        Decisions forced = verdicts(verdict(1, VerdictType.FORCE, day(4))).with(freeze(1, 2, 9));
        assertThat(ruling(forced, day(1)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(ruling(forced, day(1)).until()).contains(day(2));
        assertThat(ruling(forced, day(3))).satisfies(ruling -> {
            assertThat(ruling.effect()).isEqualTo(Effect.WITHHELD);
            assertThat(ruling.holds().clause()).isEqualTo(RuleMatch.Clause.FREEZE);
            assertThat(ruling.holds().end()).contains(day(9));
            assertThat(ruling.chain().get(1).source()).contains(verdictNumber(1));
        });
        assertThat(ruling(forced, day(9)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(ruling(Decisions.NONE.with(freeze(1, 2, 9, "desks")), day(6)).effect())
                .as("of another population")
                .isEqualTo(Effect.OFFERED);
        assertThat(ruling(Decisions.NONE.with(freeze(1, 2, 9, "kiosks").revoked(day(6))), day(6))
                        .effect())
                .isEqualTo(Effect.OFFERED);
    }

    private static Caution caution(long number, Caution.Level level, int from, int until) {
        return new Caution(
                new DecisionNumber.OfCaution(number),
                level,
                day(until),
                "a bad week",
                "marsh",
                "orrin",
                day(from),
                Optional.empty());
    }

    @Test
    void aWatchfulFleetWaitsTwiceAsLong() {
        Decisions watchful = Decisions.NONE.with(caution(1, Caution.Level.WATCHFUL, 1, 30));
        assertThat(ruling(watchful, day(6)).effect())
                .as("the rule offers after 5 days, now after 10")
                .isEqualTo(Effect.WITHHELD);
        assertThat(ruling(watchful, day(6)).until()).contains(day(10));
        assertThat(ruling(watchful, day(10)).effect()).isEqualTo(Effect.OFFERED);
        Decisions untilTheEighth = Decisions.NONE.with(caution(1, Caution.Level.WATCHFUL, 1, 8));
        assertThat(ruling(untilTheEighth, day(6)).until())
                .as("with the end of the caution the plain delay holds again")
                .contains(day(8));
    }

    @Test
    void whatIsJudgedGoesOnWhereOnlyJudgedUpdatesMay() {
        Caution judgedOnly = caution(1, Caution.Level.JUDGED_ONLY, 1, 9);
        Ruling held = ruling(Decisions.NONE.with(judgedOnly), day(6));
        assertThat(held.effect()).isEqualTo(Effect.WITHHELD);
        assertThat(held.holds().clause()).isEqualTo(RuleMatch.Clause.CAUTION);
        assertThat(held.holds().source()).contains(judgedOnly.number());
        assertThat(held.until()).contains(day(9));
        assertThat(held.chain())
                .extracting(RuleMatch::clause)
                .containsExactly(RuleMatch.Clause.CAUTION, RuleMatch.Clause.STANDING_RULE);
        assertThat(ruling(verdicts(verdict(1, VerdictType.FORCE, day(7))).with(judgedOnly), day(6))
                        .effect())
                .isEqualTo(Effect.OFFERED);
        assertThat(ruling(Decisions.NONE.with(judgedOnly.revoked(day(2))), day(6))
                        .effect())
                .isEqualTo(Effect.OFFERED);
    }

    @Test
    void theCautionThatWasDeclaredLastCounts() {
        Decisions both = Decisions.NONE
                .with(caution(1, Caution.Level.JUDGED_ONLY, 1, 20))
                .with(caution(2, Caution.Level.WATCHFUL, 2, 12));
        assertThat(ruling(both, day(6)).until())
                .as("twice the delay is over on day 10; when the later one ends, the earlier holds again")
                .contains(day(10));
        assertThat(ruling(both, day(11)).until()).contains(day(12));
        assertThat(ruling(both, day(12)).until()).contains(day(20));
    }

    @Test
    void aForceGoesOverAFreezeThatItNames() {
        Verdict force = verdict(1, VerdictType.FORCE, day(4));
        Verdict naming = new Verdict(
                force.number(),
                force.subject(),
                force.type(),
                force.end(),
                force.reason(),
                force.origin(),
                new Verdict.Overrides(Set.of(), Set.of(), Set.of(new DecisionNumber.OfFreeze(1))),
                Optional.empty());
        assertThat(ruling(verdicts(naming).with(freeze(1, 0, 9)), day(1))
                        .holds()
                        .clause())
                .isEqualTo(RuleMatch.Clause.OVERRIDING_FORCE);
        assertThat(ruling(verdicts(naming).with(freeze(1, 0, 9)).with(freeze(2, 0, 5)), day(1))
                        .effect())
                .as("it does not name the second")
                .isEqualTo(Effect.WITHHELD);
    }

    @Test
    void anExceptionComesBeforeAFreeze() {
        Decisions decisions = Decisions.NONE
                .with(exception(1, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.OFFERED, day(20)))
                .with(freeze(1, 0, 9));
        assertThat(ruling(decisions, day(1)).effect()).isEqualTo(Effect.OFFERED);
    }

    @Test
    void aFreezeEndsAfterItBeginsAndWithin35Days() {
        assertThatThrownBy(() -> freeze(1, 3, 3)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> freeze(1, 0, 36)).isInstanceOf(IllegalArgumentException.class);
        assertThat(freeze(1, 0, 35).isOfAll()).isTrue();
    }

    @Test
    void whatAFreezeStopsAndWhatArrivesAtItsEndIsTold() {
        Carriages still = TestFleet.carriages(FLEET, List.of(UPDATE));
        Outcome download = new Outcome(
                0, UPDATE.id(), Optional.empty(), Outcome.What.DOWNLOADED, NOW, Optional.empty(), Optional.empty());
        Carriages carriages = new Carriages(
                still.catalogue(),
                still.fleet(),
                still.installed(),
                still.running(),
                Outcomes.NONE.with(List.of(download)));
        RoaringBitmap kiosk = RoaringBitmap.bitmapOf(0);
        RoaringBitmap lacking = CARRIAGE.lacking();
        Decisions forced = verdicts(verdict(1, VerdictType.FORCE, day(2)));
        assertThat(FreezeConsequence.of(freeze(1, 0, 9), carriages, forced, NOW).updates())
                .containsExactly(new FreezeConsequence.OfUpdate(UPDATE, lacking, kiosk, lacking, lacking));
        assertThat(FreezeConsequence.of(freeze(1, 0, 3), carriages, Decisions.NONE, NOW)
                        .updates())
                .as("the rule offers it on day 5")
                .containsExactly(new FreezeConsequence.OfUpdate(
                        UPDATE, new RoaringBitmap(), kiosk, new RoaringBitmap(), new RoaringBitmap()));
    }

    @Test
    void hostsInNoPopulationAreJudgedLikeAnyOther() {
        Host unassigned = TestFleet.host(9, Map.of(), "pkg:deb/fathom/libtls@1.0");
        Fleet fleet = FLEET.with(List.of(unassigned));
        Decisions forced = Decisions.NONE.with(new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("FTM-1"), "1", Ladder.NO_POPULATION, Optional.empty()),
                VerdictType.FORCE,
                day(2),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty()));
        Timeline timeline = Timeline.of(UPDATE, forced, fleet, Catalogue.EMPTY);
        assertThat(timeline.ruling(unassigned, CarriageState.MISSING, NOW)
                        .holds()
                        .due())
                .contains(day(2));
        assertThat(timeline.ruling(KIOSK, CarriageState.MISSING, NOW).holds().clause())
                .isEqualTo(RuleMatch.Clause.STANDING_RULE);
        assertThat(timeline.answered(fleet.all(), NOW, NOW).toArray()).containsExactly(9);
    }

    @Test
    void anOfferIsOfTheFixesOfItsDay() {
        Decisions letGo = verdicts(verdict(1, VerdictType.DEFER, NOW));
        assertThat(ruling(letGo, revised(2, "3.0"), day(1)).effect()).isEqualTo(Effect.OFFERED);
        assertThat(ruling(letGo, revised(2, "3.0"), day(3)).holds().clause())
                .as("the new fixes begin with the rule")
                .isEqualTo(RuleMatch.Clause.STANDING_RULE);
        assertThat(ruling(letGo, revised(2, "3.0"), day(3)).effect()).isEqualTo(Effect.WITHHELD);
        assertThat(ruling(letGo, revised(2, "2.0"), day(3)).effect())
                .as("only words changed")
                .isEqualTo(Effect.OFFERED);
    }

    @Test
    void aForceGoesOverEverythingThatItNamesAndOverNothingElse() {
        ExceptionGrant exception =
                exception(1, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.WITHHELD, day(7));
        Verdict block = verdict(1, VerdictType.BLOCK, day(9));
        Verdict namesException = new Verdict(
                verdictNumber(2),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.FORCE,
                day(2),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of(exceptionNumber(1))),
                Optional.empty());
        Verdict namesBoth = new Verdict(
                verdictNumber(2),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.FORCE,
                day(2),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(verdictNumber(1)), Set.of(exceptionNumber(1))),
                Optional.empty());
        assertThat(ruling(verdicts(block, namesException).with(exception), NOW).effect())
                .as("nobody named the block")
                .isEqualTo(Effect.WITHHELD);
        assertThat(ruling(
                                verdicts(block, verdict(2, VerdictType.FORCE, day(2), 1L))
                                        .with(exception),
                                NOW)
                        .effect())
                .as("nobody named the exception")
                .isEqualTo(Effect.WITHHELD);
        assertThat(ruling(verdicts(block, namesBoth).with(exception), NOW)
                        .holds()
                        .clause())
                .isEqualTo(RuleMatch.Clause.OVERRIDING_FORCE);
        assertThat(ruling(
                                verdicts(block, namesBoth, verdict(3, VerdictType.BLOCK, day(9)))
                                        .with(exception),
                                NOW)
                        .effect())
                .as("a later block")
                .isEqualTo(Effect.WITHHELD);
    }

    @Test
    void whatContainsAWithheldUpdateIsOpenedOnlyWhereSomebodyDecidesAndNamesIt() {
        Update successor = TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/libtls@2.1");
        Catalogue catalogue = Catalogue.EMPTY.with(List.of(UPDATE, successor));
        Decisions deferral = verdicts(verdict(1, VerdictType.DEFER, day(30)));
        assertThat(Timeline.of(successor, deferral, FLEET, catalogue)
                        .ruling(KIOSK, CarriageState.MISSING, day(20))
                        .holds()
                        .clause())
                .as("a deferral too")
                .isEqualTo(RuleMatch.Clause.SUPERSEDES_BLOCKED);
        Decisions exception = Decisions.NONE.with(
                exception(1, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.WITHHELD, day(30)));
        assertThat(Timeline.of(successor, exception, FLEET, catalogue)
                        .ruling(KIOSK, CarriageState.MISSING, day(20))
                        .holds()
                        .clause())
                .isEqualTo(RuleMatch.Clause.CONTAINS_EXCEPTED);
        assertThat(Timeline.of(successor, exception, FLEET, catalogue)
                        .ruling(kiosk(1, "R2", "1.0"), CarriageState.MISSING, day(20))
                        .effect())
                .as("whom it does not name")
                .isEqualTo(Effect.OFFERED);
        Decisions elsewhere = deferral.with(new Acknowledgement(
                acknowledgementNumber(1),
                updateId("FTM-2"),
                populationIds("tablets"),
                Optional.empty(),
                "orrin",
                day(1),
                Optional.empty()));
        assertThat(Timeline.of(successor, elsewhere, FLEET, catalogue)
                        .ruling(KIOSK, CarriageState.MISSING, day(20))
                        .effect())
                .as("an answer for another population opens nothing here")
                .isEqualTo(Effect.WITHHELD);
        for (long named : List.of(0L, 1L)) {
            Verdict force = new Verdict(
                    verdictNumber(2),
                    new Verdict.Subject(updateId("FTM-2"), "1", populationId("kiosks"), Optional.empty()),
                    VerdictType.FORCE,
                    day(9),
                    new Verdict.Reason(Set.of(), ""),
                    new Verdict.Origin("orrin", day(1)),
                    new Verdict.Overrides(Set.of(verdictNumber(named)), Set.of()),
                    Optional.empty());
            assertThat(Timeline.of(successor, deferral.with(force), FLEET, catalogue)
                            .ruling(KIOSK, CarriageState.MISSING, day(2))
                            .effect())
                    .isEqualTo(named == 1 ? Effect.OFFERED : Effect.WITHHELD);
        }
    }

    @Test
    void theLaterVerdictWinsButNoOfferGoesOverABlockThatItDoesNotName() {
        assertThat(ruling(verdicts(verdict(1, VerdictType.DEFER, day(9)), verdict(2, VerdictType.BLOCK, day(3))), NOW)
                        .holds()
                        .source())
                .contains(verdictNumber(2));
        for (VerdictType type : List.of(VerdictType.FORCE, VerdictType.DEFER)) {
            Instant end = type == VerdictType.FORCE ? day(2) : NOW;
            assertThat(ruling(verdicts(verdict(1, VerdictType.BLOCK, day(9)), verdict(2, type, end)), NOW)
                            .holds()
                            .source())
                    .contains(verdictNumber(1));
            assertThat(ruling(verdicts(verdict(1, VerdictType.BLOCK, day(9)), verdict(2, type, end, 1L)), NOW)
                            .holds()
                            .source())
                    .contains(verdictNumber(2));
        }
    }

    @Test
    void aNarrowedVerdictHoldsOnlyWhereItsConditionHolds() {
        assertThat(ruling(verdicts(narrowed(verdict(1, VerdictType.BLOCK, day(9)), "reader = R1")), day(6))
                        .effect())
                .isEqualTo(Effect.OFFERED);
        assertThat(ruling(verdicts(narrowed(verdict(1, VerdictType.BLOCK, day(9)), "reader = R2")), day(6))
                        .effect())
                .isEqualTo(Effect.WITHHELD);
    }

    @Test
    void whatIsTakenBackNoLongerHolds() {
        assertThat(ruling(verdicts(verdict(1, VerdictType.BLOCK, day(20)).revoked(day(6))), day(6))
                        .effect())
                .isEqualTo(Effect.OFFERED);
        assertThat(ruling(verdicts(verdict(1, VerdictType.BLOCK, day(20)).revoked(day(6))), day(5))
                        .effect())
                .isEqualTo(Effect.WITHHELD);
    }

    @Test
    void anExceptionGoesOverVerdictsUntilItLapses() {
        Decisions decisions = verdicts(verdict(1, VerdictType.FORCE, day(30)))
                .with(exception(1, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.WITHHELD, day(7)));
        assertThat(ruling(decisions, day(6)).holds().clause()).isEqualTo(RuleMatch.Clause.EXCEPTION);
        assertThat(ruling(decisions, day(6)).until()).contains(day(7));
        assertThat(ruling(decisions, day(7)).effect()).isEqualTo(Effect.OFFERED);
    }

    @Test
    void theNarrowerExceptionWinsAndAmongEqualsTheLater() {
        Decisions decisions = Decisions.NONE
                .with(exception(1, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.OFFERED, day(7)))
                .with(exception(2, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.BY_OPERATOR, day(7)))
                .with(exception(
                        3,
                        new ExceptionGrant.Scope.OfProduct(
                                UPDATE.fixes().get(0).build().product()),
                        Effect.WITHHELD,
                        day(7)))
                .with(exception(4, new ExceptionGrant.Scope.OfKind(Kind.BUGFIX), Effect.WITHHELD, day(7)));
        assertThat(ruling(decisions, NOW).chain())
                .extracting(f -> f.source().map(DecisionNumber::value).orElse(0L))
                .containsExactly(2L, 1L, 3L, 4L, 0L);
    }

    @Test
    void aForceThatNamesTheExceptionGoesOverIt() {
        Verdict plain = verdict(1, VerdictType.FORCE, day(2));
        Verdict naming = new Verdict(
                verdictNumber(2),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.FORCE,
                day(2),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of(exceptionNumber(1))),
                Optional.empty());
        ExceptionGrant exception =
                exception(1, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.WITHHELD, day(7));
        assertThat(ruling(verdicts(plain).with(exception), NOW).effect()).isEqualTo(Effect.WITHHELD);
        assertThat(ruling(verdicts(naming).with(exception), NOW).holds().clause())
                .isEqualTo(RuleMatch.Clause.OVERRIDING_FORCE);
    }

    /** The update after a revision read on {@code day}; with other fixes where {@code fixed} is another version. */
    private static Update revised(int day, String fixed) {
        UpdateNotice notice = TestFleet.notice(
                "FTM-1",
                "2",
                RestartNeed.NONE,
                List.of(),
                List.of(),
                TestFleet.update("X", "pkg:deb/fathom/libtls@" + fixed).fixes());
        return TestFleet.update(notice, Optional.of(UPDATE), day(day));
    }

    @Test
    void afterOtherFixesAForceWithholdsUntilTheRuleWouldOfferAndBlockAndDeferralHold() {
        Decisions forced = verdicts(verdict(1, VerdictType.FORCE, day(30)));
        Update otherFixes = revised(2, "3.0");
        assertThat(ruling(forced, otherFixes, day(1)).effect()).isEqualTo(Effect.OFFERED);
        Ruling after = ruling(forced, otherFixes, day(3));
        assertThat(after.effect()).isEqualTo(Effect.WITHHELD);
        assertThat(after.holds().source()).contains(verdictNumber(1));
        assertThat(after.until())
                .as("the notice says that it was published on day 0")
                .contains(day(5));
        assertThat(ruling(forced, otherFixes, day(6)).holds().clause()).isEqualTo(RuleMatch.Clause.STANDING_RULE);
        assertThat(ruling(forced, revised(2, "2.0"), day(3)).effect())
                .as("only words changed")
                .isEqualTo(Effect.OFFERED);
        assertThat(ruling(verdicts(verdict(1, VerdictType.BLOCK, day(30))), otherFixes, day(20))
                        .effect())
                .isEqualTo(Effect.WITHHELD);
        assertThat(ruling(verdicts(verdict(1, VerdictType.DEFER, day(10))), otherFixes, day(9))
                        .effect())
                .isEqualTo(Effect.WITHHELD);
        assertThat(ruling(verdicts(verdict(1, VerdictType.DEFER, day(10))), otherFixes, day(11))
                        .holds()
                        .clause())
                .as("the rule offers by then")
                .isEqualTo(RuleMatch.Clause.STANDING_RULE);
    }

    private static Ruling ruling(Decisions decisions, Update update, Instant at) {
        return Timeline.of(update, decisions, FLEET, Catalogue.EMPTY)
                .ruling(kiosk(0, "R2", "1.0"), CarriageState.MISSING, at);
    }

    @Test
    void theRuleNeverOffersWhatHasNoFixedVersion() {
        Update nothingToInstall = TestFleet.update(
                TestFleet.notice(
                        "FTM-1",
                        "1",
                        RestartNeed.NONE,
                        List.of(),
                        List.of(),
                        List.of(new Fix(UPDATE.fixes().get(0).build(), List.of(AffectedRange.upTo("1.9"))))),
                Optional.empty(),
                NOW);
        assertThat(ruling(Decisions.NONE, nothingToInstall, day(300)).effect()).isEqualTo(Effect.WITHHELD);
        assertThat(ruling(Decisions.NONE, nothingToInstall, day(300)).until()).isEmpty();
    }

    private static final List<Host> HOSTS = List.of(
            kiosk(0, "R2", "1.0"),
            kiosk(1, "R1", "1.0"),
            kiosk(2, "R2", "2.0"),
            TestFleet.hostSeen(
                    3,
                    day(-10),
                    Map.of("role", TestFleet.text("kiosk"), "reader", TestFleet.text("R2")),
                    "pkg:deb/fathom/libtls@1.0"));
    private static final Fleet FLEET = Fleet.EMPTY.with(LADDER).with(HOSTS);
    private static final Carriage CARRIAGE =
            TestFleet.carriages(FLEET, List.of(UPDATE)).of(UPDATE, NOW);

    @Test
    void theConsequenceTellsWhatWouldChangeAndForWhom() {
        Decisions decisions = Decisions.NONE.with(
                exception(1, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.OFFERED, day(7)));
        Verdict draft = narrowed(verdict(Long.MAX_VALUE, VerdictType.BLOCK, day(9)), "reader = R2");
        Consequence consequence = Consequences.of(draft, UPDATE, CARRIAGE, FLEET, decisions, Catalogue.EMPTY, NOW);
        assertThat(consequence.named().toArray()).containsExactly(0, 2, 3);
        assertThat(consequence.carrying().toArray()).containsExactly(2);
        assertThat(consequence.decided().toArray()).containsExactly(3);
        assertThat(consequence.unknown().toArray()).containsExactly(3);
        assertThat(consequence.before())
                .extracting(h -> h.match().clause())
                .containsExactly(RuleMatch.Clause.STANDING_RULE);
        assertThat(consequence.claimed()).singleElement().satisfies(h -> {
            assertThat(h.match().clause()).isEqualTo(RuleMatch.Clause.EXCEPTION);
            assertThat(h.hosts().toArray()).containsExactly(0);
        });
    }

    @Test
    void theConsequenceOfAnException() {
        Consequence consequence = Consequences.of(
                exception(9, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), Effect.WITHHELD, day(7)),
                UPDATE,
                CARRIAGE,
                FLEET,
                Decisions.NONE,
                Catalogue.EMPTY,
                NOW);
        assertThat(consequence.decided().toArray()).containsExactly(0);
    }

    @Test
    void groupsAddUpToTheHostsThatLackIt() {
        Decisions decisions = verdicts(narrowed(verdict(1, VerdictType.BLOCK, day(9)), "reader = R1"));
        List<RulingGroup> groups =
                Timeline.of(UPDATE, decisions, FLEET, Catalogue.EMPTY).groups(CARRIAGE.lacking(), NOW);
        assertThat(groups).extracting(h -> h.hosts().getCardinality()).containsExactly(2, 1);
        assertThat(groups.get(1).match().source()).contains(verdictNumber(1));
    }

    @Test
    void whatSupersedesABlockedUpdateIsWithheldUntilItIsAnswered() {
        Update successor = TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/libtls@2.1");
        Catalogue catalogue = Catalogue.EMPTY.with(List.of(UPDATE, successor));
        Decisions block = verdicts(narrowed(verdict(1, VerdictType.BLOCK, day(30)), "reader = R2"));
        Ruling asked = Timeline.of(successor, block, FLEET, catalogue)
                .ruling(kiosk(0, "R2", "1.0"), CarriageState.MISSING, day(20));
        assertThat(asked.holds().clause()).isEqualTo(RuleMatch.Clause.SUPERSEDES_BLOCKED);
        assertThat(asked.holds().source()).contains(verdictNumber(1));
        assertThat(asked.until()).as("at most until the block's end").contains(day(30));
        assertThat(Timeline.of(successor, block, FLEET, catalogue)
                        .ruling(kiosk(0, "R1", "1.0"), CarriageState.MISSING, day(20))
                        .holds()
                        .effect())
                .as("whom the block does not cover")
                .isEqualTo(Effect.OFFERED);
        assertThat(Timeline.of(successor, block, FLEET, catalogue)
                        .ruling(kiosk(0, "R2", "1.0"), CarriageState.MISSING, day(31))
                        .holds()
                        .effect())
                .isEqualTo(Effect.OFFERED);
        Decisions answered = block.with(
                new Acknowledgement(acknowledgementNumber(1), updateId("FTM-2"), "orrin", day(1), Optional.empty()));
        assertThat(Timeline.of(successor, answered, FLEET, catalogue)
                        .ruling(kiosk(0, "R2", "1.0"), CarriageState.MISSING, day(20))
                        .holds()
                        .clause())
                .isEqualTo(RuleMatch.Clause.STANDING_RULE);
        Decisions takenBack = block.with(
                new Acknowledgement(acknowledgementNumber(1), updateId("FTM-2"), "orrin", day(1), Optional.of(day(2))));
        assertThat(Timeline.of(successor, takenBack, FLEET, catalogue)
                        .ruling(kiosk(0, "R2", "1.0"), CarriageState.MISSING, day(20))
                        .holds()
                        .clause())
                .isEqualTo(RuleMatch.Clause.SUPERSEDES_BLOCKED);
    }

    @Test
    void theCueNewComesWithTheUpdateAndGoesWithAVerdictOrAnAnswer() {
        assertThat(docketCase(Decisions.NONE).needsJudgement()).isTrue();
        assertThat(docketCase(verdicts(verdict(1, VerdictType.BLOCK, day(9)))).needsJudgement())
                .isFalse();
        assertThat(docketCase(verdicts(verdict(1, VerdictType.BLOCK, day(9)).revoked(NOW)))
                        .needsJudgement())
                .isTrue();
        assertThat(docketCase(Decisions.NONE.with(new Acknowledgement(
                                acknowledgementNumber(1), updateId("FTM-1"), "orrin", NOW, Optional.empty())))
                        .needsJudgement())
                .isFalse();
        Update carriedEverywhere = TestFleet.update("FTM-0", "pkg:deb/fathom/libtls@0.9");
        assertThat(caseOf(docket(NOW, Decisions.NONE, carriedEverywhere), carriedEverywhere)
                        .needsJudgement())
                .isFalse();
    }

    @Test
    void aRevisionCuesAnAnsweredCaseUntilItIsAnsweredAnew() {
        Decisions answered = verdicts(verdict(1, VerdictType.BLOCK, day(90)));
        assertThat(docket(day(3), answered, revised(2, "3.0")).cases().get(0).cues())
                .extracting(Cue::type)
                .containsExactly(Cue.Type.REVISED_FIXES);
        assertThat(docket(day(3), answered, revised(2, "2.0")).cases().get(0).cues())
                .extracting(Cue::type)
                .containsExactly(Cue.Type.REVISED_TEXT);
        Decisions anew = answered.with(
                new Acknowledgement(acknowledgementNumber(1), updateId("FTM-1"), "orrin", day(4), Optional.empty()));
        assertThat(docket(day(5), anew, revised(2, "3.0")).cases().get(0).needsJudgement())
                .isFalse();
    }

    @Test
    void anUpdateFoldsUnderTheNewestThatBringsItAndUnfoldsWhenThatIsBlocked() {
        Update second = TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/libtls@2.1");
        Update third = TestFleet.update("FTM-3", RestartNeed.NONE, List.of("FTM-2"), "pkg:deb/fathom/libtls@2.2");
        assertThat(docket(NOW, Decisions.NONE, UPDATE, second, third).cases().stream()
                        .filter(DocketCase::needsJudgement))
                .singleElement()
                .satisfies(c -> {
                    assertThat(c.update().id()).isEqualTo(updateId("FTM-3"));
                    assertThat(c.contains()).containsExactly(updateId("FTM-1"), updateId("FTM-2"));
                });
        Verdict block = new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("FTM-3"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.BLOCK,
                day(9),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
        Docket blocked = docket(NOW, verdicts(block), UPDATE, second, third);
        assertThat(caseOf(blocked, UPDATE).foldedUnder()).contains(updateId("FTM-2"));
        assertThat(caseOf(blocked, second).foldedUnder()).isEmpty();
        assertThat(caseOf(docket(day(10), verdicts(block), UPDATE, second, third), second)
                        .foldedUnder())
                .as("the block has ended")
                .contains(updateId("FTM-3"));
        // Not released for all the hosts that lack it.
        Update elsewhere = TestFleet.update("FTM-4", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/absent@2.2");
        assertThat(caseOf(docket(NOW, Decisions.NONE, UPDATE, elsewhere), UPDATE)
                        .foldedUnder())
                .isEmpty();
        // Some of those that lack it cannot take what supersedes it.
        Update demanding = TestFleet.update(
                TestFleet.requiring(
                        TestFleet.notice("FTM-2", "1", RestartNeed.NONE, List.of("FTM-1"), List.of(), second.fixes()),
                        new Requirement.OfProduct(new Product("pkg:deb/fathom/absent"), Optional.empty())),
                Optional.empty(),
                NOW);
        assertThat(caseOf(docket(NOW, Decisions.NONE, UPDATE, demanding), UPDATE)
                        .foldedUnder())
                .isEmpty();
    }

    private static DocketCase docketCase(Decisions decisions) {
        return caseOf(docket(NOW, decisions, UPDATE), UPDATE);
    }

    private static DocketCase caseOf(Docket docket, Update update) {
        return docket.find(update.id()).orElseThrow();
    }

    private static Docket docket(Instant at, Decisions decisions, Update... updates) {
        return Docket.of(
                new Docket.Facts(TestFleet.carriages(FLEET, List.of(updates)), Evidence.NONE, Weights.USUAL, decisions),
                at);
    }
}
