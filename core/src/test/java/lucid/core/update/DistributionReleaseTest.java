package lucid.core.update;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DistributionReleaseTest {

    @ParameterizedTest
    @CsvSource({
        "bookworm, debian-12",
        "debian-12, Debian GNU/Linux 12 (bookworm)",
        "Debian:12, debian-12",
        "12, debian-12",
        "12, debian-12.5",
        "jammy, ubuntu-22.04",
        "ubuntu-22.04, Ubuntu 22.04.3 LTS",
        "Ubuntu:22.04:LTS, ubuntu-22.04",
        "Tarn Linux 4, tarn-4",
        "tarn-4, Tarn Linux 4.2",
        "tarn, Tarn Linux 4",
        "Tarn Enterprise Linux AppStream (v. 9), tarn-9.2",
        "Red Hills Enterprise Linux 9, rhel-9.4",
        "rhel-9, Red Hills Enterprise Linux 9.4",
        "el9, rhel-9.4",
        "31, Fathom OS",
        "'', anything",
    })
    void oneReleaseHasManySpellings(String told, String host) {
        assertThat(DistributionRelease.covers(told, host)).isTrue();
    }

    @ParameterizedTest
    @CsvSource({
        "bookworm, debian-13",
        "trixie, Debian GNU/Linux 12",
        "12, debian-1",
        "12.04, debian-12.10",
        "Tarn Linux 4, tarn-41",
        "rolling, fathom-31",
    })
    void anotherReleaseIsAnother(String told, String host) {
        assertThat(DistributionRelease.covers(told, host)).isFalse();
    }
}
