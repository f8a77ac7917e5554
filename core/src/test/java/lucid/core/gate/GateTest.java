package lucid.core.gate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class GateTest {

    @ParameterizedTest
    @CsvSource({"0.05, 0, 58", "0.05, 1, 92", "0.05, 2, 123", "0.05, 3, 152", "0.02, 0, 148"})
    void asksForSoManyTries(double limit, int failures, int tries) {
        Gate gate = new Gate(limit);
        assertThat(gate.triesToMeet(failures)).isEqualTo(tries);
        assertThat(gate.isMet(tries, failures)).isTrue();
        assertThat(gate.isMet(tries - 1, failures)).isFalse();
    }

    @Test
    void aLimitIsARate() {
        assertThatThrownBy(() -> new Gate(0)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> new Gate(1)).isInstanceOf(IllegalArgumentException.class);
    }
}
