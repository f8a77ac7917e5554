package lucid.core.pilot;

import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.hostName;
import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.Trait;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class SamplingTest {

    private static final RoaringBitmap NOBODY = new RoaringBitmap();
    private static final TriedHosts NOTHING =
            new TriedHosts(List.of(), List.of(), List.of(), Optional.empty(), List.of());

    private static Fleet fleet(List<Host> hosts) {
        return Fleet.EMPTY
                .with(new Ladder(
                        List.of(TestFleet.population("kiosks", "role = kiosk", 5)),
                        new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                .with(hosts);
    }

    private static Candidates all(Fleet fleet) {
        return Candidates.of(fleet.all(), NOTHING, NOBODY, NOBODY, false, fleet);
    }

    /** 60 hosts of model A at the pier, 30 of B at the pier, 10 of B at the yard. */
    private static final Fleet FLEET = fleet(IntStream.range(0, 100)
            .mapToObj(i -> TestFleet.host(
                    i,
                    Map.of(
                            "role", text("kiosk"),
                            "model", text(i < 60 ? "A" : "B"),
                            "site", text(i < 90 ? "Pier" : "Yard"))))
            .toList());

    private static long of(Sample sample, int from, int to) {
        return sample.hosts().stream().filter(host -> host >= from && host < to).count();
    }

    @Test
    void aSampleIsDrawnInProportionAndTheSameAgain() {
        Sample sample = Sampling.draw(all(FLEET), 20, Sampling.USUAL_TRAITS, "LNT-1", FLEET);
        assertThat(sample.hosts()).hasSize(20).doesNotHaveDuplicates();
        assertThat(of(sample, 0, 60)).isEqualTo(12);
        assertThat(of(sample, 60, 90)).isEqualTo(6);
        assertThat(of(sample, 90, 100)).isEqualTo(2);
        assertThat(sample.kinds()).isEqualTo(3);
        assertThat(sample.uncovered()).isEmpty();
        assertThat(Sampling.draw(all(FLEET), 20, Sampling.USUAL_TRAITS, "LNT-1", FLEET))
                .isEqualTo(sample);
        assertThat(Sampling.draw(all(FLEET), 20, Sampling.USUAL_TRAITS, "LNT-2", FLEET)
                        .hosts())
                .isNotEqualTo(sample.hosts());
    }

    @Test
    void coverageComesFirstWithHalfOfASmallSampleAndWhatItLeavesOutIsTold() {
        Sample two = Sampling.draw(all(FLEET), 2, Sampling.USUAL_TRAITS, "s", FLEET);
        assertThat(of(two, 0, 60)).as("A at the pier stands for most").isEqualTo(1);
        assertThat(of(two, 60, 90)).isEqualTo(1);
        assertThat(two.covered()).isEqualTo(2);
        assertThat(two.uncovered()).containsExactly(new Sample.Kind("B · Yard", 10));
        Sample four = Sampling.draw(all(FLEET), 4, Sampling.USUAL_TRAITS, "s", FLEET);
        assertThat(of(four, 90, 100))
                .as("two of four cover all values of model and site: A and Pier, then B and Yard")
                .isEqualTo(1);
    }

    @Test
    void aSampleNamedByHandTellsItsCoverage() {
        assertThat(Sampling.of(List.of(0, 1), all(FLEET), Sampling.USUAL_TRAITS, FLEET)
                        .uncovered())
                .containsExactly(new Sample.Kind("B · Pier", 30), new Sample.Kind("B · Yard", 10));
    }

    @Test
    void moreAreDrawnWhereTheShareIsLowest() {
        RoaringBitmap already = RoaringBitmap.bitmapOf(0, 1, 2, 60, 61);
        Sample more = Sampling.drawMore(all(FLEET), already, 1, Sampling.USUAL_TRAITS, "s", FLEET);
        assertThat(more.hosts()).singleElement().satisfies(host -> assertThat(host)
                .as("0.6 of 6 seats is the largest share that is not taken")
                .matches(number -> number >= 90 || number < 60)
                .isNotIn(0, 1, 2));
        assertThat(more.covered()).isGreaterThanOrEqualTo(2);
    }

    @Test
    void numbersAreDividedByQuartiles() {
        Fleet fleet = fleet(IntStream.range(0, 40)
                .mapToObj(i ->
                        TestFleet.host(i, Map.of("role", text("kiosk"), "spool_free_mb", TestFleet.number(10 * i))))
                .toList());
        Sample sample = Sampling.draw(all(fleet), 4, List.of("spool_free_mb"), "s", fleet);
        assertThat(sample.kinds()).isEqualTo(4);
        assertThat(sample.uncovered()).isEmpty();
    }

    @Test
    void hostsThatAreNotDrawnAreToldWithTheReason() {
        Population protecting = TestFleet.population("kiosks", "role = kiosk", 5);
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(
                        List.of(
                                new Population(
                                        protecting.id(),
                                        protecting.name(),
                                        protecting.condition(),
                                        Set.of(),
                                        Set.of(),
                                        2,
                                        "",
                                        Set.of(hostName("host-0")),
                                        Optional.empty(),
                                        protecting.timing(),
                                        protecting.rule()),
                                tier1()),
                        new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                .with(List.of(
                        host(0, "kiosk"), host(1, "kiosk"), host(2, "kiosk"), host(3, "kiosk"), host(4, "panel")));
        TriedHosts tried = new TriedHosts(List.of(), List.of(3), List.of(), Optional.empty(), List.of());
        Candidates candidates =
                Candidates.of(fleet.all(), tried, RoaringBitmap.bitmapOf(1), RoaringBitmap.bitmapOf(2), false, fleet);
        assertThat(candidates.eligible().isEmpty()).isTrue();
        assertThat(candidates.leftOut())
                .isEqualTo(Map.of(
                        Candidates.LeftOut.PROTECTED, RoaringBitmap.bitmapOf(0),
                        Candidates.LeftOut.DECIDED_OTHERWISE, RoaringBitmap.bitmapOf(1),
                        Candidates.LeftOut.SILENT, RoaringBitmap.bitmapOf(2),
                        Candidates.LeftOut.TRIED, RoaringBitmap.bitmapOf(3),
                        Candidates.LeftOut.TIER_1, RoaringBitmap.bitmapOf(4)));
        assertThat(Candidates.of(fleet.all(), NOTHING, NOBODY, NOBODY, true, fleet)
                        .eligible())
                .isEqualTo(RoaringBitmap.bitmapOf(1, 2, 3, 4));
    }

    private static Host host(int number, String role) {
        return TestFleet.host(number, Map.of("role", text(role)));
    }

    private static Population tier1() {
        Population p = TestFleet.population("panels", "role = panel", 5);
        return new Population(
                p.id(),
                p.name(),
                p.condition(),
                p.includes(),
                p.excludes(),
                1,
                p.owner(),
                p.protectedHosts(),
                p.supply(),
                p.timing(),
                p.rule());
    }

    /** On random fleets: as many as asked for, none twice, none that may not, and each kind within one of its share. */
    @Test
    void samplesOfRandomFleetsAreProportional() {
        for (long seed = 0; seed < 60; seed++) {
            Random random = new Random(seed);
            List<Host> hosts = new ArrayList<>();
            int count = 20 + random.nextInt(200);
            for (int i = 0; i < count; i++) {
                Map<String, Trait> traits = new HashMap<>();
                traits.put("role", text("kiosk"));
                traits.put("model", text("m" + (int) Math.abs(2 * random.nextGaussian())));
                if (random.nextInt(5) > 0) {
                    traits.put("site", text("s" + random.nextInt(3)));
                }
                hosts.add(TestFleet.host(i, traits));
            }
            Fleet fleet = fleet(hosts);
            int size = 1 + random.nextInt(count);
            Sample sample = Sampling.draw(all(fleet), size, Sampling.USUAL_TRAITS, "s" + seed, fleet);
            assertThat(sample.hosts()).hasSize(size).doesNotHaveDuplicates();
            Map<String, Long> all = hosts.stream().collect(Collectors.groupingBy(this::kind, Collectors.counting()));
            Map<String, Long> drawn = sample.hosts().stream()
                    .collect(Collectors.groupingBy(number -> kind(fleet.host(number)), Collectors.counting()));
            all.forEach((kind, of) -> assertThat(drawn.getOrDefault(kind, 0L))
                    .as("%s of %d in %d of %d", kind, of, size, count)
                    .isLessThan((long) (1 + size * of / (double) count) + 1));
            Set<String> covered = new HashSet<>(drawn.keySet());
            assertThat(sample.covered()).isEqualTo(covered.size());
            assertThat(sample.uncovered().stream().mapToInt(Sample.Kind::hosts).sum())
                    .isEqualTo(all.entrySet().stream()
                            .filter(one -> !covered.contains(one.getKey()))
                            .mapToInt(one -> one.getValue().intValue())
                            .sum());
        }
    }

    private String kind(Host host) {
        return host.trait("model") + " " + host.trait("site");
    }
}
