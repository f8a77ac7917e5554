package lucid.core.update;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ProductMappingTest {

    private static ProductMapping mapping(long number, ProductMapping.How how, String pattern, String purl) {
        return new ProductMapping(
                number,
                "Tarn",
                how,
                pattern,
                Optional.of(purl).filter(text -> !text.isEmpty()).map(ProductMapping.Target::new));
    }

    private static Optional<String> read(ProductMappings mappings, String name) {
        return mappings.of("TARN ", List.of(name), Optional.of("cpe:/a:tarn:cistern:8.7"))
                .flatMap(ProductMappings.Mapped::reference)
                .map(reference -> reference.build()
                        + reference.version().map(v -> " @ " + v).orElse(""));
    }

    @ParameterizedTest
    @CsvSource({
        "libtls-0:3.2.9-1.el9.x86_64, libtls, 3.2.9-1.el9, x86_64",
        "kernel-rt-2:5.14.0-1.src, kernel-rt, 2:5.14.0-1, src",
        "g++-0:12-2, g++, 12-2, ''",
        "a-b-c-1:2.0~rc1-3.noarch, a-b-c, 1:2.0~rc1-3, noarch",
    })
    void aNameOfAPackageTellsNameVersionAndArchitecture(String text, String name, String version, String arch) {
        assertThat(ProductMapping.PackageName.of(text))
                .contains(new ProductMapping.PackageName(
                        name, version, Optional.of(arch).filter(a -> !a.isEmpty())));
    }

    @ParameterizedTest
    @CsvSource({"libtls-3.2.9-1", "libtls", "Tarn Linux 4", "-0:1-1", "a-0:1", "a b-0:1-1"})
    void otherNamesTellNoPackage(String text) {
        assertThat(ProductMapping.PackageName.of(text)).isEmpty();
    }

    @Test
    void theMostExactMappingCountsAndOfTheSameKindTheNewest() {
        ProductMapping all = mapping(5, ProductMapping.How.NAME, "*", "pkg:generic/all");
        ProductMapping exact = mapping(1, ProductMapping.How.NAME, "Cistern", "pkg:generic/cistern");
        ProductMapping cpe = mapping(2, ProductMapping.How.CPE, "cpe:/a:tarn:*", "pkg:generic/by-cpe");
        ProductMapping packages = mapping(3, ProductMapping.How.PACKAGE, "*", "pkg:rpm/tarn/*?distro=tarn-4");
        ProductMappings mappings = new ProductMappings(List.of(all, exact, cpe, packages));
        assertThat(read(mappings, "cistern")).contains("pkg:generic/cistern");
        assertThat(read(mappings, "viewer")).contains("pkg:generic/by-cpe");
        ProductMappings withoutCpe = new ProductMappings(List.of(all, exact, packages));
        assertThat(read(withoutCpe, "viewer")).contains("pkg:generic/all");
        assertThat(read(withoutCpe, "libtls-0:3.2.9-1.src"))
                .contains("pkg:rpm/tarn/libtls on tarn-4 for source @ 3.2.9-1");
        ProductMapping newer = mapping(9, ProductMapping.How.NAME, "Cistern", "");
        assertThat(new ProductMappings(List.of(exact, newer)).of("Tarn", List.of("Cistern"), Optional.empty()))
                .hasValueSatisfying(mapped -> assertThat(mapped.reference()).isEmpty());
        assertThat(mappings.of("Fathom", List.of("Cistern"), Optional.empty())).isEmpty();
    }

    @Test
    void aStarStandsForAnyTextAndNothingElseIsSpecial() {
        ProductMappings mappings = new ProductMappings(
                List.of(mapping(1, ProductMapping.How.NAME, "Harbour (Browser)*", "pkg:generic/b")));
        assertThat(mappings.of("Tarn", List.of("harbour (browser) 118"), Optional.empty()))
                .isPresent();
        assertThat(mappings.of("Tarn", List.of("Harbour Browser 118"), Optional.empty()))
                .isEmpty();
    }

    @Test
    void whatMakesNoMappingIsRefusedInWords() {
        assertThatThrownBy(() -> mapping(1, ProductMapping.How.NAME, "x", "cistern"))
                .hasMessageContaining("no package URL");
        assertThatThrownBy(() -> mapping(1, ProductMapping.How.NAME, "x", "pkg:generic/cistern@8.7"))
                .hasMessageContaining("has a version");
        assertThatThrownBy(() -> mapping(1, ProductMapping.How.NAME, "x", "pkg:rpm/tarn/*"))
                .hasMessageContaining("names that begin with the name of the package");
        assertThatThrownBy(() -> mapping(1, ProductMapping.How.NAME, " ", "pkg:generic/c"))
                .hasMessageContaining("a vendor and a product");
    }
}
