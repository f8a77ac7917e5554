package lucid.core.reporting;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.exceptionNumber;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.StandingRule;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Kind;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/** Ten kiosks of which two carry the update, and one host in no population, which lacks it. */
class ReportingTest {

    private static final String CVE = "CVE-2026-9000001";
    private static final Update UPDATE = security("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Ladder LADDER = new Ladder(
            List.of(TestFleet.population("kiosks", "role = kiosk", 5)),
            new StandingRule(List.of(), StandingRule.Offer.NEVER));

    private static Update security(String id, String purl) {
        return Update.join(
                List.of(TestFleet.advisory(
                        id,
                        Optional.of(Kind.SECURITY),
                        List.of(new Vulnerability(CVE, "", Optional.of(7.5), Optional.empty(), "")),
                        TestFleet.update(id, purl).fixes(),
                        NOW)),
                Optional.empty(),
                Optional.empty(),
                NOW);
    }

    private static Fleet fleet(Set<Integer> have) {
        List<Host> hosts = IntStream.range(0, 11)
                .mapToObj(i -> TestFleet.host(
                        i,
                        Map.of("role", text(i < 10 ? "kiosk" : "loan")),
                        "pkg:deb/fathom/libtls@" + (have.contains(i) ? "2.0" : "1.0")))
                .toList();
        return Fleet.EMPTY.with(LADDER).with(hosts);
    }

    private static Carriages carriages(Set<Integer> have) {
        return TestFleet.carriages(fleet(have), List.of(UPDATE));
    }

    private static final Carriages CARRIAGES = carriages(Set.of(0, 1));

    private static Instant day(int days) {
        return NOW.plus(Duration.ofDays(days));
    }

    private static Verdict verdict(long number, VerdictType type, String where, int until, ReasonWord... reasons) {
        return new Verdict(
                verdictNumber(number),
                new Verdict.Subject(
                        updateId("FTM-1"),
                        "1",
                        populationId("kiosks"),
                        Optional.of(where).filter(w -> !w.isEmpty()).map(HostConditions::parse)),
                type,
                day(until),
                new Verdict.Reason(Set.of(reasons), ""),
                new Verdict.Origin("aldane", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    private static ExceptionGrant exception(long number, String hosts) {
        return new ExceptionGrant(
                exceptionNumber(number),
                new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")),
                HostConditions.parse(hosts),
                Effect.WITHHELD,
                day(30),
                "certificate",
                "T. Brevik",
                "",
                "orrin",
                NOW,
                Optional.empty(),
                List.of(),
                0,
                Optional.empty(),
                Optional.empty());
    }

    @Test
    void aCellSaysWhatIsInForceForThoseThatLackIt() {
        Decisions decisions = Decisions.NONE.withAll(
                List.of(verdict(1, VerdictType.BLOCK, "name in (host-2, host-3)", 9), exception(1, "name = host-4")));
        Timeline timeline = Timeline.of(UPDATE, decisions, CARRIAGES.fleet(), CARRIAGES.catalogue());
        RoaringBitmap lacking = CARRIAGES.of(UPDATE, day(6)).lacking();
        InForceCell kiosks = InForceCell.of(
                timeline.groups(LADDER.entries().get(0), RoaringBitmap.bitmapOf(2, 3, 4, 5, 6, 7, 8, 9), day(6)),
                day(6));
        assertThat(lacking.getCardinality()).isEqualTo(9);
        assertThat(kiosks.withheld()).isEqualTo(3);
        assertThat(kiosks.nextEnd()).contains(day(9));
        assertThat(kiosks.offered()).isEqualTo(5);
        assertThat(kiosks.overdue()).isZero();
        InForceCell others =
                InForceCell.of(timeline.groups(LADDER.entries().get(1), RoaringBitmap.bitmapOf(10), day(6)), day(6));
        assertThat(others.needsVerdict()).isEqualTo(1);
        assertThat(InForceCell.of(List.of(), day(6)).most()).isEmpty();
    }

    @Test
    void aForcePastItsDayIsOverdueInTheCell() {
        Decisions decisions = Decisions.NONE.with(verdict(1, VerdictType.FORCE, "", 3));
        Timeline timeline = Timeline.of(UPDATE, decisions, CARRIAGES.fleet(), CARRIAGES.catalogue());
        RoaringBitmap some = RoaringBitmap.bitmapOf(5, 6);
        InForceCell before = InForceCell.of(timeline.groups(LADDER.entries().get(0), some, day(2)), day(2));
        assertThat(before.nextDue()).contains(day(3));
        assertThat(before.overdue()).isZero();
        InForceCell after = InForceCell.of(timeline.groups(LADDER.entries().get(0), some, day(3)), day(3));
        assertThat(after.nextDue()).isEmpty();
        assertThat(after.overdue()).isEqualTo(2);
    }

    @Test
    void whatIsWithheldIsSummedByReasonAndOwner() {
        Decisions decisions = Decisions.NONE.withAll(List.of(
                verdict(
                        1,
                        VerdictType.BLOCK,
                        "name in (host-2, host-3)",
                        9,
                        ReasonWord.KNOWN_ISSUE,
                        ReasonWord.FAILURES_SEEN),
                verdict(2, VerdictType.DEFER, "name = host-5", 12, ReasonWord.KNOWN_ISSUE),
                verdict(3, VerdictType.FORCE, "name = host-6", 12, ReasonWord.EXPLOITED),
                exception(1, "name in (host-4, host-10)")));
        List<Withholding> all = Withholding.at(CARRIAGES, decisions, day(6));
        Map<ReasonWord, Withholding.WithheldSum> byReason = Withholding.byReason(all);
        assertThat(byReason.keySet()).containsExactly(ReasonWord.KNOWN_ISSUE, ReasonWord.FAILURES_SEEN);
        assertThat(byReason.get(ReasonWord.KNOWN_ISSUE)).isEqualTo(new Withholding.WithheldSum(2, 1, 3, NOW, day(9)));
        assertThat(byReason.get(ReasonWord.FAILURES_SEEN)).isEqualTo(new Withholding.WithheldSum(1, 1, 2, NOW, day(9)));
        assertThat(Withholding.withoutReason(all)).contains(new Withholding.WithheldSum(1, 1, 2, NOW, day(30)));
        assertThat(Withholding.byOwner(all).keySet()).containsExactly("T. Brevik", "aldane");
        assertThat(Withholding.at(CARRIAGES, Decisions.NONE, day(6))).isEmpty();
    }

    /** A renewed exception has stood since the first of its chain. */
    @Test
    void aWithholdingIsAsOldAsTheFirstOfItsChain() {
        ExceptionGrant first = exception(1, "name = host-4");
        ExceptionGrant second = first.renewed(exceptionNumber(2), day(60), "still", "aldane", day(20));
        Decisions decisions = Decisions.NONE.withAll(List.of(first.revoked(day(20)), second));
        assertThat(Withholding.at(CARRIAGES, decisions, day(25)))
                .singleElement()
                .satisfies(one -> assertThat(one.since()).isEqualTo(NOW));
    }

    @Test
    void aForceIsFollowedOnTheHostsThatLackedItThen() {
        RoaringBitmap then = RoaringBitmap.bitmapOf(2, 3, 4, 5);
        Verdict force = verdict(1, VerdictType.FORCE, "", 3)
                .at(new Verdict.Moment(RoaringBitmap.bitmapOf(0, 1, 2, 3, 4, 5), then));
        Carriages later = carriages(Set.of(0, 1, 2, 3));
        Carriages retired = later.retiring(RoaringBitmap.bitmapOf(5));
        List<ForcedUpdate> all = ForcedUpdate.since(NOW, retired, Decisions.NONE.with(force), day(4));
        assertThat(all).singleElement().satisfies(one -> {
            assertThat(one.hosts()).isEqualTo(4);
            assertThat(one.have().toArray()).containsExactly(2, 3);
            assertThat(one.overdue().toArray()).containsExactly(4);
            assertThat(one.gone().toArray()).containsExactly(5);
            assertThat(one.failed().isEmpty() && one.waiting().isEmpty()).isTrue();
        });
        ForcedUpdate before = ForcedUpdate.since(NOW, later, Decisions.NONE.with(force), day(2))
                .get(0);
        assertThat(before.waiting().toArray()).containsExactly(4, 5);
        ForcedUpdate takenBack = ForcedUpdate.since(NOW, later, Decisions.NONE.with(force.revoked(day(1))), day(4))
                .get(0);
        assertThat(takenBack.overdue().isEmpty()).isTrue();
        assertThat(ForcedUpdate.since(day(1), later, Decisions.NONE.with(force), day(4)))
                .isEmpty();
    }

    @Test
    void whatIsExploitedIsOpenWhereAnUpdateThatClosesItIsLackedAndNoNoteSpeaksAgainstIt() {
        KnownExploited listed = new KnownExploited(
                CVE, LocalDate.of(2026, 11, 20), "", "", Optional.of(LocalDate.of(2026, 11, 27)), false, NOW);
        KnownExploited elsewhere = new KnownExploited(
                "CVE-2026-9000099", LocalDate.of(2026, 11, 20), "", "", Optional.empty(), false, NOW);
        NotAffectedNote note = new NotAffectedNote(
                1,
                updateId("FTM-1"),
                HostConditions.parse("name = host-2"),
                "not used",
                "aldane",
                NOW,
                new RoaringBitmap(),
                Optional.empty());
        Evidence evidence =
                Evidence.NONE.withExploited(List.of(listed, elsewhere)).with(note);
        List<OpenExploited> all = OpenExploited.all(CARRIAGES, evidence, day(1));
        assertThat(all).singleElement().satisfies(one -> {
            assertThat(one.closing()).containsExactly(UPDATE);
            assertThat(one.concerned().getCardinality()).isEqualTo(11);
            assertThat(one.open().getCardinality()).isEqualTo(8);
            assertThat(one.notAffected().toArray()).containsExactly(2);
            assertThat(one.unknown().isEmpty()).isTrue();
            assertThat(one.daysLeft(day(1))).contains(2L);
            assertThat(one.daysLeft(day(5))).contains(-2L);
        });
        assertThat(OpenExploited.all(CARRIAGES, evidence, day(6))
                        .get(0)
                        .unknown()
                        .getCardinality())
                .isEqualTo(8);
        Carriages closed = carriages(Stream.iterate(0, i -> i + 1).limit(11).collect(Collectors.toSet()));
        assertThat(OpenExploited.all(closed, evidence, day(1)).get(0).open().isEmpty())
                .isTrue();
    }
}
