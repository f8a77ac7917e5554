package lucid.core.gate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PilotGateTest {

    private static final PilotGate OF_58 = new PilotGate(.05, 58);

    @ParameterizedTest
    @CsvSource({"9, .259", "12, .206", "20, .133", "58, .050", "400, .050"})
    void asksForNoMoreThanASampleCanShow(int hosts, double limit) {
        PilotGate gate = new PilotGate(.05, hosts);
        assertThat(gate.limit()).isCloseTo(limit, within(.0005));
        assertThat(gate.isMet(hosts, 0)).isTrue();
    }

    @ParameterizedTest
    @CsvSource({"0, 58", "1, 92", "2, 123", "3, 152"})
    void isMetBySoManyThatAnswered(int failed, int answered) {
        assertThat(OF_58.isMet(answered - failed, failed)).isTrue();
        assertThat(OF_58.isMet(answered - failed - 1, failed)).isFalse();
        assertThat(OF_58.furtherClean(0, failed)).isEqualTo(answered - failed);
        assertThat(OF_58.furtherClean(answered, failed)).isZero();
    }

    @ParameterizedTest
    @CsvSource({"2, 15", "3, 27", "4, 39"})
    void failsWithSoManyFailuresOfAtMost(int failed, int tried) {
        assertThat(OF_58.isFailed(tried, failed, 0)).isTrue();
        assertThat(OF_58.isFailed(tried + 1, failed, 0)).isFalse();
    }

    @Test
    void oneFailureIsNoneUnlessAHostIsDown() {
        assertThat(OF_58.isFailed(1, 1, 0)).isFalse();
        assertThat(OF_58.isFailed(40, 1, 1)).isTrue();
        assertThat(OF_58.isFailed(20, 2, 0)).as("goes on").isFalse();
    }

    @ParameterizedTest
    @CsvSource({"12, 6", "58, 5", "123, 10", "200, 12"})
    void anUpdateAtTheLimitPassesSoOftenInAHundred(int hosts, int passes) {
        PilotGate gate = new PilotGate(.05, hosts);
        assertThat(Math.round(100 * gate.passes(gate.limit()))).isEqualTo(passes);
    }

    @ParameterizedTest
    @CsvSource({"58, 56", "92, 79", "123, 89"})
    void anUpdateThatFailsInOnePerCentPassesSoOftenInAHundred(int hosts, int passes) {
        assertThat(Math.round(100 * new PilotGate(.05, hosts).passes(.01))).isEqualTo(passes);
    }

    @Test
    void tellsHowManyHostsWouldShowWhatIsAskedFor() {
        assertThat(new PilotGate(.05, 12).hostsForAskedLimit()).isEqualTo(58);
        assertThat(new PilotGate(.02, 12).hostsForAskedLimit()).isEqualTo(148);
    }

    @Test
    void aPilotHasHostsAndALimit() {
        assertThatThrownBy(() -> new PilotGate(0, 12)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> new PilotGate(.05, 0)).isInstanceOf(IllegalArgumentException.class);
    }
}
