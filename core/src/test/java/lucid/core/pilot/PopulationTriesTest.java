package lucid.core.pilot;

import static lucid.core.TestFleet.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class PopulationTriesTest {

    /** The first so many tried it, of which the first so many failed. */
    private static PopulationTries tries(int hosts, int clean, int failed, FailureClass failureClass) {
        List<TriedHosts.Try> tries = new ArrayList<>();
        IntStream.range(0, clean + failed)
                .forEach(host -> tries.add(new TriedHosts.Try(
                        host,
                        NOW,
                        Optional.empty(),
                        host < failed
                                ? Optional.of(new TriedHosts.Failure(failureClass, "E", NOW, ""))
                                : Optional.empty())));
        // Hosts of others say nothing here.
        tries.add(new TriedHosts.Try(
                900, NOW, Optional.empty(), Optional.of(new TriedHosts.Failure(FailureClass.DOWN, "E", NOW, ""))));
        RoaringBitmap members = new RoaringBitmap();
        members.add(0L, (long) hosts);
        return PopulationTries.of(members, new TriedHosts(tries, List.of(901), List.of(), Optional.empty(), List.of()));
    }

    @Test
    void areEnoughAsTheGateAsks() {
        assertThat(tries(200, 57, 0, FailureClass.DEGRADED).areEnough()).isFalse();
        assertThat(tries(200, 58, 0, FailureClass.DEGRADED).areEnough()).isTrue();
        assertThat(tries(200, 91, 1, FailureClass.DEGRADED).areEnough()).isTrue();
        assertThat(tries(12, 12, 0, FailureClass.DEGRADED).areEnough())
                .as("twelve hosts are not asked for more than they can show")
                .isTrue();
        assertThat(tries(0, 0, 0, FailureClass.DEGRADED).areEnough())
                .as("nobody can show anything")
                .isFalse();
    }

    @Test
    void failAsTheGateFails() {
        assertThat(tries(200, 10, 2, FailureClass.REFUSED).haveFailed()).isTrue();
        assertThat(tries(200, 100, 2, FailureClass.REFUSED).haveFailed()).isFalse();
        assertThat(tries(200, 100, 1, FailureClass.DOWN).haveFailed()).isTrue();
    }
}
