package lucid.core.reporting;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.StandingRule.Offer;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;

/** Two kiosks and a gate that lack an update of today, and a kiosk that carries it. */
class RuleStepTest {

    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Population KIOSKS = TestFleet.with(
            TestFleet.population("kiosks", "role = kiosk", 0),
            new StandingRule(List.of(), Offer.afterDays(5).dueAfterDays(4)));
    private static final List<Host> HOSTS =
            List.of(host(0, "kiosk", "1.0"), host(1, "kiosk", "1.0"), host(2, "gate", "1.0"), host(3, "kiosk", "2.0"));

    private static Host host(int number, String role, String version) {
        return TestFleet.host(number, Map.of("role", TestFleet.text(role)), "pkg:deb/fathom/libtls@" + version);
    }

    private static Instant day(int days) {
        return NOW.plus(Duration.ofDays(days));
    }

    private static List<RuleStep> steps(Ladder ladder, Decisions decisions, Instant now, Instant until) {
        Carriages carriages = TestFleet.carriages(Fleet.EMPTY.with(ladder).with(HOSTS), List.of(UPDATE));
        return RuleStep.between(carriages, decisions, now, until);
    }

    private static Ladder ladder(StandingRule others) {
        return new Ladder(List.of(KIOSKS), others);
    }

    private static final Ladder LADDER = ladder(new StandingRule(List.of(), Offer.NEVER));

    @Test
    void whatIsOfferedFallsDueLater() {
        assertThat(steps(LADDER, Decisions.NONE, NOW, day(35)))
                .extracting(RuleStep::what, RuleStep::at, step -> step.hosts().getCardinality())
                .containsExactly(tuple(RuleStep.What.OFFERED, day(5), 2), tuple(RuleStep.What.DUE, day(9), 2));
        assertThat(steps(LADDER, Decisions.NONE, day(6), day(35)))
                .as("it is offered already")
                .extracting(RuleStep::what)
                .containsExactly(RuleStep.What.DUE);
        assertThat(steps(LADDER, Decisions.NONE, NOW, day(8)))
                .as("nobody asked further")
                .extracting(RuleStep::what)
                .containsExactly(RuleStep.What.OFFERED);
        assertThat(steps(LADDER, Decisions.NONE, day(10), day(35))).isEmpty();
    }

    @Test
    void whatAVerdictWithholdsNoRuleOffers() {
        assertThat(steps(LADDER, Decisions.NONE.with(block(day(60))), day(1), day(35)))
                .isEmpty();
        assertThat(steps(LADDER, Decisions.NONE.with(block(day(3))), day(1), day(35)))
                .as("its end is what comes first, and is told with it")
                .isEmpty();
    }

    private static Verdict block(Instant until) {
        return new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.BLOCK,
                until,
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    @Test
    void hostsInNoPopulationAreAmongThem() {
        assertThat(steps(ladder(new StandingRule(List.of(), Offer.afterDays(7))), Decisions.NONE, day(6), day(8)))
                .extracting(step -> step.population().id(), step -> step.hosts().first())
                .containsExactly(tuple(Ladder.NO_POPULATION, 2));
    }
}
