package lucid.core.order;

import static lucid.core.TestFleet.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import lucid.core.order.HeardBy.Became;
import lucid.core.order.HeardBy.Hearing;
import lucid.core.order.HeardBy.Word;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/** Nothing is said to be in force on a host that has not said so. */
class HeardByTest {

    private static final Instant BEFORE = NOW.minus(Duration.ofMinutes(1));

    private static Word word(Instant currentAt, Became... became) {
        return new Word(currentAt, became.length == 0 ? Optional.empty() : Optional.of(became[0]));
    }

    @Test
    void eachHostStandsOnceAndUnderWhatIsKnownOfIt() {
        Map<Integer, Word> words = Map.of(
                0, word(NOW, Became.IN_FORCE),
                1, word(NOW),
                2, word(NOW.plusSeconds(5), Became.NOT_IN_FORCE),
                3, word(BEFORE, Became.IN_FORCE),
                4, word(BEFORE, Became.REFUSED),
                5, word(BEFORE, Became.IN_FORCE),
                6, word(NOW, Became.REFUSED),
                7, word(NOW, Became.IN_FORCE));
        Map<Hearing, RoaringBitmap> heard = HeardBy.of(
                RoaringBitmap.bitmapOf(0, 1, 2, 3, 4, 5, 6, 7, 8, 9),
                NOW,
                host -> Optional.ofNullable(words.get(host)),
                RoaringBitmap.bitmapOf(5, 7, 9));
        assertThat(heard)
                .isEqualTo(Map.of(
                        Hearing.IN_FORCE, RoaringBitmap.bitmapOf(0, 7),
                        Hearing.HEARD, RoaringBitmap.bitmapOf(1, 6),
                        Hearing.NOT_OBEYED, RoaringBitmap.bitmapOf(2),
                        Hearing.NOT_YET, RoaringBitmap.bitmapOf(3),
                        Hearing.REFUSES, RoaringBitmap.bitmapOf(4),
                        Hearing.SILENT, RoaringBitmap.bitmapOf(5, 9),
                        Hearing.NEVER_ASKED, RoaringBitmap.bitmapOf(8)));
    }
}
