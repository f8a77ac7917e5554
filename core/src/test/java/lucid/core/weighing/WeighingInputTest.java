package lucid.core.weighing;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.number;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.updateIds;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.causes.Cause;
import lucid.core.causes.Proportion;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScores;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.evidence.TriedHosts;
import lucid.core.evidence.VexStatement;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.Trait;
import lucid.core.update.AffectedRange;
import lucid.core.update.AttackVector;
import lucid.core.update.Fix;
import lucid.core.update.PackageReference;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class WeighingInputTest {

    private static final String FIRST = "CVE-2026-9000001";
    private static final String SECOND = "CVE-2026-9000002";

    /**
     * Twelve hosts that lack it: four public, four internal, four that say nothing; six of them have version 1.5 of it,
     * the others 1.
     */
    private static final Fleet FLEET = fleet();

    private static Fleet fleet() {
        List<Host> hosts = new ArrayList<>();
        for (int i = 0; i < 12; i++) {
            Map<String, Trait> traits = i < 4
                    ? Map.of("facing", text("public"), "free", number(i))
                    : i < 8 ? Map.of("facing", text("internal")) : Map.of();
            hosts.add(TestFleet.host(i, traits, "pkg:deb/fathom/lib@" + (i % 2 == 0 ? "1.5" : "1")));
        }
        return Fleet.EMPTY
                .with(new Ladder(
                        List.of(TestFleet.population("kiosks", "name is set", 3)),
                        new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                .with(hosts);
    }

    private static Update update(Vulnerability... vulnerabilities) {
        Fix fix = new Fix(PackageReference.parse("pkg:deb/fathom/lib").build(), List.of(AffectedRange.below("2")));
        return Update.join(
                List.of(TestFleet.advisory("FTM-1", Optional.empty(), List.of(vulnerabilities), List.of(fix), NOW)),
                Optional.empty(),
                Optional.empty(),
                NOW);
    }

    private static Vulnerability vulnerability(String id, double base, String vector) {
        return new Vulnerability(
                id,
                "",
                Optional.of(base),
                Optional.of("CVSS:3.1/AV:" + vector + "/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H"),
                "");
    }

    private static WeighingInput input(Update update, Evidence evidence, TriedHosts tried, List<Cause> causes) {
        Carriages carriages = TestFleet.carriages(FLEET, List.of(update));
        return new WeighingInput(
                update,
                List.of(),
                carriages.of(update, NOW),
                carriages,
                evidence,
                tried,
                causes,
                evidence.issuesOf(updateId("FTM-1")),
                BaselineRates.Baseline.NONE,
                NOW);
    }

    private static WeighingInput input(Update update, Evidence evidence) {
        return input(
                update,
                evidence,
                TriedHosts.of(
                        update, TestFleet.carriages(FLEET, List.of(update)).outcomes(), evidence, FLEET, NOW),
                List.of());
    }

    private static Weighing weigh(WeighingInput input) {
        return new Weigher(Weights.USUAL, input.update()).weigh(input.population(2, FLEET.all()), false);
    }

    @Test
    void opennessIsThatOfTheTraitAndInternalWithoutIt() {
        Weighing weighing = weigh(input(update(vulnerability(FIRST, 9.8, "N")), Evidence.NONE));
        assertThat(weighing.exposure()).isCloseTo(4 * (4 * 1 + 8 * .35) * .10 * .98, within(1e-9));
    }

    @Test
    void theLargestRiskCounts() {
        ExploitScores.Builder scores = new ExploitScores.Builder();
        scores.add(SECOND, .5f, .99f);
        Evidence evidence =
                Evidence.NONE.with(scores.build("v1", LocalDate.of(2026, 11, 24), NOW), List.of(FIRST, SECOND));
        WeighingInput input = input(update(vulnerability(FIRST, 9.8, "N"), vulnerability(SECOND, 5.0, "L")), evidence);
        assertThat(input.update().vulnerabilities())
                .extracting(w -> w.risk(Weights.USUAL))
                .satisfiesExactly(risk -> assertThat(risk).isCloseTo(.098, within(1e-9)), risk -> assertThat(risk)
                        .isCloseTo(.5 * .5 * .5, within(1e-9)));
        assertThat(input.update().vulnerabilities().get(1).vector()).isEqualTo(AttackVector.LOCAL);
        assertThat(weigh(input).exposure()).isCloseTo(4 * 6.8 * .125, within(1e-9));
        Evidence exploited = evidence.withExploited(
                List.of(new KnownExploited(FIRST, LocalDate.of(2026, 11, 23), "", "", Optional.empty(), false, NOW)));
        assertThat(weigh(input(update(vulnerability(FIRST, 9.8, "N"), vulnerability(SECOND, 5.0, "L")), exploited))
                        .exposure())
                .isCloseTo(4 * 6.8 * .95 * .98, within(1e-9));
    }

    /**
     * Odd hosts have lib 1, even ones 1.5: only the odd ones lack the earlier update. Where somebody noted that it does
     * not affect them, they count nothing.
     */
    @Test
    void whoLacksAnEarlierUpdateThatItContainsIsExposedToWhatThatCloses() {
        Fix earlierFix =
                new Fix(PackageReference.parse("pkg:deb/fathom/lib").build(), List.of(AffectedRange.below("1.5")));
        Update earlier = Update.join(
                List.of(TestFleet.advisory(
                        "FTM-0", Optional.empty(), List.of(vulnerability(SECOND, 9.8, "N")), List.of(earlierFix), NOW)),
                Optional.empty(),
                Optional.empty(),
                NOW);
        Update update = update();
        Carriages carriages = TestFleet.carriages(FLEET, List.of(earlier, update));
        RoaringBitmap lacking = carriages.of(earlier, NOW).lacking();
        assertThat(lacking.getCardinality()).isEqualTo(6);
        WeighingInput input = contained(update, earlier, Evidence.NONE, carriages);
        assertThat(weigh(input).exposure()).isCloseTo(4 * (2 * 1 + 4 * .35) * .10 * .98, within(1e-9));
        assertThat(input.update().vulnerabilities()).singleElement().satisfies(risk -> assertThat(risk.closedBy())
                .contains(updateId("FTM-0")));
        assertThat(input.notAffected().isEmpty()).isTrue();
        Evidence noted = Evidence.NONE.with(new NotAffectedNote(
                1,
                updateId("FTM-0"),
                HostConditions.parse("name is set"),
                "not used",
                "orrin",
                NOW,
                new RoaringBitmap(),
                Optional.empty()));
        assertThat(weigh(contained(update, earlier, noted, carriages)).exposure())
                .isZero();
    }

    private static WeighingInput contained(Update update, Update earlier, Evidence evidence, Carriages carriages) {
        TriedHosts tried = TriedHosts.of(update, carriages.outcomes(), evidence, FLEET, NOW);
        return new WeighingInput(
                update,
                List.of(new WeighingInput.Contained(
                        earlier, carriages.of(earlier, NOW).lacking())),
                carriages.of(update, NOW),
                carriages,
                evidence,
                tried,
                List.of(),
                List.of(),
                BaselineRates.Baseline.NONE,
                NOW);
    }

    @Test
    void hostsUnderANoteCountNothing() {
        Evidence evidence = Evidence.NONE.with(new NotAffectedNote(
                1,
                updateId("FTM-1"),
                HostConditions.parse("facing = public"),
                "not used",
                "orrin",
                NOW,
                new RoaringBitmap(),
                Optional.empty()));
        WeighingInput input = input(update(vulnerability(FIRST, 9.8, "N")), evidence);
        assertThat(weigh(input).exposure()).isCloseTo(4 * 8 * .35 * .098, within(1e-9));
        assertThat(input.notAffected().getCardinality()).isEqualTo(4);
        assertThat(weigh(input).hazard().middle())
                .as("neither does installing")
                .isCloseTo(8 * 4 * .027075 * .4, within(1e-9));
    }

    @Test
    void aStatementTakesOneVulnerabilityFromTheHostsWithThatVersion() {
        VexStatement statement = new VexStatement(
                FIRST,
                PackageReference.parse("pkg:deb/fathom/lib").build(),
                Optional.of("1.5"),
                VexStatement.Status.NOT_AFFECTED,
                "the code is not there",
                "Fathom",
                NOW);
        Evidence evidence = Evidence.NONE.withStatements(List.of(statement));
        Evidence withoutWhy = Evidence.NONE.withStatements(List.of(new VexStatement(
                FIRST, statement.product(), Optional.of("1.5"), VexStatement.Status.NOT_AFFECTED, " ", "Fathom", NOW)));
        assertThat(weigh(input(update(vulnerability(FIRST, 9.8, "N")), withoutWhy))
                        .exposure())
                .as("who does not say why is not believed")
                .isEqualTo(weigh(input(update(vulnerability(FIRST, 9.8, "N")), Evidence.NONE))
                        .exposure());
        Weighing alone = weigh(input(update(vulnerability(FIRST, 9.8, "N")), evidence));
        assertThat(alone.exposure()).isCloseTo(4 * (2 * 1 + 4 * .35) * .098, within(1e-9));
        WeighingInput both = input(update(vulnerability(FIRST, 9.8, "N"), vulnerability(SECOND, 5.0, "N")), evidence);
        assertThat(weigh(both).exposure())
                .as("the other vulnerability counts there")
                .isCloseTo(4 * 3.4 * .098 + 4 * 3.4 * .10 * .5, within(1e-9));
        assertThat(both.notAffected().isEmpty()).isTrue();
        Evidence revokedAt = evidence.withStatements(List.of(new VexStatement(
                FIRST, statement.product(), Optional.of("1.5"), VexStatement.Status.AFFECTED, "", "Fathom", NOW)));
        assertThat(weigh(input(update(vulnerability(FIRST, 9.8, "N")), revokedAt))
                        .exposure())
                .isCloseTo(4 * 6.8 * .098, within(1e-9));
    }

    @Test
    void aVersionThatIsNoneIsSaidOfNobody() {
        VexStatement statement = new VexStatement(
                FIRST,
                PackageReference.parse("pkg:deb/fathom/lib").build(),
                Optional.of("no version"),
                VexStatement.Status.NOT_AFFECTED,
                "the code is not there",
                "Fathom",
                NOW);
        assertThat(weigh(input(
                                update(vulnerability(FIRST, 9.8, "N")),
                                Evidence.NONE.withStatements(List.of(statement))))
                        .exposure())
                .isCloseTo(4 * 6.8 * .098, within(1e-9));
    }

    @Test
    void aTryIsOfTheCauseThatItsHostMetWhenItTried() {
        Update update = TestFleet.update("FTM-1", "pkg:deb/fathom/lib@2");
        Cause cause = new Cause(
                Cause.Shared.of(HostConditions.parse("\"pkg:deb/fathom/lib\" = \"0.9\"")),
                Optional.of("E"),
                new Proportion(3, 3),
                new Proportion(0, 9),
                1e-6,
                1e-4,
                List.of());
        PackageReference before = PackageReference.parse("pkg:deb/fathom/lib@0.9");
        TriedHosts.Try clean =
                new TriedHosts.Try(3, NOW, Optional.of(new InstalledProduct(before.build(), "0.9")), Optional.empty());
        TriedHosts tried = new TriedHosts(List.of(clean), List.of(), List.of(), Optional.empty(), List.of());
        assertThat(input(update, Evidence.NONE, tried, List.of(cause)).update().cells())
                .extracting(CellTries::tried)
                .containsExactly(1, 0);
    }

    @Test
    void withoutSecurityContentNothingIsExposed() {
        assertThat(weigh(input(TestFleet.update("FTM-1", "pkg:deb/fathom/lib@2"), Evidence.NONE))
                        .exposure())
                .isZero();
    }

    @Test
    void anIssueThatNamesHostsCountsThereAndAFixedOneNowhere() {
        KnownIssue open = new KnownIssue(
                "KI-1",
                updateIds("FTM-1"),
                List.of(),
                "",
                KnownIssue.State.OPEN,
                Optional.of(FailureClass.DOWN),
                Optional.of(HostConditions.parse("facing = public")),
                "desk",
                NOW,
                NOW);
        Update update = TestFleet.update("FTM-1", "pkg:deb/fathom/lib@2");
        assertThat(weigh(input(update, Evidence.NONE.withIssues(List.of(open))))
                        .hazard()
                        .middle())
                .isCloseTo(4 * (4 * .5 + 8 * .027075 * .4), within(1e-9));
        KnownIssue fixed = new KnownIssue(
                "KI-1",
                updateIds("FTM-1"),
                List.of(),
                "",
                KnownIssue.State.FIXED,
                open.failureClass(),
                open.hosts(),
                "desk",
                NOW,
                NOW);
        assertThat(weigh(input(update, Evidence.NONE.withIssues(List.of(open)).withIssues(List.of(fixed))))
                        .hazard()
                        .middle())
                .isCloseTo(4 * 12 * .027075 * .4, within(1e-9));
        KnownIssue fixedByIt = new KnownIssue(
                "KI-1",
                updateIds("FTM-1"),
                updateIds("FTM-1"),
                "",
                KnownIssue.State.OPEN,
                open.failureClass(),
                open.hosts(),
                "desk",
                NOW,
                NOW);
        assertThat(weigh(input(update, Evidence.NONE.withIssues(List.of(fixedByIt))))
                        .hazard()
                        .middle())
                .isCloseTo(4 * 12 * .027075 * .4, within(1e-9));
    }

    private static FailureReport elsewhere(String id, int others, String where) {
        return new FailureReport(
                id,
                updateId("FTM-1"),
                Optional.of("E"),
                FailureClass.REFUSED,
                "",
                List.of(),
                others,
                Optional.ofNullable(where).map(HostConditions::parse),
                "site " + id,
                NOW);
    }

    @Test
    void reportsFromElsewhereAddAtMostTwoFailuresInAll() {
        Update update = TestFleet.update("FTM-1", "pkg:deb/fathom/lib@2");
        Cause cause = new Cause(
                Cause.Shared.of(HostConditions.parse("facing = public")),
                Optional.of("E"),
                new Proportion(3, 3),
                new Proportion(0, 9),
                1e-6,
                1e-4,
                List.of());
        TriedHosts none = TriedHosts.of(
                update, TestFleet.carriages(FLEET, List.of(update)).outcomes(), Evidence.NONE, FLEET, NOW);
        Evidence one = Evidence.NONE.withReports(List.of(elsewhere("1", 3, null)));
        assertThat(input(update, one, none, List.of(cause)).update().cells())
                .extracting(CellTries::failedElsewhere)
                .containsExactly(1.5, 0.0);
        Evidence two = one.withReports(List.of(elsewhere("2", 30, "facing = internal")));
        assertThat(input(update, two, none, List.of(cause)).update().cells())
                .extracting(CellTries::failedElsewhere)
                .as("both have the code of the cause")
                .satisfiesExactly(inCause -> assertThat(inCause).isCloseTo(2, within(1e-9)), rest -> assertThat(rest)
                        .isZero());
        assertThat(input(update, one, none, List.of()).update().cells())
                .extracting(CellTries::failedElsewhere)
                .containsExactly(1.5);
    }

    /** Where no cause has its code, a report is of the hosts that meet its condition; it is never counted twice. */
    @Test
    void aReportFromElsewhereIsDividedAmongTheCellsItMatches() {
        Update update = TestFleet.update("FTM-1", "pkg:deb/fathom/lib@2");
        Cause cause = new Cause(
                Cause.Shared.of(HostConditions.parse("free < 2")),
                Optional.of("another"),
                new Proportion(3, 3),
                new Proportion(0, 9),
                1e-6,
                1e-4,
                List.of());
        TriedHosts none = TriedHosts.of(
                update, TestFleet.carriages(FLEET, List.of(update)).outcomes(), Evidence.NONE, FLEET, NOW);
        Evidence told = Evidence.NONE.withReports(List.of(elsewhere("1", 400, "facing = public")));
        assertThat(input(update, told, none, List.of(cause)).update().cells())
                .extracting(CellTries::failedElsewhere)
                .as("two of the four public hosts are in the cause")
                .containsExactly(1.0, 1.0);
    }

    @Test
    void theLikelihoodIsByTheHigherOfBothRatings() {
        Vulnerability low = vulnerability(FIRST, 3.1, "N");
        assertThat(input(update(low), Evidence.NONE).update().vulnerabilities())
                .extracting(VulnerabilityRisk::rating)
                .containsExactly(lucid.core.update.Rating.LOW);
        assertThat(input(update(low, vulnerability(SECOND, 9.8, "N")), Evidence.NONE)
                        .update()
                        .vulnerabilities())
                .extracting(VulnerabilityRisk::rating)
                .as("the update is Critical")
                .containsOnly(lucid.core.update.Rating.CRITICAL);
    }

    @Test
    void whatCannotBeInstalledIsNoHazardAndNotSuggested() {
        Update update = Update.join(
                List.of(),
                Optional.of(TestFleet.notice(
                        "FTM-1",
                        "1",
                        lucid.core.update.RestartNeed.NONE,
                        List.of(),
                        List.of(),
                        List.of(new Fix(
                                PackageReference.parse("pkg:deb/fathom/lib").build(),
                                List.of(new AffectedRange(Optional.empty(), false, Optional.empty(), false)))))),
                Optional.empty(),
                NOW);
        Weighing weighing = weigh(input(update, Evidence.NONE));
        assertThat(weighing.suggestion().type()).isEqualTo(Suggestion.Type.NOTHING_TO_INSTALL);
        assertThat(weighing.hazard().middle()).isZero();
    }

    /** Hosts with one package system, hosts with the other, and hosts with two packages of one. */
    @Test
    void productsThatNoHostHasTogetherAreCellsOfTheirOwn() {
        List<Host> hosts = new ArrayList<>();
        for (int i = 0; i < 9; i++) {
            hosts.add(TestFleet.host(
                    i,
                    Map.of(),
                    i < 3
                            ? new String[] {"pkg:rpm/tarn/lib@1"}
                            : i < 6
                                    ? new String[] {"pkg:deb/fathom/lib@1", "pkg:deb/fathom/lib-tools@1"}
                                    : new String[] {"pkg:deb/fathom/lib-tools@1"}));
        }
        Fleet fleet = FLEET.with(hosts).retiring(RoaringBitmap.bitmapOf(9, 10, 11));
        Update update =
                TestFleet.update("FTM-1", "pkg:rpm/tarn/lib@2", "pkg:deb/fathom/lib@2", "pkg:deb/fathom/lib-tools@2");
        Carriages carriages = new Carriages(
                lucid.core.update.Catalogue.EMPTY.with(List.of(update)),
                fleet,
                TestFleet.index(hosts, false),
                TestFleet.index(hosts, true),
                lucid.core.fleet.Outcomes.NONE);
        TriedHosts tried = new TriedHosts(
                List.of(new TriedHosts.Try(7, NOW, Optional.empty(), Optional.empty())),
                List.of(),
                List.of(),
                Optional.empty(),
                List.of());
        WeighingInput input = new WeighingInput(
                update,
                List.of(),
                carriages.of(update, NOW),
                carriages,
                Evidence.NONE,
                tried,
                List.of(),
                List.of(),
                BaselineRates.Baseline.NONE,
                NOW);
        assertThat(input.update().cells())
                .extracting(cell -> cell.products().size(), CellTries::tried)
                .containsExactly(org.assertj.core.groups.Tuple.tuple(1, 0), org.assertj.core.groups.Tuple.tuple(2, 1));
        assertThat(input.population(2, fleet.all()).cells())
                .extracting(PopulationFacts.CellHosts::lacking)
                .containsExactly(3, 6);
    }
}
