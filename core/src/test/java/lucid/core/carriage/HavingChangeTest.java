package lucid.core.carriage;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class HavingChangeTest {

    private static RoaringBitmap some(Random random) {
        RoaringBitmap hosts = new RoaringBitmap();
        for (int host = 0; host < 30; host++) {
            if (random.nextInt(3) == 0) {
                hosts.add(host);
            }
        }
        return hosts;
    }

    @Test
    void whoeverGotItAndLostItAgainHasNotChanged() {
        HavingChange got = HavingChange.of(RoaringBitmap.bitmapOf(1), RoaringBitmap.bitmapOf(1, 2));
        HavingChange lostAgain = HavingChange.of(RoaringBitmap.bitmapOf(1, 2), RoaringBitmap.bitmapOf(1));
        assertThat(got.gained()).isEqualTo(RoaringBitmap.bitmapOf(2));
        assertThat(HavingChange.of(List.of(got, lostAgain)).isEmpty()).isTrue();
        assertThat(HavingChange.of(List.of()).isEmpty()).isTrue();
    }

    @Test
    void anyNumberOfDaysIsTheDifferenceOfTheirEnds() {
        for (int seed = 0; seed < 200; seed++) {
            Random random = new Random(seed);
            RoaringBitmap first = some(random);
            RoaringBitmap last = first;
            List<HavingChange> days = new ArrayList<>();
            for (int day = 0; day < 6; day++) {
                RoaringBitmap next = some(random);
                days.add(HavingChange.of(last, next));
                assertThat(days.get(day).after(last)).isEqualTo(next);
                last = next;
            }
            assertThat(HavingChange.of(days)).as("seed %d", seed).isEqualTo(HavingChange.of(first, last));
        }
    }
}
