package lucid.core.fleet;

import static lucid.core.TestIds.hostName;
import static lucid.core.TestIds.populationId;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class LadderTest {

    private static final StandingRule NEVER = new StandingRule(List.of(), StandingRule.Offer.NEVER);
    private static final Population BENCH = TestFleet.population("bench", "role = bench", 0);
    private static final Population KIOSKS = TestFleet.population("kiosks", "model = K1", 5);

    private static Host host(int number, String role, String model) {
        return TestFleet.host(number, Map.of("role", TestFleet.text(role), "model", TestFleet.text(model)));
    }

    @Test
    void theFirstThatMatchesOwnsTheHost() {
        Ladder ladder = new Ladder(List.of(BENCH, KIOSKS), NEVER);
        assertThat(ladder.owner(host(0, "bench", "K1"))).contains(BENCH);
        assertThat(ladder.overlaps(host(0, "bench", "K1"))).containsExactly(KIOSKS);
        assertThat(ladder.owner(host(1, "kiosk", "K1"))).contains(KIOSKS);
        assertThat(ladder.owner(host(2, "kiosk", "K9"))).isEmpty();
    }

    @Test
    void includesAndExcludesGoOverTheCondition() {
        Population bench = new Population(
                populationId("bench"),
                "Bench",
                HostConditions.parse("role = bench"),
                Set.of(hostName("host-5")),
                Set.of(hostName("host-6")),
                4,
                "",
                Set.of(),
                Optional.empty(),
                Timing.ANY_TIME,
                NEVER);
        assertThat(bench.matches(host(5, "kiosk", "K1"))).isTrue();
        assertThat(bench.matches(host(6, "bench", "K1"))).isFalse();
    }

    @Test
    void everyHostIsInExactlyOnePopulationOrNone() {
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(List.of(BENCH, KIOSKS), NEVER))
                .with(List.of(host(0, "bench", "K1"), host(1, "kiosk", "K1"), host(2, "kiosk", "K9")));
        assertThat(fleet.members(populationId("bench")).toArray()).containsExactly(0);
        assertThat(fleet.members(populationId("kiosks")).toArray()).containsExactly(1);
        assertThat(fleet.inNoPopulation().toArray()).containsExactly(2);
        Fleet moved = fleet.with(List.of(host(1, "bench", "K1")));
        assertThat(moved.members(populationId("bench")).toArray()).containsExactly(0, 1);
        assertThat(moved.members(populationId("kiosks")).isEmpty()).isTrue();
        assertThat(fleet.members(populationId("kiosks")).toArray())
                .as("the earlier snapshot stays")
                .containsExactly(1);
        assertThat(moved.with(new Ladder(List.of(KIOSKS, BENCH), NEVER))
                        .members(populationId("kiosks"))
                        .toArray())
                .containsExactly(0, 1);
        assertThatThrownBy(() -> fleet.members(populationId("nobody"))).hasMessageContaining("nobody");
    }

    @Test
    void unknownAfterThreeRhythmsAndThreeDays() {
        Host silent = TestFleet.hostSeen(0, TestFleet.NOW, Map.of());
        assertThat(silent.unknownFrom(Duration.ofHours(1))).isEqualTo(TestFleet.NOW.plus(Duration.ofDays(3)));
        assertThat(silent.unknownFrom(Duration.ofDays(7))).isEqualTo(TestFleet.NOW.plus(Duration.ofDays(21)));
        Fleet fleet = Fleet.EMPTY.with(List.of(silent));
        assertThat(fleet.unknownAt(TestFleet.NOW.plus(Duration.ofDays(3))).isEmpty())
                .isTrue();
        assertThat(fleet.unknownAt(TestFleet.NOW.plus(Duration.ofDays(3)).plusMillis(1))
                        .toArray())
                .containsExactly(0);
    }

    @Test
    void theFirstLineOfAStandingRuleThatSpeaksCounts() {
        StandingRule rule = new StandingRule(
                List.of(
                        new StandingRule.Line(Set.of(Kind.DRIVER), Set.of(), StandingRule.Offer.NEVER),
                        new StandingRule.Line(Set.of(), Set.of(Rating.UNRATED), StandingRule.Offer.afterDays(3))),
                StandingRule.Offer.afterDays(9));
        assertThat(rule.offerOf(TestFleet.update("U", "pkg:deb/fathom/x@1"), TestFleet.host(0, Map.of()))
                        .delay())
                .contains(Duration.ofDays(3));
    }

    @Test
    void refusesContradictions() {
        assertThatThrownBy(() -> new Ladder(List.of(BENCH, BENCH), NEVER))
                .hasMessageContaining("two populations are called bench");
        assertThatThrownBy(() -> new Population(
                        populationId("p"),
                        "P",
                        HostConditions.parse("a is set"),
                        Set.of(hostName("h")),
                        Set.of(hostName("h")),
                        1,
                        "",
                        Set.of(),
                        Optional.empty(),
                        Timing.ANY_TIME,
                        NEVER))
                .hasMessageContaining("both includes and excludes h");
        assertThatThrownBy(() -> new Population(
                        populationId("p"),
                        "P",
                        HostConditions.parse("a is set"),
                        Set.of(),
                        Set.of(),
                        5,
                        "",
                        Set.of(),
                        Optional.empty(),
                        Timing.ANY_TIME,
                        NEVER))
                .hasMessageContaining("tier");
    }

    @Test
    void aRetiredHostIsCountedNowhereAndKeepsItsNumber() {
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(
                        List.of(TestFleet.population("kiosks", "role = kiosk", 5)),
                        new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                .with(List.of(
                        TestFleet.host(0, Map.of("role", TestFleet.text("kiosk"))),
                        TestFleet.host(1, Map.of("role", TestFleet.text("kiosk")))));
        assertThat(fleet.withTrait("role", "kiosk").toArray()).containsExactly(0, 1);
        Fleet without = fleet.retiring(RoaringBitmap.bitmapOf(1));
        assertThat(without.all().toArray()).containsExactly(0);
        assertThat(without.members(populationId("kiosks")).toArray()).containsExactly(0);
        assertThat(without.inNoPopulation().isEmpty()).isTrue();
        assertThat(without.withTrait("role", "kiosk").toArray()).containsExactly(0);
        assertThat(without.unknownAt(TestFleet.NOW.plus(Duration.ofDays(99))).toArray())
                .containsExactly(0);
        assertThat(without.host(hostName("host-1")))
                .as("it is known by its name")
                .isPresent();
        assertThat(without.nextNumber()).as("nobody else gets its number").isEqualTo(2);
        assertThat(without.changedSince(fleet)).extracting(Host::number).containsExactly(1);
        assertThat(without.with(List.of(TestFleet.host(1, Map.of("role", TestFleet.text("kiosk")))))
                        .all()
                        .toArray())
                .as("what is told of it does not bring it back")
                .containsExactly(0);
        assertThat(without.retiring(new RoaringBitmap())
                        .members(populationId("kiosks"))
                        .toArray())
                .containsExactly(0, 1);
    }

    @Test
    void traitTypesAreThoseOfMostHosts() {
        Fleet fleet = Fleet.EMPTY.with(List.of(
                TestFleet.host(0, Map.of("a", TestFleet.number(1))),
                TestFleet.host(1, Map.of("a", TestFleet.number(2))),
                TestFleet.host(2, Map.of("a", TestFleet.text("x")))));
        assertThat(fleet.traitTypes()).containsEntry("a", Trait.Type.NUMBER).containsEntry("platform", Trait.Type.TEXT);
        assertThat(fleet.traits().get("a").values())
                .as("the most frequent first, then by name")
                .containsExactly("1", "2", "x");
        Fleet many = Fleet.EMPTY.with(IntStream.range(0, 41)
                .mapToObj(i -> TestFleet.host(i, Map.of("serial", TestFleet.number(i))))
                .toList());
        assertThat(many.traits().get("serial").values())
                .as("too many to choose from")
                .isEmpty();
    }
}
