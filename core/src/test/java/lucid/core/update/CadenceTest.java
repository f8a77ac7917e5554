package lucid.core.update;

import static lucid.core.TestFleet.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.TestIds;
import org.junit.jupiter.api.Test;

class CadenceTest {

    private static Catalogue published(Integer... daysAgo) {
        return Catalogue.EMPTY.with(Stream.of(daysAgo)
                .map(days -> Update.join(
                        List.of(),
                        Optional.of(new UpdateNotice(
                                TestIds.updateId("LNT-" + days),
                                "",
                                "Lantern",
                                "",
                                "1",
                                NOW.minus(Duration.ofDays(days)),
                                Kind.CUMULATIVE,
                                Optional.empty(),
                                Optional.empty(),
                                Removable.NOT_TOLD,
                                List.of(),
                                List.of(),
                                List.of(),
                                List.of(),
                                List.of())),
                        Optional.empty(),
                        NOW))
                .toList());
    }

    @Test
    void isTheMedianTimeBetweenTwoReleasesOfAYear() {
        Catalogue catalogue = published(400, 40, 26, 12, 70);
        assertThat(Cadence.of("Lantern", Kind.CUMULATIVE, catalogue, NOW))
                .contains(new Cadence("Lantern", Kind.CUMULATIVE, Duration.ofDays(14), NOW.minus(Duration.ofDays(12))));
        assertThat(Cadence.of("Lantern", Kind.DRIVER, catalogue, NOW)).isEmpty();
        assertThat(Cadence.of("Lantern", Kind.CUMULATIVE, published(400, 40, 26, 12), NOW))
                .as("three within a year tell no rhythm")
                .isEmpty();
    }
}
