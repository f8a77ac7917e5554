package lucid.core.fleet;

import static lucid.core.TestFleet.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import lucid.core.TestFleet;
import lucid.core.update.Catalogue;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import org.junit.jupiter.api.Test;

class PackageChangeTest {

    private static final Catalogue CATALOGUE = Catalogue.EMPTY.with(List.of(
            TestFleet.update("F-1", "pkg:deb/fathom/libtls@1.1"),
            TestFleet.update("F-2", "pkg:deb/fathom/libtls@1.2"),
            TestFleet.update("OTHER", "pkg:deb/fathom/shell@1.1")));

    private static List<String> outcomes(PackageChange.What what, String from, String to) {
        PackageChange change = new PackageChange(
                PackageReference.parse("pkg:deb/fathom/libtls?arch=amd64").build(),
                what,
                Optional.ofNullable(from),
                Optional.ofNullable(to),
                NOW,
                Optional.of("code"));
        return change.outcomes(CATALOGUE, 7, List.of()).stream()
                .map(o -> o.what() + " " + o.updateId()
                        + o.code().map(c -> " " + c).orElse(""))
                .sorted()
                .toList();
    }

    @Test
    void anInstallBringsEveryUpdateWhoseFixWasLackingBefore() {
        assertThat(outcomes(PackageChange.What.INSTALLED, "1.0", "1.2"))
                .containsExactly("INSTALLED F-1", "INSTALLED F-2");
        assertThat(outcomes(PackageChange.What.INSTALLED, "1.1", "1.2")).containsExactly("INSTALLED F-2");
        assertThat(outcomes(PackageChange.What.INSTALLED, "1.2", "1.3")).isEmpty();
        assertThat(outcomes(PackageChange.What.INSTALLED, null, "1.2"))
                .as("a package that was not there lacked nothing")
                .isEmpty();
    }

    @Test
    void aFailureFailedToBringThem() {
        assertThat(outcomes(PackageChange.What.FAILED, "1.1", "1.2")).containsExactly("FAILED F-2 code");
    }

    @Test
    void anEarlierVersionTakesThemAway() {
        assertThat(outcomes(PackageChange.What.INSTALLED, "1.2", "1.0")).containsExactly("REMOVED F-1", "REMOVED F-2");
        assertThat(outcomes(PackageChange.What.REMOVED, "1.2", null))
                .as("without the package the update speaks of nothing")
                .isEmpty();
    }

    @Test
    void whatIsBuiltFromASourcePackageIsJudgedByItsSource() {
        ProductBuild binary =
                PackageReference.parse("pkg:deb/fathom/libtls3?arch=amd64").build();
        PackageChange change = new PackageChange(
                binary,
                PackageChange.What.INSTALLED,
                Optional.of("1.0-1+b4"),
                Optional.of("1.1-1+b1"),
                NOW,
                Optional.empty());
        Catalogue ofSource =
                Catalogue.EMPTY.with(List.of(TestFleet.update("S-1", "pkg:deb/fathom/tls@1.1-1?arch=source")));
        List<InstalledProduct> known = List.of(
                new InstalledProduct(
                        binary, "1.0-1+b4", Optional.of(new InstalledProduct.SourcePackage("tls", "1.0-1"))),
                new InstalledProduct(
                        binary, "1.1-1+b1", Optional.of(new InstalledProduct.SourcePackage("tls", "1.1-1"))));
        assertThat(change.outcomes(ofSource, 7, known)).singleElement().satisfies(outcome -> assertThat(outcome.what())
                .isEqualTo(Outcome.What.INSTALLED));
        assertThat(change.outcomes(ofSource, 7, List.of()))
                .as("without a source nothing is known")
                .isEmpty();
    }
}
