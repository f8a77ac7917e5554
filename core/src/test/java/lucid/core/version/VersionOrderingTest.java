package lucid.core.version;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class VersionOrderingTest {

    @ParameterizedTest
    @CsvSource({
        "DEB, 1.0~rc1, <, 1.0",
        "DEB, 1.0, <, 1.0+u1",
        "DEB, 1:0.1, >, 9.9",
        "DEB, 1.0-1, <, 1.0-2",
        "DEB, 1.0, =, 1.0-0",
        "DEB, 1.010, =, 1.10",
        "DEB, 1.0a, <, 1.0+",
        "DEB, 0:1.0, =, 1.0",
        "DEB, 99999999999999999999, <, 100000000000000000000",
        "RPM, 1.0~rc1-1, <, 1.0-1",
        "RPM, 1.0^git1-1, >, 1.0-1",
        "RPM, 1.0^git1, <, 1.0.1",
        "RPM, 1.0, <, 1.0-5",
        "RPM, 1:1, >, 2-9",
        "RPM, 1.0a, <, 1.0.1",
        "RPM, 1..0, =, 1.0",
        "RPM, 1.007, =, 1.7",
        "RPM, 2a, >, 2",
        "RPM, 1.0, =, 1_0",
        "DOTTED, 6.0.1107, <, 6.0.1114",
        "DOTTED, 6, =, 6.0.0",
        "DOTTED, 7.0-rc.2, <, 7.0",
        "DOTTED, 7.0-rc.2, <, 7.0-rc.10",
        "DOTTED, 7.0-rc, <, 7.0-rc.1",
        "DOTTED, 7.0-1, <, 7.0-a",
        "DOTTED, 10.0, >, 9.99",
        "MAVEN, 5.0.0.CR1, <, 5.0.0.Final",
        "MAVEN, 1.0-SNAPSHOT, <, 1.0",
        "MAVEN, 1.10, >, 1.9",
        "SEMANTIC, 1.0.0-rc.2, <, 1.0.0-rc.10",
        "SEMANTIC, 1.0.0+build.5, =, 1.0.0+build.7",
        "SEMANTIC, v1.2.3, =, 1.2.3",
    })
    void ordersAsItsPackageSystemDoes(VersionOrdering ordering, String a, String sign, String b) {
        int expected = "<=>".indexOf(sign) - 1;
        assertThat(Integer.signum(ordering.compare(a, b))).isEqualTo(expected);
        assertThat(Integer.signum(ordering.compare(b, a))).isEqualTo(-expected);
    }

    @ParameterizedTest
    @CsvSource({
        "DEB, ''",
        "DEB, a1",
        "DEB, 1.0-",
        "DEB, x:1",
        "DEB, 1 0",
        "DEB, 1.0_1",
        "DEB, 2147483648:1",
        "DEB, 1:",
        "DEB, :1",
        "RPM, ''",
        "RPM, 1.0-",
        "RPM, 1-2-3",
        "RPM, a:1",
        "RPM, 1/2",
        "DOTTED, ''",
        "DOTTED, 1..2",
        "DOTTED, 1.0b",
        "DOTTED, 1.0-",
        "DOTTED, 1.0-a..b",
        "DOTTED, v1",
        "DOTTED, 1.0+5",
        "SEMANTIC, 1.2",
        "SEMANTIC, one",
    })
    void refusesWhatItCannotCompareAndSaysWhy(VersionOrdering ordering, String version) {
        assertThat(ordering.fault(version)).isPresent();
        assertThatThrownBy(() -> ordering.require(version))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("'" + version + "'");
    }

    @Test
    void packageUrlTypeFixesTheOrdering() {
        assertThat(VersionOrdering.ofPackageType("deb")).isEqualTo(VersionOrdering.DEB);
        assertThat(VersionOrdering.ofPackageType("rpm")).isEqualTo(VersionOrdering.RPM);
        assertThat(VersionOrdering.ofPackageType("generic")).isEqualTo(VersionOrdering.DOTTED);
    }

    @ParameterizedTest
    @CsvSource({
        "deb, DEB",
        "rpm, RPM",
        "maven, MAVEN",
        "npm, SEMANTIC",
        "cargo, SEMANTIC",
        "golang, SEMANTIC",
        "generic, DOTTED",
        "apk, UNKNOWN",
        "pypi, UNKNOWN",
        "nuget, UNKNOWN",
        "gem, UNKNOWN",
        "oci, UNKNOWN",
    })
    void aPackageTypeHasTheOrderingOfItsSystemOrNone(String type, VersionOrdering ordering) {
        assertThat(VersionOrdering.ofPackageType(type)).isEqualTo(ordering);
        assertThat(ordering.isKnown()).isEqualTo(ordering != VersionOrdering.UNKNOWN);
    }
}
