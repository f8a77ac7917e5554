package lucid.core.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.TestFleet;
import lucid.core.fleet.Restraint.Prevention;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/** A host that tells nothing of its power, line or space is kept from nothing. */
class RestraintTest {

    private static final Trait BATTERY = TestFleet.text("battery");
    private static final Trait YES = new Trait.Truth(true);
    private static final Optional<Long> A_GIGABYTE = Optional.of(1L << 30);

    private static Optional<Prevention> prevents(Restraint restraint, Map<String, Trait> traits) {
        return restraint.prevents(TestFleet.host(0, traits, "pkg:generic/desk@1"), A_GIGABYTE);
    }

    @Test
    void onBatteryItWaitsUnderTheChargeThatIsAskedFor() {
        Map<String, Trait> low = Map.of("power", BATTERY, "battery_percent", TestFleet.number(39));
        assertThat(prevents(Restraint.USUAL, low)).contains(Prevention.BATTERY);
        assertThat(prevents(new Restraint(39, false), low)).isEmpty();
        assertThat(prevents(new Restraint(0, false), low)).isEmpty();
        assertThat(prevents(Restraint.USUAL, Map.of("power", BATTERY)))
                .as("how far it is charged is not told")
                .isEmpty();
        assertThat(prevents(
                        Restraint.USUAL,
                        Map.of("power", TestFleet.text("mains"), "battery_percent", TestFleet.number(3))))
                .isEmpty();
        assertThatThrownBy(() -> new Restraint(101, false)).hasMessageContaining("0 to 100 per cent");
    }

    @Test
    void overAPaidLineItWaitsUnlessItsPopulationGoesOn() {
        assertThat(prevents(Restraint.USUAL, Map.of("paid_line", YES))).contains(Prevention.PAID_LINE);
        assertThat(prevents(new Restraint(40, true), Map.of("paid_line", YES))).isEmpty();
        assertThat(prevents(Restraint.USUAL, Map.of("paid_line", new Trait.Truth(false))))
                .isEmpty();
        assertThat(prevents(Restraint.USUAL, Map.of("paid_line", TestFleet.text("true"))))
                .as("a text is no answer")
                .isEmpty();
    }

    @Test
    void itNeedsRoomForTwiceTheSizeWhereThatIsKnown() {
        Map<String, Trait> tight = Map.of("root_free_mb", TestFleet.number(2047));
        assertThat(prevents(Restraint.USUAL, tight)).contains(Prevention.SPACE);
        assertThat(prevents(Restraint.USUAL, Map.of("root_free_mb", TestFleet.number(2048))))
                .isEmpty();
        assertThat(Restraint.USUAL.prevents(TestFleet.host(0, tight), Optional.empty()))
                .isEmpty();
    }

    @Test
    void hostsAreToldByWhatKeepsThem() {
        Fleet fleet = Fleet.EMPTY.with(List.of(
                TestFleet.host(0, Map.of("paid_line", YES)),
                TestFleet.host(1, Map.of("power", BATTERY, "battery_percent", TestFleet.number(10), "paid_line", YES)),
                TestFleet.host(2, Map.of())));
        RoaringBitmap all = RoaringBitmap.bitmapOf(0, 1, 2);
        assertThat(Restraint.USUAL.prevented(all, Optional.empty(), fleet))
                .isEqualTo(Map.of(
                        Prevention.PAID_LINE, RoaringBitmap.bitmapOf(0),
                        Prevention.BATTERY, RoaringBitmap.bitmapOf(1)));
        assertThat(new Restraint(0, true).prevented(all, Optional.empty(), fleet))
                .isEmpty();
    }
}
