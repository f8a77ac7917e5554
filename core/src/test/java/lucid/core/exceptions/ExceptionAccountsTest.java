package lucid.core.exceptions;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.exceptionNumber;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.exceptions.ExceptionAccounts.Account;
import lucid.core.exceptions.ExceptionAccounts.State;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.StandingRule;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.ExceptionGrant.EndsWhen;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Kind;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.Weights;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class ExceptionAccountsTest {

    private static final String CVE = "CVE-2026-9000001";
    private static final Update FIRST = security("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Update NEXT =
            TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/libtls@3.0");
    private static final Fleet FLEET = Fleet.EMPTY
            .with(new Ladder(
                    List.of(TestFleet.population("kiosks", "role = kiosk", 5)),
                    new StandingRule(List.of(), StandingRule.Offer.NEVER)))
            .with(IntStream.range(0, 5)
                    .mapToObj(i -> TestFleet.host(
                            i, Map.of("role", text(i < 4 ? "kiosk" : "loan")), "pkg:deb/fathom/libtls@1.0"))
                    .toList());

    private static Update security(String id, String purl) {
        Update bare = TestFleet.update(id, purl);
        return Update.join(
                List.of(TestFleet.advisory(
                        id,
                        Optional.of(Kind.SECURITY),
                        List.of(new Vulnerability(
                                CVE,
                                "",
                                Optional.of(7.5),
                                Optional.of("CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:N/A:N"),
                                "")),
                        bare.fixes(),
                        NOW)),
                Optional.empty(),
                Optional.empty(),
                NOW);
    }

    private static Instant day(double days) {
        return NOW.plus(Duration.ofMinutes((long) (days * 24 * 60)));
    }

    private static ExceptionGrant exception(
            long number, ExceptionGrant.Scope scope, String hosts, double until, Optional<EndsWhen> endsWhen) {
        return new ExceptionGrant(
                exceptionNumber(number),
                scope,
                HostConditions.parse(hosts),
                Effect.WITHHELD,
                day(until),
                "certificate",
                "T. Brevik",
                "",
                "orrin",
                NOW,
                Optional.empty(),
                List.of(),
                0,
                endsWhen,
                Optional.empty());
    }

    private static ExceptionGrant onFirst(long number, String hosts, double until) {
        return exception(number, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), hosts, until, Optional.empty());
    }

    private static ExceptionAccounts accounts(Decisions decisions, Evidence evidence, double now, Update... updates) {
        Carriages carriages = TestFleet.carriages(FLEET, List.of(updates));
        return new ExceptionAccounts(carriages, decisions, evidence, Weights.USUAL, day(now));
    }

    private static Account account(Decisions decisions, long number, double now, Update... updates) {
        return accounts(decisions, Evidence.NONE, now, updates)
                .of(decisions.exception(exceptionNumber(number)).orElseThrow());
    }

    @Test
    void tellsItsHostsWhatWaitingCostsAndWhatItsEndBrings() {
        Decisions decisions = Decisions.NONE.with(onFirst(1, "name in (host-0, host-4)", 30));
        Account account = account(decisions, 1, 10, FIRST);
        assertThat(account.state()).isEqualTo(State.ACTIVE);
        assertThat(account.hosts().toArray()).containsExactly(0, 4);
        assertThat(account.hostDaysSoFar()).isEqualTo(20, within(1e-9));
        assertThat(account.hostDaysToCome()).isEqualTo(40, within(1e-9));
        // Two internal hosts, of tier 3 and in no population; High by rating .05 x network 1 x 7.5/10.
        double risk = .05 * 1 * .75;
        int tier = FLEET.ladder().entry(populationId("kiosks")).orElseThrow().tier();
        assertThat(account.exposure())
                .isEqualTo((Weights.USUAL.ofTier(tier) + Weights.USUAL.ofTier(3)) * .35 * risk, within(1e-9));
        assertThat(account.updates().get(0).then())
                .extracting(
                        group -> group.match().effect() + " " + group.hosts().getCardinality())
                .containsExactlyInAnyOrder("OFFERED 1", "WITHHELD 1");
        assertThat(account(decisions, 1, 17, FIRST).state()).isEqualTo(State.ENDING);
    }

    @Test
    void aForceThatGoesOverItIsToldWhileBothStand() {
        ExceptionGrant exception = onFirst(1, "name = host-0", 8);
        Verdict force = new Verdict(
                verdictNumber(7),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.FORCE,
                day(5),
                new Verdict.Reason(Set.of(), "now"),
                new Verdict.Origin("aldane", NOW),
                new Verdict.Overrides(Set.of(), Set.of(exceptionNumber(1))),
                Optional.empty());
        Decisions decisions = Decisions.NONE.withAll(List.of(exception, force));
        assertThat(account(decisions, 1, 2, FIRST).overriding()).containsExactly(force);
        ExceptionGrant renewed = exception.renewed(exceptionNumber(2), day(20), "still", "orrin", day(3));
        Decisions later = Decisions.NONE.withAll(List.of(exception.revoked(day(3)), renewed, force));
        assertThat(account(later, 2, 4, FIRST).overriding())
                .as("a renewal does not undo what went over it")
                .containsExactly(force);
        assertThat(account(Decisions.NONE.withAll(List.of(exception, force.revoked(day(1)))), 1, 2, FIRST)
                        .overriding())
                .isEmpty();
        assertThat(account(decisions, 1, 9, FIRST).overriding())
                .as("it has lapsed")
                .isEmpty();
    }

    @Test
    void onceLapsedItTellsWhatHoldsNow() {
        Decisions decisions = Decisions.NONE.with(onFirst(1, "name = host-0", 8));
        Account account = account(decisions, 1, 9, FIRST);
        assertThat(account.state()).isEqualTo(State.LAPSED);
        assertThat(account.hosts().toArray()).containsExactly(0);
        assertThat(account.hostDaysSoFar()).isEqualTo(8, within(1e-9));
        assertThat(account.hostDaysToCome()).isZero();
        assertThat(account.updates().get(0).then())
                .singleElement()
                .satisfies(group -> assertThat(group.match().effect()).isEqualTo(Effect.OFFERED));
    }

    @Test
    void aRenewalGoesOnFromTheEarlierOneAndIsCounted() {
        ExceptionGrant first = onFirst(1, "name = host-0", 8);
        ExceptionGrant second = first.renewed(exceptionNumber(2), day(20), "still", "aldane", day(7));
        ExceptionGrant third = second.renewed(exceptionNumber(3), day(40), "still", "aldane", day(19));
        Decisions decisions = Decisions.NONE.withAll(List.of(first.revoked(day(7)), second.revoked(day(19)), third));
        ExceptionAccounts accounts = accounts(decisions, Evidence.NONE, 21, FIRST);
        assertThat(accounts.chains()).extracting(ExceptionGrant::number).containsExactly(exceptionNumber(3));
        assertThat(third.renewals()).isEqualTo(2);
        assertThat(third.first()).isEqualTo(exceptionNumber(1));
        assertThat(accounts.of(third).since()).isEqualTo(NOW);
        assertThat(accounts.of(third).hostDaysSoFar()).isEqualTo(21, within(1e-9));
        ExceptionGrant back = third.as(exceptionNumber(4), second, day(19.5));
        assertThat(back.until()).isEqualTo(day(20));
        assertThat(back.renewals()).isEqualTo(1);
        assertThat(back.isNamedIn(Set.of(exceptionNumber(2)))).isTrue();
    }

    @Test
    void aRenewalDoesNotUndoAForceThatNamesTheEarlierOne() {
        ExceptionGrant first = onFirst(1, "name = host-0", 8);
        Verdict force = new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.FORCE,
                day(12),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", day(1)),
                new Verdict.Overrides(Set.of(), Set.of(first.number())),
                Optional.empty());
        Decisions renewed = Decisions.NONE
                .with(force)
                .withAll(List.of(
                        first.revoked(day(2)), first.renewed(exceptionNumber(2), day(30), "still", "orrin", day(2))));
        Timeline timeline = Timeline.of(
                FIRST,
                renewed,
                FLEET,
                TestFleet.carriages(FLEET, List.of(FIRST)).catalogue());
        assertThat(timeline.groups(RoaringBitmap.bitmapOf(0), day(3)))
                .singleElement()
                .satisfies(group -> assertThat(group.match().clause()).isEqualTo(RuleMatch.Clause.OVERRIDING_FORCE));
    }

    @Test
    void whatIsHeldOfAChainIsToldWithTheNewestUpdateAlone() {
        Decisions decisions = Decisions.NONE.with(
                exception(1, new ExceptionGrant.Scope.OfKind(FIRST.kind()), "name = host-0", 30, Optional.empty()));
        Update sameKind = TestFleet.update("FTM-3", "pkg:deb/fathom/other@2.0");
        Account account = account(decisions, 1, 1, FIRST, sameKind);
        assertThat(account.updates()).extracting(of -> of.update().id()).containsExactly(updateId("FTM-1"));
        Decisions ofProduct = Decisions.NONE.with(exception(
                1,
                new ExceptionGrant.Scope.OfProduct(FIRST.fixes().get(0).build().product()),
                "name = host-0",
                30,
                Optional.empty()));
        Account both = account(ofProduct, 1, 1, FIRST, NEXT);
        assertThat(both.updates()).extracting(of -> of.update().id()).containsExactly(updateId("FTM-2"));
        assertThat(both.exposure()).as("what the earlier one closes stays open").isPositive();
        assertThat(both.hostDaysToCome()).isEqualTo(29, within(1e-9));
    }

    @Test
    void endsWhenASuccessorIsReleasedOrTheIssueIsFixed() {
        ExceptionGrant.Scope scope = new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1"));
        ExceptionGrant untilSuccessor = exception(
                1,
                scope,
                "name = host-0",
                30,
                Optional.of(new EndsWhen(EndsWhen.Type.SUCCESSOR, "", Optional.empty())));
        assertThat(untilSuccessor.isToEnd(
                        TestFleet.carriages(FLEET, List.of(FIRST)).catalogue(), Evidence.NONE))
                .isFalse();
        assertThat(untilSuccessor.isToEnd(
                        TestFleet.carriages(FLEET, List.of(FIRST, NEXT)).catalogue(), Evidence.NONE))
                .isTrue();
        ExceptionGrant untilFixed = exception(
                2,
                scope,
                "name = host-0",
                30,
                Optional.of(new EndsWhen(EndsWhen.Type.ISSUE_FIXED, "KI-1", Optional.empty())));
        for (KnownIssue.State state : KnownIssue.State.values()) {
            KnownIssue issue = new KnownIssue(
                    "KI-1",
                    List.of(updateId("FTM-1")),
                    List.of(),
                    "printers stop",
                    state,
                    Optional.empty(),
                    Optional.empty(),
                    "Fathom",
                    NOW,
                    NOW);
            assertThat(untilFixed.isToEnd(
                            TestFleet.carriages(FLEET, List.of(FIRST)).catalogue(),
                            Evidence.NONE.withIssues(List.of(issue))))
                    .isEqualTo(state == KnownIssue.State.FIXED);
        }
        ExceptionGrant ended = untilSuccessor.ended(day(4));
        assertThat(ended.standsAt(day(3.9))).isTrue();
        assertThat(ended.standsAt(day(4))).isFalse();
        assertThat(ended.endedEarly()).isTrue();
        assertThat(untilSuccessor.ended(day(31)).end()).as("its day came first").isEqualTo(day(30));
        assertThat(account(Decisions.NONE.with(ended), 1, 5, FIRST).state()).isEqualTo(State.LAPSED);
    }

    @Test
    void namesWhatIsExploitedSinceAndPopulationsThatAreMostlyExcepted() {
        Decisions decisions = Decisions.NONE.with(onFirst(1, "name in (host-0, host-1)", 30));
        Evidence evidence = Evidence.NONE.withExploited(
                List.of(new KnownExploited(CVE, LocalDate.of(2026, 11, 26), "", "", Optional.empty(), false, day(3))));
        ExceptionGrant exception = decisions.exception(exceptionNumber(1)).orElseThrow();
        Account account = accounts(decisions, evidence, 5, FIRST).of(exception);
        assertThat(account.exploitedSince()).extracting(KnownExploited::cve).containsExactly(CVE);
        assertThat(account.mostlyExcepted()).as("two of four are not most").isEmpty();
        Decisions more = decisions.with(onFirst(2, "name = host-2", 30));
        assertThat(accounts(more, evidence, 5, FIRST).of(exception).mostlyExcepted())
                .containsExactly(populationId("kiosks"));
        ExceptionGrant since = exception.renewed(exceptionNumber(3), day(40), "still", "orrin", day(4));
        assertThat(accounts(Decisions.NONE.with(since), evidence, 5, FIRST)
                        .of(since)
                        .exploitedSince())
                .as("whoever renewed it knew")
                .isEmpty();
    }

    @Test
    void whatStandsComesFirstAndWhatWasTakenBackIsClosed() {
        ExceptionGrant closed = onFirst(3, "name = host-2", 25).revoked(day(2));
        Decisions decisions = Decisions.NONE.withAll(List.of(
                onFirst(1, "name = host-0", 4),
                onFirst(2, "name = host-1", 20),
                closed,
                onFirst(4, "name = host-3", 9)));
        ExceptionAccounts accounts = accounts(decisions, Evidence.NONE, 5, FIRST);
        assertThat(accounts.chains()).extracting(one -> one.number().value()).containsExactly(4L, 2L, 1L, 3L);
        assertThat(accounts.of(closed).state()).isEqualTo(State.CLOSED);
        assertThat(accounts.of(closed).hosts().isEmpty()).isTrue();
    }
}
