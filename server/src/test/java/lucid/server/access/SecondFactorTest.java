package lucid.server.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import org.apache.commons.codec.binary.Base32;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SecondFactorTest {

    private static final String KEY =
            new Base32().encodeToString("12345678901234567890".getBytes(StandardCharsets.US_ASCII));

    /** RFC 6238, appendix B, SHA-1; the last six of its eight digits. */
    @ParameterizedTest
    @CsvSource({
        "59, 287082",
        "1111111109, 081804",
        "1111111111, 050471",
        "1234567890, 005924",
        "2000000000, 279037",
        "20000000000, 353130"
    })
    void codesOfTheStandard(long seconds, String code) {
        assertThat(SecondFactor.code(KEY, Instant.ofEpochSecond(seconds))).isEqualTo(code);
        assertThat(SecondFactor.step(KEY, code, Instant.ofEpochSecond(seconds), 0))
                .hasValue(seconds / 30);
    }

    @Test
    void aClockMayBeOffByAStepAndEachStepCountsOnce() {
        Instant now = Instant.ofEpochSecond(1_234_567_890);
        String code = SecondFactor.code(KEY, now);
        assertThat(SecondFactor.step(KEY, code, now.plusSeconds(30), 0)).isPresent();
        assertThat(SecondFactor.step(KEY, code, now.plusSeconds(60), 0)).isEmpty();
        assertThat(SecondFactor.step(
                        KEY, code, now, SecondFactor.step(KEY, code, now, 0).getAsLong()))
                .isEmpty();
        assertThat(SecondFactor.step(KEY, "12345", now, 0)).isEmpty();
    }
}
