package lucid.core.weighing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.causes.Cause;
import lucid.core.causes.Proportion;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.HostConditions;
import lucid.core.update.AttackVector;
import lucid.core.update.Kind;
import lucid.core.update.Product;
import lucid.core.update.Rating;
import lucid.core.weighing.BaselineRates.Baseline;
import lucid.core.weighing.PopulationFacts.CellHosts;
import lucid.core.weighing.PopulationFacts.Endangered;
import lucid.core.weighing.PopulationFacts.Exposed;
import org.junit.jupiter.api.Test;

/** The numbers of the model's own cases. */
class WeighingTest {

    private static final Baseline NO_HISTORY = Baseline.NONE;
    private static final Cause CAUSE = new Cause(
            Cause.Shared.of(HostConditions.parse("reader = R2")),
            Optional.of("E-1"),
            new Proportion(9, 12),
            new Proportion(2, 188),
            1e-11,
            1e-8,
            List.of());

    /** One update and one population of it, put together step by step. */
    private static final class Case {
        private Kind kind = Kind.SECURITY;
        private final List<VulnerabilityRisk> vulnerabilities = new ArrayList<>();
        private final List<CellTries> cells = new ArrayList<>();
        private final List<CellHosts> hosts = new ArrayList<>();
        private int tier = 2;
        private boolean removable = true;
        private boolean withdrawn;

        static Case of(Kind kind, int tier) {
            Case one = new Case();
            one.kind = kind;
            one.tier = tier;
            return one;
        }

        Case vulnerability(boolean exploited, Double probability, Rating rating, Double base) {
            vulnerabilities.add(new VulnerabilityRisk(
                    "CVE-2026-9000001",
                    Optional.empty(),
                    exploited,
                    Optional.ofNullable(probability),
                    rating,
                    AttackVector.NETWORK,
                    Optional.ofNullable(base)));
            return this;
        }

        Case cell(
                Optional<Cause> cause,
                int lacking,
                Weights.Facing facing,
                int tried,
                Map<FailureClass, Integer> failures,
                Optional<FailureClass> vague) {
            cells.add(new CellTries(List.of(), cause, tried, failures, Map.of(), 0));
            Set<Integer> all = vulnerabilities.isEmpty() ? Set.of() : Set.of(0);
            hosts.add(new CellHosts(
                    lacking,
                    0,
                    vulnerabilities.isEmpty() ? List.of() : List.of(new Exposed(lacking, 0, facing, all)),
                    List.of(new Endangered(lacking, Optional.empty(), vague)),
                    0,
                    0,
                    0));
            return this;
        }

        Case cell(int lacking, Weights.Facing facing, int tried, Map<FailureClass, Integer> failures) {
            return cell(Optional.empty(), lacking, facing, tried, failures, Optional.empty());
        }

        UpdateFacts update() {
            return new UpdateFacts(kind, vulnerabilities, removable, withdrawn, cells, NO_HISTORY);
        }

        PopulationFacts population() {
            return new PopulationFacts(tier, hosts);
        }

        Weighing weigh() {
            return new Weigher(Weights.USUAL, update()).weigh(population(), false);
        }

        List<FlipPoint> flips() {
            return FlipPoints.of(Weights.USUAL, update(), population(), false);
        }
    }

    private static void assertRange(Range range, double middle, double low, double high, double tolerance) {
        assertThat(range.middle()).isCloseTo(middle, within(tolerance));
        assertThat(range.low()).isCloseTo(low, within(tolerance));
        assertThat(range.high()).isCloseTo(high, within(tolerance));
    }

    private static void assertRate(int tried, int failed, double middle, double low, double high) {
        assertRange(new FailureRate(.003, tried, failed).range(), middle, low, high, .0006);
    }

    @Test
    void theFailureRateOfTheModelsCases() {
        assertRange(new FailureRate(.003, 0, 0).range(), .02707, .00001, .0795, .00006);
        assertRange(new FailureRate(.003, 58, 0).range(), .0024, .00001, .0092, .00006);
        assertThat(new FailureRate(.003, 200, 0).mean()).isCloseTo(.0014, within(.00006));
        assertRate(40, 3, .0620, .0105, .1321);
        assertRate(8, 3, .343, .083, .662);
        assertRate(12, 9, .733, .533, .896);
        assertRange(new FailureRate(.003, 188, 2).range(), .0075, .0017, .0172, .00006);
    }

    /** Whatever was tried, the interval holds its middle: with a long clean history too. */
    @Test
    void noIntervalExcludesItsMiddle() {
        for (double usual : new double[] {.001, .003, .02}) {
            for (int tried : new int[] {0, 1, 5, 60, 400, 5000}) {
                for (int failed : new int[] {0, 1, 2, 9, tried}) {
                    if (failed <= tried) {
                        Range range = new FailureRate(usual, tried, failed).range();
                        assertThat(range.middle())
                                .as("%d of %d failed, usual %f", failed, tried, usual)
                                .isBetween(range.low(), range.high());
                    }
                }
            }
        }
    }

    @Test
    void aHundredHostsOfWhichFortyTried() {
        Weighing weighing = Case.of(Kind.SECURITY, 2)
                .vulnerability(false, .42, Rating.HIGH, 8.1)
                .cell(100, Weights.Facing.INTERNAL, 40, Map.of(FailureClass.DEGRADED, 3))
                .weigh();
        assertThat(weighing.exposure()).isCloseTo(47.63, within(.005));
        assertThat(weighing.usual()).isCloseTo(4.33, within(.005));
        assertRange(weighing.hazard(), 9.92, 1.68, 21.13, .006);
        assertRange(weighing.tilt(), 1.66, .90, 3.42, .006);
    }

    @Test
    void anUpdateOfWhichNothingIsKnownHangsLevel() {
        Weighing weighing = Case.of(Kind.BUGFIX, 3)
                .cell(157, Weights.Facing.INTERNAL, 0, Map.of())
                .weigh();
        assertThat(weighing.exposure()).isZero();
        assertThat(weighing.usual()).isCloseTo(3.40, within(.005));
        assertThat(weighing.hazard().middle()).isCloseTo(3.40, within(.005));
        assertRange(weighing.tilt(), 0, -1.08, 5, .006);
        assertThat(weighing.stake()).isZero();
    }

    @Test
    void aFirstFailureNeverLowersTheHazard() {
        double[] expected = {7.36, 78.05, 84.62};
        for (int failed = 0; failed <= 2; failed++) {
            Weighing weighing = Case.of(Kind.BUGFIX, 2)
                    .cell(
                            170,
                            Weights.Facing.INTERNAL,
                            failed,
                            failed == 0 ? Map.of() : Map.of(FailureClass.REFUSED, failed))
                    .weigh();
            assertThat(weighing.hazard().middle()).isCloseTo(expected[failed], within(.01));
        }
        for (int clean : new int[] {0, 1, 10, 58, 300, 3000}) {
            double before = Case.of(Kind.BUGFIX, 2)
                    .cell(170, Weights.Facing.INTERNAL, clean, Map.of())
                    .weigh()
                    .hazard()
                    .middle();
            for (FailureClass failureClass : FailureClass.values()) {
                assertThat(Case.of(Kind.BUGFIX, 2)
                                .cell(170, Weights.Facing.INTERNAL, clean + 1, Map.of(failureClass, 1))
                                .weigh()
                                .hazard()
                                .middle())
                        .as("%s after %d clean", failureClass, clean)
                        .isGreaterThanOrEqualTo(before);
            }
        }
    }

    private static Case kiosks() {
        return Case.of(Kind.CUMULATIVE, 2)
                .vulnerability(false, .031, Rating.HIGH, 7.4)
                .cell(
                        Optional.of(CAUSE),
                        23,
                        Weights.Facing.INTERNAL,
                        12,
                        Map.of(FailureClass.REFUSED, 9),
                        Optional.empty())
                .cell(127, Weights.Facing.INTERNAL, 188, Map.of(FailureClass.REFUSED, 2));
    }

    @Test
    void aCauseSplitsThePopulation() {
        Weighing weighing = kiosks().weigh();
        Weighing.OfCell inCause = weighing.cells().get(0);
        Weighing.OfCell rest = weighing.cells().get(1);
        assertThat(inCause.exposure()).isCloseTo(.74, within(.005));
        assertRange(inCause.hazard(), 7.81, 5.68, 9.54, .006);
        assertThat(inCause.tilt().middle()).isCloseTo(-1.50, within(.006));
        assertThat(rest.exposure()).isCloseTo(4.08, within(.005));
        assertRange(rest.hazard(), .61, .14, 1.40, .006);
        assertThat(rest.tilt().middle()).isCloseTo(2.73, within(.006));
        assertThat(weighing.suggestion())
                .isEqualTo(new Suggestion(Suggestion.Type.BLOCK, List.of(0), Optional.of(Suggestion.Type.LET_GO)));
    }

    private static Suggestion.Type suggested(Case one) {
        return one.weigh().suggestion().type();
    }

    private static Case bugfix(int tried, Map<FailureClass, Integer> failures) {
        return Case.of(Kind.BUGFIX, 3).cell(157, Weights.Facing.INTERNAL, tried, failures);
    }

    @Test
    void aFixOfWhichNothingUnusualIsKnownIsLeftToTheRule() {
        assertThat(suggested(bugfix(0, Map.of()))).isEqualTo(Suggestion.Type.LEAVE_TO_RULE);
        assertThat(suggested(bugfix(400, Map.of(FailureClass.REFUSED, 2)))).isEqualTo(Suggestion.Type.LEAVE_TO_RULE);
        assertThat(suggested(bugfix(30, Map.of(FailureClass.DEGRADED, 5)))).isEqualTo(Suggestion.Type.BLOCK);
        assertThat(suggested(bugfix(30, Map.of(FailureClass.REFUSED, 5)))).isEqualTo(Suggestion.Type.BLOCK);
    }

    @Test
    void aDriverThatTakesHostsDownIsBlocked() {
        Weighing weighing = Case.of(Kind.DRIVER, 1)
                .cell(58, Weights.Facing.INTERNAL, 8, Map.of(FailureClass.DOWN, 3))
                .weigh();
        assertThat(weighing.hazard().middle()).isCloseTo(145.4, within(.05));
        assertThat(weighing.usual()).isCloseTo(5.0, within(.05));
        assertThat(weighing.suggestion().type()).isEqualTo(Suggestion.Type.BLOCK);
    }

    @Test
    void whatIsExploitedIsForced() {
        Weighing weighing = Case.of(Kind.SECURITY, 2)
                .vulnerability(true, null, Rating.CRITICAL, 9.8)
                .cell(170, Weights.Facing.PUBLIC, 0, Map.of())
                .weigh();
        assertThat(weighing.exposure()).isCloseTo(633.1, within(.05));
        assertRange(weighing.hazard(), 7.4, .004, 21.6, .06);
        assertThat(weighing.suggestion().type()).isEqualTo(Suggestion.Type.FORCE);
    }

    @Test
    void anExploitedWeaknessThatHardlyMattersForcesNothing() {
        Case one = Case.of(Kind.SECURITY, 2).vulnerability(false, null, Rating.CRITICAL, 9.8);
        one.vulnerabilities.add(new VulnerabilityRisk(
                "CVE-2026-9000002",
                Optional.empty(),
                true,
                Optional.empty(),
                Rating.LOW,
                AttackVector.PHYSICAL,
                Optional.of(.4)));
        one.cell(63, Weights.Facing.PUBLIC, 0, Map.of());
        one.hosts.set(
                0,
                new CellHosts(
                        63,
                        0,
                        List.of(new Exposed(63, 0, Weights.Facing.PUBLIC, Set.of(0, 1))),
                        one.hosts.get(0).endangered(),
                        0,
                        0,
                        0));
        assertThat(suggested(one)).isEqualTo(Suggestion.Type.PILOT);
    }

    @Test
    void theOtherSuggestions() {
        assertThat(suggested(Case.of(Kind.SECURITY, 2)
                        .vulnerability(false, null, Rating.CRITICAL, null)
                        .cell(63, Weights.Facing.PUBLIC, 0, Map.of())))
                .isEqualTo(Suggestion.Type.PILOT);
        assertThat(suggested(Case.of(Kind.SECURITY, 3)
                        .vulnerability(false, .3, Rating.CRITICAL, 9.8)
                        .cell(
                                Optional.empty(),
                                100,
                                Weights.Facing.INTERNAL,
                                300,
                                Map.of(),
                                Optional.of(FailureClass.DEGRADED))))
                .isEqualTo(Suggestion.Type.FORCE);
        assertThat(suggested(Case.of(Kind.SECURITY, 3)
                        .vulnerability(false, null, Rating.MEDIUM, 5.5)
                        .cell(157, Weights.Facing.INTERNAL, 200, Map.of())))
                .isEqualTo(Suggestion.Type.LET_GO);
    }

    @Test
    void whereNothingCanBeDoneNothingIsSuggested() {
        Case nobody = Case.of(Kind.SECURITY, 3)
                .vulnerability(false, null, Rating.MEDIUM, 5.5)
                .cell(0, Weights.Facing.INTERNAL, 200, Map.of());
        assertThat(suggested(nobody)).isEqualTo(Suggestion.Type.NONE);
        Case withdrawn = Case.of(Kind.SECURITY, 2)
                .vulnerability(true, null, Rating.CRITICAL, 9.8)
                .cell(170, Weights.Facing.PUBLIC, 0, Map.of());
        withdrawn.withdrawn = true;
        assertThat(suggested(withdrawn)).isEqualTo(Suggestion.Type.WITHDRAWN);
        assertThat(withdrawn.flips()).isEmpty();
        Case nothing = Case.of(Kind.SECURITY, 2).vulnerability(true, null, Rating.CRITICAL, 9.8);
        nothing.cell(170, Weights.Facing.PUBLIC, 0, Map.of());
        CellHosts hosts = nothing.hosts.get(0);
        nothing.hosts.set(0, new CellHosts(170, 170, hosts.exposed(), List.of(), 0, 0, 0));
        assertThat(suggested(nothing)).isEqualTo(Suggestion.Type.NOTHING_TO_INSTALL);
        assertThat(nothing.weigh().hazard().middle()).isZero();
    }

    /** Tablets and desktops, of which 0 of 150 failed, are not judged by a cause that none of them meets. */
    @Test
    void aPopulationIsJudgedByTheCellsInWhichItHasHosts() {
        Case one = Case.of(Kind.CUMULATIVE, 3)
                .vulnerability(false, null, Rating.MEDIUM, 5.5)
                .cell(
                        Optional.of(CAUSE),
                        0,
                        Weights.Facing.INTERNAL,
                        12,
                        Map.of(FailureClass.DOWN, 9),
                        Optional.empty())
                .cell(150, Weights.Facing.INTERNAL, 150, Map.of());
        assertThat(one.weigh().harm()).isEmpty();
        assertThat(suggested(one)).isEqualTo(Suggestion.Type.LET_GO);
    }

    /** Fifty clean hosts of one package system do not force ten of another that nobody tried. */
    @Test
    void triesOnOneProductSayNothingOfAnother() {
        List<Product> deb = List.of(new Product("pkg:deb/fathom/lib"));
        List<Product> rpm = List.of(new Product("pkg:rpm/tarn/lib"));
        Case one = Case.of(Kind.SECURITY, 3)
                .vulnerability(false, .3, Rating.CRITICAL, 9.8)
                .cell(0, Weights.Facing.PUBLIC, 50, Map.of())
                .cell(10, Weights.Facing.PUBLIC, 0, Map.of());
        one.cells.set(0, new CellTries(deb, Optional.empty(), 50, Map.of(), Map.of(), 0));
        one.cells.set(1, new CellTries(rpm, Optional.empty(), 0, Map.of(), Map.of(), 0));
        assertThat(suggested(one)).isEqualTo(Suggestion.Type.PILOT);
        CellHosts debHosts = new CellHosts(
                10, 0, one.hosts.get(1).exposed(), one.hosts.get(1).endangered(), 0, 0, 0);
        one.hosts.set(0, debHosts);
        assertThat(suggested(one)).as("with hosts of both").isEqualTo(Suggestion.Type.PILOT);
        one.hosts.set(1, CellHosts.NONE);
        assertThat(suggested(one)).as("with hosts of the tried one").isEqualTo(Suggestion.Type.FORCE);
    }

    @Test
    void manyHostsDownElsewhereAreEvidenceUntilEnoughTriedItHere() {
        Case one = bugfix(0, Map.of());
        one.cells.set(0, new CellTries(List.of(), Optional.empty(), 0, Map.of(), Map.of(FailureClass.DOWN, 2.0), 60));
        assertThat(one.weigh().harm())
                .containsExactlyInAnyOrder(HarmSeen.FAILURES_ABOVE_USUAL, HarmSeen.HOSTS_DOWN_ELSEWHERE);
        assertThat(suggested(one)).isEqualTo(Suggestion.Type.BLOCK);
        one.cells.set(0, new CellTries(List.of(), Optional.empty(), 58, Map.of(), Map.of(FailureClass.DOWN, 2.0), 60));
        assertThat(one.weigh().harm()).doesNotContain(HarmSeen.HOSTS_DOWN_ELSEWHERE);
    }

    @Test
    void anUnansweredCarryOverComesFirst() {
        Case one = kiosks();
        assertThat(new Weigher(Weights.USUAL, one.update())
                        .weigh(one.population(), true)
                        .suggestion()
                        .type())
                .isEqualTo(Suggestion.Type.CARRY_OVER);
        assertThat(FlipPoints.of(Weights.USUAL, one.update(), one.population(), true))
                .isEmpty();
    }

    @Test
    void whatCannotBeRemovedDoesMoreHarmButNeverMoreThanALostHost() {
        Case one = Case.of(Kind.BUGFIX, 4)
                .cell(10, Weights.Facing.INTERNAL, 20, Map.of(FailureClass.REFUSED, 1, FailureClass.DOWN, 1));
        assertThat(one.weigh().cells().get(0).harm()).isCloseTo(1.3 / 2.5, within(1e-9));
        one.removable = false;
        assertThat(one.weigh().cells().get(0).harm()).isCloseTo(1.5 * 1.3 / 2.5, within(1e-9));
        Case down = Case.of(Kind.BUGFIX, 4).cell(10, Weights.Facing.INTERNAL, 20, Map.of(FailureClass.DOWN, 9));
        down.removable = false;
        assertThat(down.weigh().cells().get(0).harm()).isEqualTo(1);
    }

    @Test
    void aKnownIssueThatNamesHostsWeighsHalfItsHarmThere() {
        Case one = Case.of(Kind.BUGFIX, 4).cell(10, Weights.Facing.INTERNAL, 0, Map.of());
        one.hosts.set(
                0,
                new CellHosts(
                        10,
                        0,
                        List.of(),
                        List.of(
                                new Endangered(4, Optional.of(FailureClass.DOWN), Optional.empty()),
                                new Endangered(6, Optional.empty(), Optional.empty())),
                        0,
                        0,
                        0));
        Weighing weighing = one.weigh();
        assertThat(weighing.hazard().middle()).isCloseTo(4 * .5 + 6 * .027075 * .4, within(1e-9));
        assertThat(weighing.harm()).containsExactly(HarmSeen.KNOWN_ISSUE);
    }

    @Test
    void aVagueIssueCountsNoMoreThanTheTriesOnceTwentyAreMade() {
        Case nineteen = Case.of(Kind.BUGFIX, 4)
                .cell(Optional.empty(), 10, Weights.Facing.INTERNAL, 19, Map.of(), Optional.of(FailureClass.DOWN));
        assertThat(nineteen.weigh().hazard().middle()).isCloseTo(10 * .05, within(1e-9));
        Case twenty = Case.of(Kind.BUGFIX, 4)
                .cell(Optional.empty(), 10, Weights.Facing.INTERNAL, 20, Map.of(), Optional.of(FailureClass.DOWN));
        assertThat(twenty.weigh().hazard().middle()).isCloseTo(10 * new FailureRate(.003, 20, 0).mean(), within(1e-9));
        assertThat(twenty.weigh().harm()).containsExactly(HarmSeen.KNOWN_ISSUE);
        Case many = Case.of(Kind.BUGFIX, 4)
                .cell(Optional.empty(), 10, Weights.Facing.INTERNAL, 58, Map.of(), Optional.of(FailureClass.DOWN));
        assertThat(many.weigh().harm()).isEmpty();
    }

    @Test
    void oneHostDownAmongVeryManyIsNoHarmInEvidence() {
        assertThat(Case.of(Kind.BUGFIX, 4)
                        .cell(10, Weights.Facing.INTERNAL, 60, Map.of(FailureClass.DOWN, 1))
                        .weigh()
                        .harm())
                .containsExactly(HarmSeen.HOSTS_DOWN);
        assertThat(Case.of(Kind.BUGFIX, 4)
                        .cell(10, Weights.Facing.INTERNAL, 400, Map.of(FailureClass.DOWN, 1))
                        .weigh()
                        .harm())
                .isEmpty();
        assertThat(Case.of(Kind.BUGFIX, 4)
                        .cell(10, Weights.Facing.INTERNAL, 0, Map.of())
                        .weigh()
                        .harm())
                .isEmpty();
    }

    @Test
    void aFlipPointIsTheFirstValueThatChangesTheSuggestion() {
        Case one = Case.of(Kind.SECURITY, 2)
                .vulnerability(false, null, Rating.CRITICAL, 9.8)
                .cell(63, Weights.Facing.PUBLIC, 0, Map.of());
        assertThat(one.weigh().suggestion().type()).isEqualTo(Suggestion.Type.PILOT);
        List<FlipPoint> flips = one.flips();
        assertThat(flips).anySatisfy(flip -> {
            assertThat(flip.input()).isEqualTo(FlipPoint.Input.KNOWN_EXPLOITED);
            assertThat(flip.suggestion().type()).isEqualTo(Suggestion.Type.FORCE);
        });
        FlipPoint clean = flips.stream()
                .filter(f -> f.input() == FlipPoint.Input.CLEAN_TRIES)
                .findFirst()
                .orElseThrow();
        for (int more = 1; more <= clean.value(); more++) {
            Case other = Case.of(Kind.SECURITY, 2)
                    .vulnerability(false, null, Rating.CRITICAL, 9.8)
                    .cell(63, Weights.Facing.PUBLIC, more, Map.of());
            assertThat(other.weigh().suggestion().type() == Suggestion.Type.PILOT)
                    .as("%d clean tries", more)
                    .isEqualTo(more < clean.value());
        }
    }

    @Test
    void theProbabilityThatFlipsIsFoundToAThousandth() {
        Case one = Case.of(Kind.SECURITY, 3)
                .vulnerability(false, .02, Rating.CRITICAL, 9.8)
                .cell(100, Weights.Facing.PUBLIC, 300, Map.of());
        Suggestion.Type now = one.weigh().suggestion().type();
        FlipPoint flip = one.flips().stream()
                .filter(f -> f.input() == FlipPoint.Input.PROBABILITY)
                .findFirst()
                .orElseThrow();
        assertThat(flip.value()).isCloseTo(.1, within(.0011));
        assertThat(flip.suggestion().type()).isEqualTo(Suggestion.Type.FORCE).isNotEqualTo(now);
    }

    @Test
    void aWeightOutOfItsRangeIsRefusedByName() {
        assertThat(org.assertj.core.api.Assertions.catchThrowable(() -> new Weights(
                        List.of(8.0, 4.0, 2.0, -1.0),
                        Weights.USUAL.openness(),
                        Weights.USUAL.likelihoods(),
                        .95,
                        Weights.USUAL.vectors(),
                        Weights.USUAL.bases(),
                        1,
                        Weights.USUAL.harms(),
                        .5,
                        .05,
                        1.5)))
                .hasMessageContaining("tiers")
                .hasMessageContaining("-1.0");
    }
}
