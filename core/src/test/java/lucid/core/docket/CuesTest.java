package lucid.core.docket;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.acknowledgementNumber;
import static lucid.core.TestIds.exceptionNumber;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.populationIds;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.updateIds;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import lucid.core.TestPilots;
import lucid.core.carriage.Carriages;
import lucid.core.evidence.CaseNote;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScores;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.StandingRule;
import lucid.core.pilot.Pilot;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.Suggestion;
import lucid.core.weighing.Weights;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/** Each cue comes with its fact, goes with an answer, and goes when its fact is no longer true. */
class CuesTest {

    private static final String CVE = "CVE-2026-9000001";
    private static final Update UPDATE = security("FTM-1");
    /** Twenty kiosks, of which the first three report reader R2. */
    private static final Fleet FLEET = Fleet.EMPTY
            .with(new Ladder(
                    List.of(TestFleet.population("kiosks", "role = kiosk", 30)),
                    new StandingRule(List.of(), StandingRule.Offer.NEVER)))
            .with(IntStream.range(0, 20)
                    .mapToObj(i -> TestFleet.hostSeen(
                            i,
                            day(40),
                            Map.of("role", text("kiosk"), "reader", text(i < 3 ? "R2" : "R1")),
                            "pkg:deb/fathom/lib@1"))
                    .toList());

    private static Update security(String id) {
        Fix fix = new Fix(PackageReference.parse("pkg:deb/fathom/lib").build(), List.of(AffectedRange.below("2")));
        return Update.join(
                List.of(TestFleet.advisory(
                        id,
                        Optional.empty(),
                        List.of(new Vulnerability(CVE, "", Optional.of(7.5), Optional.empty(), "")),
                        List.of(fix),
                        NOW)),
                Optional.empty(),
                Optional.empty(),
                NOW);
    }

    private static Instant day(double days) {
        return NOW.plus(Duration.ofMinutes((long) (days * 24 * 60)));
    }

    private static List<Cue> cues(
            Evidence evidence, Decisions decisions, Outcomes outcomes, Instant at, Update... updates) {
        return cues(FLEET, evidence, decisions, outcomes, at, updates);
    }

    private static List<Cue> cues(
            Fleet fleet, Evidence evidence, Decisions decisions, Outcomes outcomes, Instant at, Update... updates) {
        Carriages still = TestFleet.carriages(fleet, List.of(updates));
        Carriages carriages =
                new Carriages(still.catalogue(), still.fleet(), still.installed(), still.running(), outcomes);
        return Docket.of(new Docket.Facts(carriages, evidence, Weights.USUAL, decisions), at)
                .find(updates[updates.length - 1].id())
                .orElseThrow()
                .cues();
    }

    private static List<Cue.Type> types(Evidence evidence, Decisions decisions, Instant at) {
        return cues(evidence, decisions, Outcomes.NONE, at, UPDATE).stream()
                .map(Cue::type)
                .toList();
    }

    private static Decisions answered(double days) {
        return Decisions.NONE.with(
                new Acknowledgement(acknowledgementNumber(1), updateId("FTM-1"), "orrin", day(days), Optional.empty()));
    }

    private static Verdict verdict(long number, String update, VerdictType type, double until) {
        return new Verdict(
                        verdictNumber(number),
                        new Verdict.Subject(updateId(update), "1", populationId("kiosks"), Optional.empty()),
                        type,
                        day(until),
                        new Verdict.Reason(Set.of(ReasonWord.UNTESTED), ""),
                        new Verdict.Origin("orrin", day(1)),
                        new Verdict.Overrides(Set.of(), Set.of()),
                        Optional.empty())
                .at(new Verdict.Moment(FLEET.all(), FLEET.all()));
    }

    @Test
    void exploitationThatIsLearnedAfterAnAnswer() {
        Evidence exploited = Evidence.NONE.withExploited(
                List.of(new KnownExploited(CVE, LocalDate.of(2026, 11, 26), "", "", Optional.empty(), false, day(3))));
        assertThat(cues(exploited, answered(2), Outcomes.NONE, day(4), UPDATE))
                .singleElement()
                .satisfies(cue -> {
                    assertThat(cue.type()).isEqualTo(Cue.Type.KNOWN_EXPLOITED);
                    assertThat(cue.raised()).isEqualTo(day(3));
                    assertThat(cue.about()).isEqualTo(CVE);
                    assertThat(cue.hosts()).isEqualTo(20);
                });
        assertThat(types(exploited, answered(3.5), day(4))).isEmpty();
        assertThat(types(exploited, Decisions.NONE, day(4))).containsExactly(Cue.Type.KNOWN_EXPLOITED, Cue.Type.NEW);
        assertThat(types(exploited.withExploited(List.of()), answered(2), day(4)))
                .as("the catalogue lists it no more")
                .isEmpty();
    }

    @Test
    void whatIsBlockedAndCarriedAllTheSameIsToldThoughNobodyToldOfAnInstall() {
        Update carried = TestFleet.update("FTM-0", "pkg:deb/fathom/lib@0.9");
        Verdict lackedItThen = verdict(1, "FTM-0", VerdictType.BLOCK, 30);
        assertThat(cues(Evidence.NONE, Decisions.NONE.with(lackedItThen), Outcomes.NONE, day(4), carried))
                .singleElement()
                .satisfies(cue -> {
                    assertThat(cue.type()).isEqualTo(Cue.Type.BLOCKED_BUT_INSTALLED);
                    assertThat(cue.hosts()).isEqualTo(20);
                });
        Verdict carriedItThen = lackedItThen.at(new Verdict.Moment(FLEET.all(), new RoaringBitmap()));
        assertThat(cues(Evidence.NONE, Decisions.NONE.with(carriedItThen), Outcomes.NONE, day(4), carried))
                .as("who carried it before")
                .isEmpty();
        Verdict notKept = lackedItThen.at(Verdict.Moment.UNKNOWN);
        assertThat(cues(Evidence.NONE, Decisions.NONE.with(notKept), Outcomes.NONE, day(4), carried))
                .as("nobody keeps who lacked it")
                .isEmpty();
    }

    /**
     * An answer after the block is one on the hosts that carried it then; those that came to carry it later are told
     * anew.
     */
    @Test
    void whoComesToCarryWhatIsBlockedAfterAnAnswerIsTold() {
        Update carried = TestFleet.update("FTM-0", "pkg:deb/fathom/lib@0.9");
        Decisions block = Decisions.NONE.with(verdict(1, "FTM-0", VerdictType.BLOCK, 30));
        Acknowledgement some = left("FTM-0", 5, Optional.of(RoaringBitmap.bitmapOf(0, 1)));
        assertThat(cues(Evidence.NONE, block.with(some), Outcomes.NONE, day(6), carried))
                .extracting(Cue::type, Cue::hosts, Cue::open)
                .containsExactly(tuple(Cue.Type.BLOCKED_BUT_INSTALLED, 20, 2));
        assertThat(cues(
                        Evidence.NONE,
                        block.with(left("FTM-0", 5, Optional.of(new RoaringBitmap()))),
                        Outcomes.NONE,
                        day(6),
                        carried))
                .as("all of them were seen")
                .isEmpty();
        assertThat(cues(Evidence.NONE, block.with(left("FTM-0", 5, Optional.empty())), Outcomes.NONE, day(6), carried))
                .as("nobody keeps who lacked it")
                .isEmpty();
    }

    private static Acknowledgement left(String update, double at, Optional<RoaringBitmap> lacked) {
        return new Acknowledgement(
                acknowledgementNumber(1),
                updateId(update),
                Set.of(),
                Optional.empty(),
                "orrin",
                day(at),
                Optional.empty(),
                lacked);
    }

    @Test
    void theEndOfWhatWasNoLongerInForceIsNotTold() {
        Decisions replaced = Decisions.NONE
                .with(verdict(1, "FTM-1", VerdictType.BLOCK, 20))
                .with(verdict(2, "FTM-1", VerdictType.BLOCK, 30));
        assertThat(types(Evidence.NONE, replaced, day(18))).isEmpty();
        assertThat(types(Evidence.NONE, replaced, day(20.1))).isEmpty();
        assertThat(types(Evidence.NONE, replaced, day(30.1))).containsExactly(Cue.Type.BLOCK_ENDED);
    }

    private static Evidence scored(Evidence before, float probability, double day) {
        ExploitScores.Builder scores = new ExploitScores.Builder();
        scores.add(CVE, probability, .9f);
        return before.with(scores.build("v1", LocalDate.of(2026, 11, 24).plusDays((long) day), day(day)), List.of(CVE));
    }

    @Test
    void aProbabilityThatCrossesAFlipPoint() {
        Evidence rising = scored(scored(Evidence.NONE, .0001f, 0), .0002f, 3);
        assertThat(types(rising, answered(2), day(4)))
                .as("the suggestion is the same")
                .isEmpty();
        Evidence risen = scored(rising, .4f, 5);
        assertThat(types(risen, answered(2), day(6))).containsExactly(Cue.Type.PROBABILITY_CROSSED);
        assertThat(types(risen, answered(5.5), day(6))).isEmpty();
        assertThat(types(scored(risen, .0001f, 7), answered(2), day(8)))
                .as("it has fallen again")
                .isEmpty();
    }

    private static Evidence issue(Evidence before, KnownIssue.State state, double day, String where) {
        return before.withIssues(List.of(new KnownIssue(
                "KI-1",
                updateIds("FTM-1"),
                List.of(),
                "words",
                state,
                Optional.of(FailureClass.DEGRADED),
                Optional.of(HostConditions.parse(where)),
                "desk",
                day(day),
                day(day))));
    }

    @Test
    void aKnownIssueThatTouchesHostsOpensAndIsFixed() {
        Evidence open = issue(Evidence.NONE, KnownIssue.State.OPEN, 3, "reader = R2");
        assertThat(cues(open, answered(2), Outcomes.NONE, day(4), UPDATE))
                .extracting(Cue::type, Cue::hosts)
                .containsExactly(tuple(Cue.Type.ISSUE_OPENED, 3));
        assertThat(types(issue(Evidence.NONE, KnownIssue.State.OPEN, 3, "reader = R9"), answered(2), day(4)))
                .as("it touches nobody here")
                .isEmpty();
        assertThat(types(open, answered(3.5), day(4))).isEmpty();
        Evidence fixed = issue(open, KnownIssue.State.FIXED, 5, "reader = R2");
        assertThat(types(fixed, answered(3.5), day(6))).containsExactly(Cue.Type.ISSUE_FIXED);
        assertThat(types(issue(fixed, KnownIssue.State.FIXED, 7, "reader = R2"), answered(6), day(8)))
                .as("the same state told again is no news")
                .isEmpty();
    }

    private static Outcome outcome(int host, Outcome.What what, double day) {
        return new Outcome(
                host,
                updateId("FTM-1"),
                Optional.empty(),
                what,
                day(day),
                Optional.of("E"),
                what == Outcome.What.FAILED ? Optional.of(FailureClass.REFUSED) : Optional.empty());
    }

    @Test
    void failuresAboveTheBaselineRateDoNotFlap() {
        List<Outcome> outcomes =
                new ArrayList<>(List.of(outcome(0, Outcome.What.FAILED, 2), outcome(1, Outcome.What.FAILED, 3)));
        List<Cue> cues = cues(Evidence.NONE, answered(1), Outcomes.NONE.with(outcomes), day(4), UPDATE);
        assertThat(cues).singleElement().satisfies(cue -> {
            assertThat(cue.type()).isEqualTo(Cue.Type.FAILURES_ABOVE_USUAL);
            assertThat(cue.raised()).isEqualTo(day(3));
            assertThat(cue.about()).isEqualTo("E");
        });
        assertThat(cues(Evidence.NONE, answered(3.5), Outcomes.NONE.with(outcomes), day(4), UPDATE))
                .isEmpty();
        List<TriedHosts.Try> tries = new ArrayList<>();
        outcomes.forEach(o -> tries.add(new TriedHosts.Try(
                o.host(),
                o.at(),
                Optional.empty(),
                Optional.of(new TriedHosts.Failure(FailureClass.REFUSED, "E", o.at(), "")))));
        Optional<Instant> raised = Cues.failuresAboveUsual(tries, .003);
        assertThat(raised).contains(day(3));
        IntStream.range(0, 12)
                .forEach(i -> tries.add(new TriedHosts.Try(100 + i, day(5), Optional.empty(), Optional.empty())));
        assertThat(Cues.failuresAboveUsual(tries, .003))
                .as("less sure than 95 %, but not below 80 %")
                .contains(day(3));
        IntStream.range(0, 200)
                .forEach(i -> tries.add(new TriedHosts.Try(200 + i, day(6), Optional.empty(), Optional.empty())));
        assertThat(Cues.failuresAboveUsual(tries, .003)).isEmpty();
    }

    @Test
    void hostsThatFallSilentAfterAnInstall() {
        Fleet fleet = FLEET.with(IntStream.range(0, 20)
                .mapToObj(i -> TestFleet.hostSeen(
                        i, day(i == 4 || i == 5 ? 40 : 43.4), Map.of("role", text("kiosk")), "pkg:deb/fathom/lib@1"))
                .toList());
        Outcomes outcomes = Outcomes.NONE.with(IntStream.of(4, 5)
                .mapToObj(host -> new Outcome(
                        host,
                        updateId("FTM-1"),
                        Optional.empty(),
                        Outcome.What.INSTALLED,
                        day(41),
                        Optional.empty(),
                        Optional.empty()))
                .toList());
        assertThat(cues(fleet, Evidence.NONE, answered(1), outcomes, day(42.5), UPDATE))
                .isEmpty();
        assertThat(cues(fleet, Evidence.NONE, answered(1), outcomes, day(43.5), UPDATE))
                .extracting(Cue::type, Cue::raised)
                .contains(tuple(Cue.Type.SILENT_AFTER_INSTALL, day(43)));
        assertThat(cues(FLEET, Evidence.NONE, answered(1), outcomes, day(43.5), UPDATE))
                .as("nobody there has reported")
                .isEmpty();
    }

    private static List<Cue.Type> ofPilot(Pilot pilot, double lastReport, Outcome... outcomes) {
        Fleet fleet = FLEET.with(IntStream.range(0, 20)
                .mapToObj(i ->
                        TestFleet.hostSeen(i, day(lastReport), Map.of("role", text("kiosk")), "pkg:deb/fathom/lib@1"))
                .toList());
        Verdict verdict = verdict(1, "FTM-1", VerdictType.DEFER, 20).with(pilot);
        return cues(
                        fleet,
                        Evidence.NONE,
                        new Decisions(List.of(verdict), List.of(), List.of()),
                        Outcomes.NONE.with(List.of(outcomes)),
                        day(lastReport),
                        UPDATE)
                .stream()
                .map(Cue::type)
                .toList();
    }

    @Test
    void whatThePilotShowsIsTold() {
        Pilot pilot = TestPilots.of(IntStream.range(0, 4).boxed().toList(), day(0));
        Outcome[] all = IntStream.range(0, 4)
                .mapToObj(host -> outcome(host, Outcome.What.INSTALLED, 3))
                .toArray(Outcome[]::new);
        assertThat(ofPilot(pilot, 5, all)).as("soaking").doesNotContain(Cue.Type.PILOT_MET);
        assertThat(ofPilot(pilot, 7, all)).contains(Cue.Type.PILOT_MET);
        Outcome[] oneRefused = {all[0], all[1], all[2], outcome(3, Outcome.What.FAILED, 3)};
        assertThat(ofPilot(pilot, 7, oneRefused)).contains(Cue.Type.PILOT_EXHAUSTED);
        Outcome[] twoRefused = {all[0], all[1], outcome(2, Outcome.What.FAILED, 3), outcome(3, Outcome.What.FAILED, 3)};
        assertThat(ofPilot(pilot, 7, twoRefused)).contains(Cue.Type.PILOT_FAILED);
        assertThat(ofPilot(pilot.failed(day(4)), 7, all)).contains(Cue.Type.PILOT_FAILED);
        assertThat(ofPilot(pilot, 18, all)).contains(Cue.Type.PILOT_ENDS, Cue.Type.PILOT_MET);
        assertThat(ofPilot(pilot, 21, all)).contains(Cue.Type.PILOT_ENDED).doesNotContain(Cue.Type.PILOT_MET);
    }

    @Test
    void endsComeBackThreeDaysBefore() {
        Decisions block = Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.BLOCK, 20));
        assertThat(types(Evidence.NONE, block, day(16.9))).isEmpty();
        assertThat(types(Evidence.NONE, block, day(17))).containsExactly(Cue.Type.BLOCK_ENDS);
        assertThat(types(Evidence.NONE, Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.DEFER, 20)), day(17)))
                .containsExactly(Cue.Type.DEFERRAL_ENDS);
        assertThat(types(Evidence.NONE, Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.FORCE, 20)), day(18.9)))
                .isEmpty();
        assertThat(types(Evidence.NONE, Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.FORCE, 20)), day(19)))
                .containsExactly(Cue.Type.DUE_AT_RISK);
        Decisions exception = answered(1)
                .with(new ExceptionGrant(
                        exceptionNumber(1),
                        new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")),
                        HostConditions.parse("reader = R2"),
                        Effect.WITHHELD,
                        day(20),
                        "",
                        "",
                        "",
                        "orrin",
                        day(1),
                        Optional.empty()));
        assertThat(types(Evidence.NONE, exception, day(16))).isEmpty();
        assertThat(cues(Evidence.NONE, exception, Outcomes.NONE, day(18), UPDATE))
                .extracting(Cue::type, Cue::hosts)
                .containsExactly(tuple(Cue.Type.EXCEPTION_ENDS, 3));
        assertThat(types(
                        Evidence.NONE,
                        exception.with(new Acknowledgement(
                                acknowledgementNumber(2), updateId("FTM-1"), "orrin", day(18), Optional.empty())),
                        day(18.1)))
                .isEmpty();
    }

    private static Verdict of(Verdict v, String where) {
        return new Verdict(
                v.number(),
                new Verdict.Subject(
                        v.updateId(), v.revision(), v.populationId(), Optional.of(HostConditions.parse(where))),
                v.type(),
                v.end(),
                new Verdict.Reason(v.reasons(), ""),
                new Verdict.Origin(v.author(), v.createdAt()),
                new Verdict.Overrides(Set.of(), Set.of()),
                v.revokedAt());
    }

    @Test
    void aCueStandsWhileOneOfItsHostsIsUnanswered() {
        Evidence exploited = Evidence.NONE.withExploited(
                List.of(new KnownExploited(CVE, LocalDate.of(2026, 11, 24), "", "", Optional.empty(), false, day(.5))));
        Decisions partly = Decisions.NONE.with(of(verdict(1, "FTM-1", VerdictType.FORCE, 30), "reader = R2"));
        assertThat(cues(exploited, partly, Outcomes.NONE, day(2), UPDATE))
                .extracting(Cue::type, Cue::hosts, Cue::open)
                .containsExactly(tuple(Cue.Type.KNOWN_EXPLOITED, 20, 17), tuple(Cue.Type.NEW, 20, 17));
        Decisions elsewhere = Decisions.NONE.with(new Acknowledgement(
                acknowledgementNumber(1),
                updateId("FTM-1"),
                populationIds("tablets"),
                Optional.empty(),
                "orrin",
                day(1),
                Optional.empty()));
        assertThat(cues(exploited, elsewhere, Outcomes.NONE, day(2), UPDATE))
                .extracting(Cue::open)
                .containsExactly(20, 20);
        assertThat(types(
                        exploited,
                        partly.with(new Acknowledgement(
                                acknowledgementNumber(1),
                                updateId("FTM-1"),
                                populationIds("kiosks"),
                                Optional.empty(),
                                "orrin",
                                day(1),
                                Optional.empty())),
                        day(2)))
                .isEmpty();
    }

    @Test
    void whatIsForcedAndPastDueIsOverdueUntilItIsCarriedOrJudgedAnew() {
        Decisions forced = Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.FORCE, 20));
        assertThat(cues(Evidence.NONE, forced, Outcomes.NONE, day(27), UPDATE))
                .extracting(Cue::type, Cue::open)
                .containsExactly(tuple(Cue.Type.OVERDUE, 20));
        Verdict again = new Verdict(
                verdictNumber(2),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.FORCE,
                day(40),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", day(27)),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
        assertThat(types(Evidence.NONE, forced.with(again), day(28))).isEmpty();
    }

    @Test
    void whatEndsIsToldForSomeDays() {
        Decisions block = Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.BLOCK, 20));
        assertThat(types(Evidence.NONE, block, day(20.1))).containsExactly(Cue.Type.BLOCK_ENDED);
        assertThat(types(Evidence.NONE, block, day(27.1))).isEmpty();
        assertThat(types(
                        Evidence.NONE,
                        block.with(new Acknowledgement(
                                acknowledgementNumber(1), updateId("FTM-1"), "orrin", day(21), Optional.empty())),
                        day(22)))
                .isEmpty();
        assertThat(types(Evidence.NONE, Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.DEFER, 20)), day(21)))
                .containsExactly(Cue.Type.DEFERRAL_ENDED);
        Decisions exception = answered(1)
                .with(new ExceptionGrant(
                        exceptionNumber(1),
                        new ExceptionGrant.Scope.OfKind(Kind.SECURITY),
                        HostConditions.parse("reader = R2"),
                        Effect.WITHHELD,
                        day(20),
                        "",
                        "",
                        "",
                        "orrin",
                        day(1),
                        Optional.empty()));
        assertThat(cues(Evidence.NONE, exception, Outcomes.NONE, day(18), UPDATE))
                .as("on a kind as well")
                .extracting(Cue::type, Cue::hosts)
                .containsExactly(tuple(Cue.Type.EXCEPTION_ENDS, 3));
        assertThat(cues(Evidence.NONE, exception, Outcomes.NONE, day(21), UPDATE))
                .extracting(Cue::type, Cue::hosts)
                .containsExactly(tuple(Cue.Type.EXCEPTION_ENDED, 3));
    }

    private static final Fleet NEVER =
            FLEET.with(new Ladder(List.of(), new StandingRule(List.of(), StandingRule.Offer.NEVER)));

    private static List<Cue> cuesWhereTheRuleNeverOffers(Decisions decisions, double at) {
        Carriages carriages = TestFleet.carriages(NEVER, List.of(UPDATE));
        return Docket.of(new Docket.Facts(carriages, Evidence.NONE, Weights.USUAL, decisions), day(at))
                .find(updateId("FTM-1"))
                .orElseThrow()
                .cues();
    }

    @Test
    void whatTheRuleNeverOffersIsNotForEverUnheard() {
        assertThat(cuesWhereTheRuleNeverOffers(Decisions.NONE, 2))
                .extracting(Cue::type)
                .containsExactly(Cue.Type.NEEDS_VERDICT, Cue.Type.NEW);
        Decisions left = Decisions.NONE.with(new Acknowledgement(
                acknowledgementNumber(1),
                updateId("FTM-1"),
                Set.of(Ladder.NO_POPULATION),
                Optional.of(day(31)),
                "orrin",
                day(1),
                Optional.empty()));
        assertThat(cuesWhereTheRuleNeverOffers(left, 30)).isEmpty();
        assertThat(cuesWhereTheRuleNeverOffers(left, 31))
                .extracting(Cue::type, Cue::raised, Cue::open)
                .containsExactly(tuple(Cue.Type.NEEDS_VERDICT, day(31), 20));
        Decisions blocked = Decisions.NONE.with(new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("FTM-1"), "1", Ladder.NO_POPULATION, Optional.empty()),
                VerdictType.BLOCK,
                day(10),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", day(1)),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty()));
        assertThat(cuesWhereTheRuleNeverOffers(blocked, 6)).isEmpty();
        assertThat(cuesWhereTheRuleNeverOffers(blocked, 40))
                .as("after a block that ended")
                .extracting(Cue::type, Cue::raised)
                .containsExactly(tuple(Cue.Type.NEEDS_VERDICT, day(10)));
    }

    @Test
    void whatIsKnownOfAFoldedUpdateStandsOnTheCaseUnderWhichItIs() {
        Update next = TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/lib@3");
        Evidence exploited = Evidence.NONE.withExploited(
                List.of(new KnownExploited(CVE, LocalDate.of(2026, 11, 26), "", "", Optional.empty(), false, day(3))));
        Decisions answered = Decisions.NONE.with(
                new Acknowledgement(acknowledgementNumber(1), updateId("FTM-2"), "orrin", day(1), Optional.empty()));
        assertThat(cues(exploited, answered, Outcomes.NONE, day(4), UPDATE, next))
                .extracting(Cue::type, Cue::about, Cue::of)
                .containsExactly(tuple(Cue.Type.KNOWN_EXPLOITED, CVE, Optional.of(updateId("FTM-1"))));
        assertThat(cues(
                        exploited,
                        answered.with(new Acknowledgement(
                                acknowledgementNumber(2), updateId("FTM-2"), "orrin", day(5), Optional.empty())),
                        Outcomes.NONE,
                        day(6),
                        UPDATE,
                        next))
                .isEmpty();
    }

    @Test
    void anUpdateUnfoldsWhileItsSuccessorIsWithheldByAnyDecision() {
        Update next = TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/lib@3");
        Carriages carriages = TestFleet.carriages(FLEET, List.of(UPDATE, next));
        Decisions deferred = Decisions.NONE.with(verdict(1, "FTM-2", VerdictType.DEFER, 20));
        assertThat(Docket.of(new Docket.Facts(carriages, Evidence.NONE, Weights.USUAL, Decisions.NONE), day(2))
                        .find(updateId("FTM-1"))
                        .orElseThrow()
                        .foldedUnder())
                .contains(updateId("FTM-2"));
        assertThat(Docket.of(new Docket.Facts(carriages, Evidence.NONE, Weights.USUAL, deferred), day(2))
                        .find(updateId("FTM-1"))
                        .orElseThrow()
                        .foldedUnder())
                .isEmpty();
    }

    @Test
    void whatASupersededBlockCoversAsksToBeCarriedOver() {
        Update next = TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/lib@3");
        Decisions block = Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.BLOCK, 20));
        assertThat(cues(Evidence.NONE, block, Outcomes.NONE, day(2), UPDATE, next))
                .extracting(Cue::type, Cue::about)
                .contains(tuple(Cue.Type.SUPERSEDES_BLOCKED, "FTM-1"));
        Carriages carriages = TestFleet.carriages(FLEET, List.of(UPDATE, next));
        DocketCase asked = Docket.of(new Docket.Facts(carriages, Evidence.NONE, Weights.USUAL, block), day(2))
                .find(updateId("FTM-2"))
                .orElseThrow();
        assertThat(asked.heaviest().orElseThrow().weighing().suggestion().type())
                .isEqualTo(Suggestion.Type.CARRY_OVER);
        assertThat(cues(
                        Evidence.NONE,
                        block.with(new Acknowledgement(
                                acknowledgementNumber(1), updateId("FTM-2"), "orrin", day(2), Optional.empty())),
                        Outcomes.NONE,
                        day(3),
                        UPDATE,
                        next))
                .isEmpty();
        assertThat(cues(Evidence.NONE, block, Outcomes.NONE, day(21), UPDATE, next))
                .extracting(Cue::type)
                .as("the block has ended")
                .doesNotContain(Cue.Type.SUPERSEDES_BLOCKED);
    }

    @Test
    void anInstallInSpiteOfABlock() {
        Decisions block = Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.BLOCK, 30));
        assertThat(cues(
                        Evidence.NONE,
                        block,
                        Outcomes.NONE.with(List.of(outcome(3, Outcome.What.INSTALLED, .5))),
                        day(4),
                        UPDATE))
                .as("before the block")
                .isEmpty();
        assertThat(cues(
                        Evidence.NONE,
                        block,
                        Outcomes.NONE.with(List.of(outcome(3, Outcome.What.INSTALLED, 2))),
                        day(4),
                        UPDATE))
                .extracting(Cue::type)
                .containsExactly(Cue.Type.BLOCKED_BUT_INSTALLED);
    }

    @Test
    void hostsThatCameOrWentSinceAVerdict() {
        RoaringBitmap then = FLEET.all();
        then.remove(0);
        then.remove(1);
        Decisions block =
                Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.BLOCK, 30).at(new Verdict.Moment(then, then)));
        assertThat(cues(Evidence.NONE, block, Outcomes.NONE, day(4), UPDATE))
                .extracting(Cue::type, Cue::hosts)
                .containsExactly(tuple(Cue.Type.POPULATION_CHANGED, 2));
        assertThat(cues(
                        Evidence.NONE,
                        Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.BLOCK, 30)),
                        Outcomes.NONE,
                        day(4),
                        UPDATE))
                .isEmpty();
    }

    @Test
    void somebodyWantedItLookedAtAgain() {
        Instant from = LocalDate.ofInstant(day(3), ZoneOffset.UTC)
                .atStartOfDay(ZoneOffset.UTC)
                .toInstant();
        CaseNote note = new CaseNote(
                1,
                updateId("FTM-1"),
                "ask for the log",
                new CaseNote.FollowUp(Optional.of("J. Fenn"), Optional.of(LocalDate.ofInstant(from, ZoneOffset.UTC))),
                "orrin",
                day(1),
                Optional.empty());
        Evidence evidence = Evidence.NONE.with(note);
        assertThat(types(evidence, answered(2), from.minusSeconds(1))).isEmpty();
        assertThat(cues(evidence, answered(2), Outcomes.NONE, from, UPDATE))
                .as("whatever was answered before its day")
                .extracting(Cue::type, Cue::raised, Cue::about)
                .containsExactly(tuple(Cue.Type.LOOK_AGAIN, from, "ask for the log"));
        assertThat(types(evidence, answered(4), day(5))).isEmpty();
        assertThat(types(Evidence.NONE.with(note.revoked(day(4))), answered(2), day(5)))
                .isEmpty();
        Docket before = Docket.of(
                new Docket.Facts(TestFleet.carriages(FLEET, List.of(UPDATE)), evidence, Weights.USUAL, answered(2)),
                from.minusSeconds(1));
        assertThat(before.find(UPDATE.id()).orElseThrow().validUntil()).isEqualTo(from);
    }

    @Test
    void whatFoldsUnderItsSuccessorIsLookedAtAgainThere() {
        Update next = TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/lib@3");
        LocalDate date = LocalDate.ofInstant(day(3), ZoneOffset.UTC);
        Instant from = date.atStartOfDay(ZoneOffset.UTC).toInstant();
        Evidence evidence = Evidence.NONE.with(new CaseNote(
                1,
                updateId("FTM-1"),
                "ask for the log",
                new CaseNote.FollowUp(Optional.empty(), Optional.of(date)),
                "orrin",
                day(1),
                Optional.empty()));
        Decisions answered = Decisions.NONE.with(
                new Acknowledgement(acknowledgementNumber(1), updateId("FTM-2"), "orrin", day(1), Optional.empty()));
        assertThat(cues(evidence, answered, Outcomes.NONE, from, UPDATE, next))
                .extracting(Cue::type, Cue::of)
                .containsExactly(tuple(Cue.Type.LOOK_AGAIN, Optional.of(updateId("FTM-1"))));
        assertThat(Docket.of(
                                new Docket.Facts(
                                        TestFleet.carriages(FLEET, List.of(UPDATE, next)),
                                        evidence,
                                        Weights.USUAL,
                                        answered),
                                from.minusSeconds(1))
                        .find(next.id())
                        .orElseThrow()
                        .validUntil())
                .isEqualTo(from);
    }

    @Test
    void anOwnerObjectsToAForceThatGoesOverTheException() {
        ExceptionGrant exception = new ExceptionGrant(
                exceptionNumber(3),
                new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")),
                HostConditions.parse("name in (" + FLEET.host(0).name() + ", "
                        + FLEET.host(1).name() + ")"),
                Effect.WITHHELD,
                day(30),
                "certificate",
                "brevik",
                "",
                "aldane",
                day(0),
                Optional.empty());
        Verdict force = verdict(1, "FTM-1", VerdictType.FORCE, 10);
        CaseNote note = new CaseNote(
                1,
                updateId("FTM-1"),
                "the certificate is lost with it",
                CaseNote.FollowUp.NONE,
                Optional.of(new CaseNote.Objection(1, 3)),
                Optional.empty(),
                "brevik",
                day(3),
                Optional.empty());
        Evidence objected = Evidence.NONE.with(note);
        Decisions decisions = Decisions.NONE.with(force).with(exception);
        assertThat(cues(objected, decisions, Outcomes.NONE, day(4), UPDATE))
                .filteredOn(cue -> cue.type() == Cue.Type.OBJECTED)
                .extracting(Cue::raised, Cue::about, Cue::hosts)
                .containsExactly(tuple(day(3), "brevik: the certificate is lost with it", 2));
        ExceptionGrant renewed = exception.renewed(exceptionNumber(4), day(40), "again", "aldane", day(4));
        assertThat(types(
                        objected,
                        Decisions.NONE
                                .with(force)
                                .with(exception.revoked(day(4)))
                                .with(renewed),
                        day(5)))
                .as("a renewal is the same exception")
                .contains(Cue.Type.OBJECTED);
        assertThat(types(objected, Decisions.NONE.with(force.revoked(day(4))).with(exception), day(5)))
                .as("the force was taken back")
                .doesNotContain(Cue.Type.OBJECTED);
        assertThat(types(objected, Decisions.NONE.with(force).with(exception.revoked(day(4))), day(5)))
                .as("the exception was given up")
                .doesNotContain(Cue.Type.OBJECTED);
        assertThat(types(
                        objected,
                        decisions.with(new Acknowledgement(
                                acknowledgementNumber(1), updateId("FTM-1"), "aldane", day(4), Optional.empty())),
                        day(5)))
                .as("somebody answered it")
                .doesNotContain(Cue.Type.OBJECTED);
    }

    @Test
    void withoutAHostThatLacksItOnlyTheNoteItselfCanBeTakenBack() {
        Fleet carrying = FLEET.with(IntStream.range(0, 20)
                .mapToObj(i -> TestFleet.hostSeen(i, day(40), Map.of("role", text("kiosk")), "pkg:deb/fathom/lib@2"))
                .toList());
        Evidence evidence = Evidence.NONE.with(new CaseNote(
                1,
                updateId("FTM-1"),
                "ask for the log",
                new CaseNote.FollowUp(Optional.empty(), Optional.of(LocalDate.ofInstant(day(3), ZoneOffset.UTC))),
                "orrin",
                day(1),
                Optional.empty()));
        assertThat(cues(carrying, evidence, answered(4), Outcomes.NONE, day(5), UPDATE))
                .extracting(Cue::type, Cue::open)
                .containsExactly(tuple(Cue.Type.LOOK_AGAIN, 0));
    }

    @Test
    void itMattersAgainWhereItDidNot() {
        Evidence evidence = Evidence.NONE.with(new NotAffectedNote(
                1,
                updateId("FTM-1"),
                HostConditions.parse("reader = R2"),
                "",
                "orrin",
                day(1),
                RoaringBitmap.bitmapOf(0, 1, 2),
                Optional.empty()));
        assertThat(types(evidence, answered(2), day(4))).isEmpty();
        Evidence changed = Evidence.NONE.with(new NotAffectedNote(
                1,
                updateId("FTM-1"),
                HostConditions.parse("reader = R2"),
                "",
                "orrin",
                day(1),
                RoaringBitmap.bitmapOf(0, 1, 2, 3),
                Optional.empty()));
        assertThat(cues(changed, answered(2), Outcomes.NONE, day(4), UPDATE))
                .extracting(Cue::type, Cue::hosts)
                .containsExactly(tuple(Cue.Type.AFFECTED_NOW, 1));
    }

    @Test
    void aRuleThatIsAboutToOfferWhatNobodyJudged() {
        assertThat(types(Evidence.NONE, Decisions.NONE, day(27.9))).containsExactly(Cue.Type.NEW);
        assertThat(types(Evidence.NONE, Decisions.NONE, day(28))).containsExactly(Cue.Type.OFFERED_SOON, Cue.Type.NEW);
        assertThat(types(Evidence.NONE, answered(1), day(28))).isEmpty();
    }

    @Test
    void theDocketIsOrderedByWhatJudgementIsWorthNow() {
        Update plain = TestFleet.update("FTM-9", "pkg:deb/fathom/lib@2");
        Carriages carriages = TestFleet.carriages(FLEET, List.of(UPDATE, plain));
        Docket fresh = Docket.of(new Docket.Facts(carriages, Evidence.NONE, Weights.USUAL, Decisions.NONE), day(1.5));
        assertThat(fresh.cases()).extracting(c -> c.update().id().value()).containsExactly("FTM-1", "FTM-9");
        DocketCase first = fresh.cases().get(0);
        assertThat(fresh.order().worth(first)).isEqualTo((first.beam().exposure() + 1) * 2);
        // A fresh cue brings the smaller stake to the top.
        Evidence issue = Evidence.NONE.withIssues(List.of(new KnownIssue(
                "KI-1",
                updateIds("FTM-9"),
                List.of(),
                "",
                KnownIssue.State.OPEN,
                Optional.empty(),
                Optional.empty(),
                "desk",
                day(9.9),
                day(9.9))));
        Docket later = Docket.of(new Docket.Facts(carriages, issue, Weights.USUAL, Decisions.NONE), day(10));
        assertThat(later.cases()).extracting(c -> c.update().id().value()).containsExactly("FTM-9", "FTM-1");
    }

    @Test
    void fixesOfTheSameVulnerabilityStandTogether() {
        Update sibling = security("FTM-5");
        Update between = TestFleet.update("FTM-9", "pkg:deb/fathom/lib@2");
        Carriages carriages = TestFleet.carriages(FLEET, List.of(UPDATE, sibling, between));
        Docket docket = Docket.of(new Docket.Facts(carriages, Evidence.NONE, Weights.USUAL, Decisions.NONE), day(10));
        assertThat(docket.cases()).extracting(c -> c.update().id().value()).containsExactly("FTM-1", "FTM-5", "FTM-9");
        assertThat(docket.find(updateId("FTM-5")).orElseThrow().siblings()).containsExactly(updateId("FTM-1"));
    }
}
