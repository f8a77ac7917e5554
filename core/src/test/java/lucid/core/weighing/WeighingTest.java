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
import lucid.core.evidence.BaselineRates.Baseline;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.HostConditions;
import lucid.core.update.AttackVector;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.weighing.PopulationFacts.CellHosts;
import lucid.core.weighing.PopulationFacts.Endangered;
import lucid.core.weighing.PopulationFacts.Exposed;
import org.junit.jupiter.api.Test;

/** The numbers of the model's own cases. */
class WeighingTest {

    private static final Baseline NO_HISTORY = new Baseline(0, 0);
    private static final Cause CAUSE = new Cause(
            HostConditions.parse("reader = R2"),
            Optional.of("E-1"),
            new Proportion(9, 12),
            new Proportion(2, 188),
            1e-11,
            1e-8);

    /** One update and one population of it, put together step by step. */
    private static final class Case {
        private Kind kind = Kind.SECURITY;
        private final List<VulnerabilityRisk> vulnerabilities = new ArrayList<>();
        private final List<CellTries> cells = new ArrayList<>();
        private final List<CellHosts> hosts = new ArrayList<>();
        private int tier = 2;
        private boolean removable = true;

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
            cells.add(new CellTries(cause, tried, failures, 0));
            Set<Integer> all = vulnerabilities.isEmpty() ? Set.of() : Set.of(0);
            hosts.add(new CellHosts(
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
            return new UpdateFacts(kind, vulnerabilities, removable, cells, NO_HISTORY);
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

    @Test
    void aHundredHostsOfWhichFortyTried() {
        Weighing weighing = Case.of(Kind.SECURITY, 2)
                .vulnerability(false, .42, Rating.HIGH, 8.1)
                .cell(100, Weights.Facing.INTERNAL, 40, Map.of(FailureClass.DEGRADED, 3))
                .weigh();
        assertThat(weighing.exposure()).isCloseTo(47.63, within(.005));
        assertRange(weighing.cells().get(0).rate(), .0533, .0158, .1077, .00006);
        assertThat(weighing.hazard().middle()).isCloseTo(8.53, within(.005));
        assertRange(weighing.tilt(), 1.72, 1.02, 2.93, .006);
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
        assertRange(weighing.cells().get(0).rate(), .731, .516, .904, .0006);
        assertRange(weighing.cells().get(1).rate(), .0106, .0021, .0242, .00006);
        assertRange(weighing.cells().get(0).tilt(), -2.20, -2.41, -1.85, .006);
        assertThat(weighing.cells().get(1).tilt().middle()).isCloseTo(2.01, within(.006));
        assertThat(weighing.suggestion().type()).isEqualTo(Suggestion.Type.BLOCK);
        assertThat(weighing.suggestion().causes()).containsExactly(0);
        assertThat(weighing.suggestion().rest()).isPresent().get().isIn(Suggestion.Type.PILOT, Suggestion.Type.LET_GO);
    }

    @Test
    void suggestions() {
        Map<FailureClass, Integer> none = Map.of();
        assertThat(Case.of(Kind.BUGFIX, 3)
                        .cell(157, Weights.Facing.INTERNAL, 0, none)
                        .weigh()
                        .suggestion()
                        .type())
                .isEqualTo(Suggestion.Type.LEAVE_TO_RULE);
        assertThat(Case.of(Kind.DRIVER, 1)
                        .cell(58, Weights.Facing.INTERNAL, 8, Map.of(FailureClass.DOWN, 3))
                        .weigh()
                        .suggestion()
                        .type())
                .isEqualTo(Suggestion.Type.BLOCK);
        assertThat(Case.of(Kind.SECURITY, 2)
                        .vulnerability(true, null, Rating.CRITICAL, 9.8)
                        .cell(170, Weights.Facing.PUBLIC, 0, none)
                        .weigh()
                        .suggestion()
                        .type())
                .isEqualTo(Suggestion.Type.FORCE);
        assertThat(Case.of(Kind.SECURITY, 2)
                        .vulnerability(false, null, Rating.CRITICAL, null)
                        .cell(63, Weights.Facing.PUBLIC, 0, none)
                        .weigh()
                        .suggestion()
                        .type())
                .isEqualTo(Suggestion.Type.PILOT);
        assertThat(Case.of(Kind.SECURITY, 3)
                        .vulnerability(false, .3, Rating.CRITICAL, 9.8)
                        .cell(
                                Optional.empty(),
                                100,
                                Weights.Facing.INTERNAL,
                                300,
                                none,
                                Optional.of(FailureClass.DEGRADED))
                        .weigh()
                        .suggestion()
                        .type())
                .isEqualTo(Suggestion.Type.FORCE);
        assertThat(Case.of(Kind.SECURITY, 3)
                        .vulnerability(false, null, Rating.MEDIUM, 5.5)
                        .cell(157, Weights.Facing.INTERNAL, 200, none)
                        .weigh()
                        .suggestion()
                        .type())
                .isEqualTo(Suggestion.Type.LET_GO);
        assertThat(Case.of(Kind.SECURITY, 3)
                        .vulnerability(false, null, Rating.MEDIUM, 5.5)
                        .cell(0, Weights.Facing.INTERNAL, 200, none)
                        .weigh()
                        .suggestion()
                        .type())
                .isEqualTo(Suggestion.Type.NONE);
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
        assertThat(one.weigh().cells().get(0).harm()).isCloseTo(.55, within(1e-9));
        one.removable = false;
        assertThat(one.weigh().cells().get(0).harm()).isCloseTo(.825, within(1e-9));
        Case down = Case.of(Kind.BUGFIX, 4).cell(10, Weights.Facing.INTERNAL, 20, Map.of(FailureClass.DOWN, 1));
        down.removable = false;
        assertThat(down.weigh().cells().get(0).harm()).isEqualTo(1);
    }

    @Test
    void aKnownIssueThatNamesHostsWeighsHalfItsHarmThere() {
        Case one = Case.of(Kind.BUGFIX, 4).cell(10, Weights.Facing.INTERNAL, 0, Map.of());
        one.hosts.set(
                0,
                new CellHosts(
                        List.of(),
                        List.of(
                                new Endangered(4, Optional.of(FailureClass.DOWN), Optional.empty()),
                                new Endangered(6, Optional.empty(), Optional.empty())),
                        0,
                        0,
                        0));
        Weighing weighing = one.weigh();
        assertThat(weighing.hazard().middle()).isCloseTo(4 * .5 + 6 * .01 * .4, within(1e-9));
        assertThat(weighing.harm()).containsExactly(HarmSeen.KNOWN_ISSUE);
    }

    @Test
    void aVagueIssueCountsNoMoreThanTheTriesOnceTwentyAreMade() {
        Case nineteen = Case.of(Kind.BUGFIX, 4)
                .cell(Optional.empty(), 10, Weights.Facing.INTERNAL, 19, Map.of(), Optional.of(FailureClass.DOWN));
        assertThat(nineteen.weigh().hazard().middle()).isCloseTo(10 * .05, within(1e-9));
        Case twenty = Case.of(Kind.BUGFIX, 4)
                .cell(Optional.empty(), 10, Weights.Facing.INTERNAL, 20, Map.of(), Optional.of(FailureClass.DOWN));
        assertThat(twenty.weigh().hazard().middle()).isCloseTo(10 * (.2 / 40), within(1e-9));
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
