package lucid.core.weighing;

import static lucid.core.TestFleet.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;

class BaselineRatesTest {

    private static final Update ONE = TestFleet.update("FTM-1", "pkg:deb/fathom/lib@2");
    private static final Update OTHER = TestFleet.update("FTM-2", "pkg:deb/fathom/lib@3");

    private static TriedHosts tries(int count, double daysAgo, int failed, FailureClass failureClass) {
        return new TriedHosts(
                IntStream.range(0, count)
                        .mapToObj(i -> new TriedHosts.Try(
                                i,
                                NOW.minus(Duration.ofMinutes((long) (daysAgo * 24 * 60))),
                                Optional.empty(),
                                i < failed
                                        ? Optional.of(new TriedHosts.Failure(failureClass, "E", NOW, ""))
                                        : Optional.empty()))
                        .toList(),
                List.of(),
                List.of(),
                Optional.empty(),
                List.of());
    }

    private static BaselineRates.Baseline usual(TriedHosts one, TriedHosts other) {
        return BaselineRates.of(Map.of(ONE, one, OTHER, other), NOW).of(ONE);
    }

    @Test
    void aKindFailsAsItsUpdatesDidInAYear() {
        TriedHosts sound = tries(400, 5, 1, FailureClass.REFUSED);
        assertThat(usual(sound, sound)).isEqualTo(new BaselineRates.Baseline(800, 2));
        assertThat(usual(sound, sound).rate()).isEqualTo(2.0 / 800);
        assertThat(usual(sound, tries(400, 400, 9, FailureClass.REFUSED)).tries())
                .as("longer ago than a year")
                .isEqualTo(400);
        assertThat(usual(sound, tries(400, .1, 9, FailureClass.REFUSED)).tries())
                .as("today")
                .isEqualTo(400);
    }

    @Test
    void aBadUpdateIsNotWhatIsUsual() {
        TriedHosts sound = tries(400, 5, 1, FailureClass.REFUSED);
        assertThat(usual(sound, tries(40, 5, 20, FailureClass.REFUSED))).isEqualTo(new BaselineRates.Baseline(400, 1));
        assertThat(usual(sound, tries(40, 5, 1, FailureClass.DOWN))).isEqualTo(new BaselineRates.Baseline(400, 1));
    }

    @Test
    void theRateStaysWithinBoundsAndIsAGuessWithoutHistory() {
        assertThat(new BaselineRates.Baseline(99, 0).rate()).isEqualTo(.003);
        assertThat(new BaselineRates.Baseline(10_000, 0).rate()).isEqualTo(.001);
        assertThat(new BaselineRates.Baseline(10_000, 900).rate()).isEqualTo(.02);
        assertThat(BaselineRates.UNKNOWN.of(ONE).rate()).isEqualTo(.003);
    }
}
