package lucid.core.docket;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.evidence.Evidence;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.StandingRule;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.weighing.Weighing;
import lucid.core.weighing.Weights;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class AlikeTest {

    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/lib@2");
    private static final Instant LATER = NOW.plus(Duration.ofDays(1));

    /**
     * Hosts 0 to 9 stand in desks, 10 to 19 in shops, 20 to 29 in kiosks, which wait longer, 30 to 39 in benches and 40
     * to 49 in labs, which carry it.
     */
    private static Fleet fleet() {
        List<Population> populations = List.of(
                TestFleet.population("desks", "role = desk", 5),
                TestFleet.population("shops", "role = shop", 5),
                TestFleet.population("kiosks", "role = kiosk", 30),
                TestFleet.population("benches", "role = bench", 5),
                TestFleet.population("labs", "role = lab", 9));
        List<Host> hosts = new ArrayList<>();
        for (int number = 0; number < 50; number++) {
            String role = List.of("desk", "shop", "kiosk", "bench", "lab").get(number / 10);
            hosts.add(TestFleet.host(
                    number, Map.of("role", text(role)), "pkg:deb/fathom/lib@" + (number < 30 ? "1" : "2")));
        }
        return Fleet.EMPTY
                .with(new Ladder(populations, new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                .with(hosts);
    }

    private static List<Alike> alike(Decisions decisions) {
        Docket docket = Docket.of(
                new Docket.Facts(
                        TestFleet.carriages(fleet(), List.of(UPDATE)), Evidence.NONE, Weights.USUAL, decisions),
                LATER);
        Map<PopulationId, List<RulingGroup>> group = new LinkedHashMap<>();
        fleet().ladder()
                .populations()
                .forEach(p -> group.put(
                        p.id(),
                        Timeline.of(
                                        UPDATE,
                                        decisions,
                                        fleet(),
                                        TestFleet.carriages(fleet(), List.of(UPDATE))
                                                .catalogue())
                                .groups(
                                        RoaringBitmap.and(
                                                fleet().members(p.id()),
                                                docket.factsOf(UPDATE)
                                                        .carriage()
                                                        .lacking()),
                                        LATER)));
        DocketCase docketCase = docket.find(updateId("FTM-1")).orElseThrow();
        List<Alike> found = Alike.of(docketCase, group);
        for (Alike one : found) {
            double hazard = one.populations().stream()
                    .flatMap(p -> docketCase.weighingOf(p).stream())
                    .map(Weighing::hazard)
                    .mapToDouble(range -> range.middle())
                    .sum();
            assertThat(one.beam().hazard().middle()).isCloseTo(hazard, within(1e-12));
            assertThat(one.beam().tilt())
                    .isEqualTo(Weighing.tilt(
                            one.beam().exposure(),
                            one.beam().usual(),
                            one.beam().hazard()));
        }
        return found;
    }

    private static Verdict block(long number, String population, int days) {
        return new Verdict(
                        verdictNumber(number),
                        new Verdict.Subject(updateId("FTM-1"), "1", populationId(population), Optional.empty()),
                        VerdictType.BLOCK,
                        NOW.plus(Duration.ofDays(days)),
                        new Verdict.Reason(Set.of(ReasonWord.UNTESTED), ""),
                        new Verdict.Origin("orrin", NOW),
                        new Verdict.Overrides(Set.of(), Set.of()),
                        Optional.empty())
                .at(new Verdict.Moment(
                        fleet().members(populationId(population)), fleet().members(populationId(population))));
    }

    @Test
    void theSameRuleAtTheSameInstantIsTheSameAnswer() {
        List<Alike> found = alike(Decisions.NONE);
        assertThat(found)
                .extracting(Alike::populations)
                .containsExactly(
                        List.of(populationId("desks"), populationId("shops")),
                        List.of(populationId("benches"), populationId("labs")));
        assertThat(found.get(0).beam().hazard().middle()).isPositive();
        assertThat(found.get(0).groups())
                .singleElement()
                .satisfies(group -> assertThat(group.hosts().getCardinality()).isEqualTo(20));
        assertThat(found.get(1).beam().stake())
                .as("nothing is to be installed there")
                .isZero();
        assertThat(found.get(1).groups()).isEmpty();
    }

    @Test
    void verdictsThatSayTheSameAreTheSameAnswer() {
        assertThat(alike(Decisions.NONE.with(block(1, "desks", 9))))
                .extracting(Alike::populations)
                .containsExactly(List.of(populationId("benches"), populationId("labs")));
        assertThat(alike(Decisions.NONE.with(block(1, "desks", 9)).with(block(2, "kiosks", 9))))
                .extracting(Alike::populations)
                .containsExactly(
                        List.of(populationId("desks"), populationId("kiosks")),
                        List.of(populationId("benches"), populationId("labs")));
        assertThat(alike(Decisions.NONE.with(block(1, "desks", 9)).with(block(2, "kiosks", 8))))
                .extracting(Alike::populations)
                .containsExactly(List.of(populationId("benches"), populationId("labs")));
    }
}
