package lucid.core.fleet;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.hostName;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class SpreadTest {

    private static final Population PLAIN = TestFleet.population("kiosks", "role = kiosk", 5);
    private static final Population KIOSKS = new Population(
            PLAIN.id(),
            PLAIN.name(),
            PLAIN.condition(),
            Set.of(),
            Set.of(),
            2,
            "owner",
            Set.of(hostName("host-3"), hostName("host-4")),
            Optional.empty(),
            Timing.ANY_TIME,
            PLAIN.rule());
    private static final Fleet FLEET = Fleet.EMPTY
            .with(new Ladder(List.of(KIOSKS), PLAIN.rule()))
            .with(IntStream.range(0, 90)
                    .mapToObj(number -> TestFleet.host(
                            number,
                            Map.of(
                                    "role",
                                    TestFleet.text("kiosk"),
                                    "model",
                                    TestFleet.text(number % 10 == 0 ? "K2" : "K1"))))
                    .toList());
    private static final List<Instant> DAYS = IntStream.of(0, 5, 10)
            .mapToObj(day -> NOW.plus(Duration.ofDays(day)))
            .toList();
    private static final Spread SPREAD = Spread.of(FLEET.all(), DAYS, "seed", FLEET);

    @Test
    void ninetyHostsInThreePartsAreThirtyEach() {
        assertThat(SPREAD.parts())
                .extracting(part -> part.hosts().getCardinality())
                .containsExactly(30, 30, 30);
        assertThat(SPREAD.parts()).extracting(Spread.Part::at).containsExactlyElementsOf(DAYS);
        assertThat(RoaringBitmap.or(
                        SPREAD.parts().stream().map(Spread.Part::hosts).iterator()))
                .isEqualTo(FLEET.all());
    }

    @Test
    void eachPartHasOfEveryKind() {
        RoaringBitmap rare = FLEET.matching(HostConditions.parse("model = K2"), FLEET.all());
        assertThat(SPREAD.parts()).allSatisfy(part -> assertThat(RoaringBitmap.andCardinality(part.hosts(), rare))
                .isEqualTo(3));
    }

    @Test
    void protectedHostsAndLaterOnesComeLast() {
        assertThat(List.of(SPREAD.at(3), SPREAD.at(4), SPREAD.at(4_000))).containsOnly(DAYS.get(2));
    }

    @Test
    void theSameSeedGivesTheSame() {
        assertThat(Spread.of(FLEET.all(), DAYS, "seed", FLEET)).isEqualTo(SPREAD);
        assertThat(Spread.of(FLEET.all(), DAYS, "another", FLEET)).isNotEqualTo(SPREAD);
    }

    @Test
    void fewerHostsThanPartsLeaveSomeEmpty() {
        Spread two = Spread.of(RoaringBitmap.bitmapOf(1, 2), DAYS, "seed", FLEET);
        assertThat(two.parts())
                .extracting(part -> part.hosts().getCardinality())
                .containsExactly(1, 1, 0);
    }

    @Test
    void itsPartsComeOneAfterTheOther() {
        assertThatThrownBy(() -> new Spread(List.of())).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> new Spread(
                        List.of(new Spread.Part(NOW, new RoaringBitmap()), new Spread.Part(NOW, new RoaringBitmap()))))
                .isInstanceOf(IllegalArgumentException.class);
    }
}
