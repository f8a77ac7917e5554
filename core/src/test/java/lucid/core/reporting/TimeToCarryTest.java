package lucid.core.reporting;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import lucid.core.reporting.TimeToCarry.Count;
import lucid.core.reporting.TimeToCarry.Days;
import lucid.core.reporting.TimeToCarry.Series;
import lucid.core.update.Rating;
import org.junit.jupiter.api.Test;

class TimeToCarryTest {

    private static final LocalDate RELEASE = LocalDate.of(2026, 11, 1);

    private static Count count(int age, int have, int applies) {
        return new Count(RELEASE.plusDays(age), have, applies);
    }

    private static Series series(int until, Count... counts) {
        return new Series(RELEASE, List.of(counts), RELEASE.plusDays(until));
    }

    @Test
    void countsDaysFromReleaseUntilHalfAndNineTenthsHaveIt() {
        Days days =
                TimeToCarry.of(List.of(series(9, count(0, 0, 10), count(2, 4, 10), count(3, 5, 10), count(7, 9, 10))));
        assertThat(days).isEqualTo(new Days(Optional.of(3), Optional.of(7), 9, 1));
    }

    @Test
    void whatHasNotComeToPassIsNotTold() {
        Days days = TimeToCarry.of(List.of(series(20, count(0, 0, 10), count(4, 6, 10))));
        assertThat(days).isEqualTo(new Days(Optional.of(4), Optional.empty(), 6, 4));
        assertThat(TimeToCarry.of(List.of())).isEqualTo(new Days(Optional.empty(), Optional.empty(), 0, 0));
    }

    /** Half of the first update's hosts had it on day 2; the second one is two days old, and speaks of no later day. */
    @Test
    void anUpdateThatIsUnderWaySpeaksForTheDaysThatItHasSeen() {
        Series old = series(30, count(0, 0, 10), count(1, 4, 10), count(5, 10, 10));
        Series young = series(2, count(0, 0, 10), count(1, 2, 10));
        Days days = TimeToCarry.of(List.of(old, young));
        // Lacking after day 1: 14 of 20; from day 3 on only the old one is followed, and all of its six get it on day
        // 5.
        assertThat(days).isEqualTo(new Days(Optional.of(5), Optional.of(5), 12, 8));
    }

    /** Kaplan and Meier's estimate of this sample, by hand: 1 - 3/10, then (1 - 1/7), then (1 - 3/4). */
    @Test
    void hostsThatLeaveAreFollowedNoFurther() {
        Series one = series(9, count(0, 0, 10), count(2, 3, 10), count(3, 4, 10), count(4, 4, 8), count(6, 7, 8));
        Days days = TimeToCarry.of(List.of(one));
        // .7 x 6/7 = .6, then x 1/4 = .15: half on day 6, nine tenths never.
        assertThat(days.half()).contains(6);
        assertThat(days.nineTenths()).isEmpty();
    }

    /** Who was first counted ten days after the release tells nothing of the days before. */
    @Test
    void whatWasCountedLateEntersLate() {
        Series late = series(20, count(10, 8, 10), count(12, 10, 10));
        assertThat(TimeToCarry.of(List.of(late))).isEqualTo(new Days(Optional.of(12), Optional.of(12), 2, 0));
        Series known = series(20, count(0, 0, 10), count(3, 10, 10));
        assertThat(TimeToCarry.of(List.of(late, known)).half()).contains(3);
    }

    /** Against the days themselves, host by host, where every host got it and was counted from the start. */
    @Test
    void agreesWithTheQuantilesOfHostsThatAllGotIt() {
        Random random = new Random(15);
        for (int round = 0; round < 200; round++) {
            int[] got = random.ints(1 + random.nextInt(60), 0, 40).sorted().toArray();
            List<Count> counts = new ArrayList<>();
            for (int age = 0; age <= 40; age++) {
                int day = age;
                int have = (int) Arrays.stream(got).filter(at -> at <= day).count();
                counts.add(count(age, have, got.length));
            }
            Days days = TimeToCarry.of(List.of(new Series(RELEASE, counts, RELEASE.plusDays(40))));
            assertThat(days.half()).contains(got[(got.length + 1) / 2 - 1]);
            assertThat(days.nineTenths()).contains(got[(9 * got.length + 9) / 10 - 1]);
            assertThat(days.got()).isEqualTo(got.length);
        }
    }

    @Test
    void aTargetIsMissedOnceItsLastDayIsOverAndATenthStillLacksIt() {
        CarryTargets targets = new CarryTargets(Map.of(Rating.CRITICAL, 15));
        LocalDate last = RELEASE.plusDays(15);
        assertThat(targets.lastDay(Rating.CRITICAL, RELEASE)).contains(last);
        assertThat(targets.isMissed(Rating.CRITICAL, RELEASE, 8, 10, last)).isFalse();
        assertThat(targets.isMissed(Rating.CRITICAL, RELEASE, 8, 10, last.plusDays(1)))
                .isTrue();
        assertThat(targets.isMissed(Rating.CRITICAL, RELEASE, 9, 10, last.plusDays(1)))
                .isFalse();
        assertThat(targets.isMissed(Rating.CRITICAL, RELEASE, 0, 0, last.plusDays(1)))
                .isFalse();
        assertThat(targets.isMissed(Rating.LOW, RELEASE, 0, 10, last.plusDays(100)))
                .isFalse();
    }
}
