package lucid.core.update;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Optional;
import lucid.core.update.Fix.Standing;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FixTest {

    private static final ProductBuild CISTERN =
            PackageReference.parse("pkg:generic/cistern").build();

    private static Fix fix(AffectedRange... tracks) {
        return new Fix(CISTERN, List.of(tracks));
    }

    @ParameterizedTest
    @CsvSource({"7.2.126, LACKS", "7.2.140, HAS", "7.2.300, HAS", "7.2.531, LACKS", "7.2.560, HAS", "7.1, NOT_SPOKEN_OF"
    })
    void trackRule(String version, Standing expected) {
        Fix twoTracks = fix(AffectedRange.between("7.2.500", "7.2.560"), AffectedRange.between("7.2.100", "7.2.140"));
        assertThat(twoTracks.standing(version)).isEqualTo(expected);
    }

    @Test
    void withoutIntroducedFromTheLowestVersion() {
        assertThat(fix(AffectedRange.below("2.0")).standing("0.0.1")).isEqualTo(Standing.LACKS);
        assertThat(fix(AffectedRange.below("2.0")).standing("2")).isEqualTo(Standing.HAS);
    }

    @Test
    void lastAffectedIsAnInclusiveEndWithNothingToInstall() {
        Fix fix = fix(AffectedRange.upTo("2.0"));
        assertThat(fix.standing("2.0.0")).isEqualTo(Standing.LACKS);
        assertThat(fix.standing("2.0.1")).isEqualTo(Standing.HAS);
        assertThat(fix.tracks().get(0).fixed()).isEmpty();
    }

    @Test
    void withoutEndEverythingLacks() {
        assertThat(fix(new AffectedRange(Optional.of("1.0"), Optional.empty(), false))
                        .standing("99"))
                .isEqualTo(Standing.LACKS);
    }

    @ParameterizedTest
    @CsvSource({"0.9, HAS", "1.0, LACKS", "1.1, HAS", "2.0, HAS", "2.0.1, LACKS", "3.0, LACKS", "3.1, HAS"})
    void aSingleVersionAndARangeThatBeginsAfterOne(String version, Standing expected) {
        Fix fix = fix(
                AffectedRange.below("0.5"),
                AffectedRange.only("1.0"),
                new AffectedRange(Optional.of("2.0"), true, Optional.of("3.0"), true));
        assertThat(fix.standing(version)).isEqualTo(expected);
    }

    @Test
    void rangesMayMeetAtAVersionThatIsLeftOut() {
        AffectedRange after = new AffectedRange(Optional.of("2.0"), true, Optional.of("3.0"), false);
        assertThat(fix(AffectedRange.between("1.0", "2.0"), after).standing("2.0"))
                .isEqualTo(Standing.HAS);
        assertThat(fix(new AffectedRange(Optional.of("1.0"), Optional.of("2.0"), true), after)
                        .standing("2.0"))
                .isEqualTo(Standing.LACKS);
        assertThatThrownBy(() -> fix(new AffectedRange(Optional.of("2.0"), true, Optional.of("2.0"), true)))
                .hasMessageContaining("empty");
    }

    @Test
    void refusesContradictoryRangesAndNamesThem() {
        assertThatThrownBy(() -> fix(AffectedRange.between("1", "3"), AffectedRange.between("2", "4")))
                .hasMessageContaining("[1, 3) reaches over the beginning of [2, 4)");
        assertThatThrownBy(() -> fix(AffectedRange.between("1", "3"), AffectedRange.between("1.0", "4")))
                .hasMessageContaining("begin at the same version");
        assertThatThrownBy(() -> fix(AffectedRange.between("3", "3"))).hasMessageContaining("empty");
        assertThatThrownBy(() -> fix()).hasMessageContaining("no affected range");
        assertThatThrownBy(() -> fix(AffectedRange.below("1.x"))).hasMessageContaining("'1.x' is no dotted version");
        assertThat(fix(AffectedRange.between("1", "2"), AffectedRange.between("2", "3"))
                        .tracks())
                .hasSize(2);
    }

    @Test
    void collectsTheRangesOfOneBuild() {
        Fix first = fix(AffectedRange.between("1", "1.5"));
        Fix second = fix(AffectedRange.between("2", "2.5"));
        assertThat(Fix.collect(List.of(second, first, first)))
                .containsExactly(fix(AffectedRange.between("1", "1.5"), AffectedRange.between("2", "2.5")));
    }

    @Test
    void distributionAndArchitectureCountOnlyWhereGiven() {
        ProductBuild any = PackageReference.parse("pkg:deb/fathom/libtls").build();
        ProductBuild amd64 = PackageReference.parse("pkg:deb/fathom/libtls?arch=amd64&distro=fathom-31")
                .build();
        assertThat(any.covers(amd64)).isTrue();
        assertThat(amd64.covers(any)).isFalse();
        assertThat(amd64.covers(amd64)).isTrue();
    }

    @Test
    void packageUrls() {
        PackageReference tls = PackageReference.parse("pkg:rpm/tarn/libtls@3.2.9-1?epoch=2&arch=x86_64");
        assertThat(tls.version()).contains("2:3.2.9-1");
        assertThat(tls.build().product().purl()).isEqualTo("pkg:rpm/tarn/libtls");
        assertThat(tls.build().product().name()).isEqualTo("libtls");
        assertThatThrownBy(() -> PackageReference.parse("libtls")).hasMessageContaining("'libtls' is no package URL");
        assertThatThrownBy(() -> PackageReference.parse("pkg:deb/fathom/lïb")).hasMessageContaining("printable ASCII");
        assertThatThrownBy(() -> PackageReference.parse("pkg:generic/x@1.b")).hasMessageContaining("'1.b'");
    }
}
