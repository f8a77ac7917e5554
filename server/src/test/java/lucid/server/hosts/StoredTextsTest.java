package lucid.server.hosts;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.Absence;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.PackageLists;
import lucid.core.fleet.Trait;
import lucid.core.update.PackageReference;
import org.junit.jupiter.api.Test;

/** What is written into the database is read again as it was. */
class StoredTextsTest {

    private static InstalledProduct product(String purl, String version) {
        return new InstalledProduct(PackageReference.parse(purl).build(), version);
    }

    private static InstalledProduct built(String version, String sourceVersion) {
        return new InstalledProduct(
                PackageReference.parse("pkg:deb/fathom/libtls3?arch=amd64&distro=fathom-31")
                        .build(),
                version,
                Optional.of(new InstalledProduct.SourcePackage("tls", sourceVersion)));
    }

    @Test
    void listsOfSources() {
        PackageLists lists = new PackageLists(
                Instant.parse("2026-11-01T00:00:00.123Z"),
                List.of(
                        new PackageLists.Newer(built("3.2.9-1+b1", "3.2.9-1"), true),
                        new PackageLists.Newer(product("pkg:generic/cistern", "9.5"), false)),
                Map.of("http://one.example/a b", 3, "", 1));
        assertThat(HostColumns.readLists(HostColumns.writeLists(lists))).isEqualTo(lists);
    }

    @Test
    void inventories() {
        List<InstalledProduct> products = List.of(
                product("pkg:deb/fathom/libtls?arch=amd64&distro=fathom-31", "1:3.2.9-1+u1~rc"),
                product("pkg:generic/cistern", "9.4"),
                built("3.2.8-2+b1", "3.2.8-2"));
        assertThat(HostColumns.readProducts(HostColumns.writeProducts(products)))
                .containsExactlyInAnyOrderElementsOf(products);
        assertThat(HostColumns.readProducts(HostColumns.writeProducts(List.of())))
                .isEmpty();
    }

    @Test
    void theSameInventoryInAnotherOrderIsTheSameContent() {
        InstalledProduct a = product("pkg:generic/a", "1");
        InstalledProduct b = product("pkg:generic/b", "1");
        assertThat(HostColumns.writeProducts(List.of(a, b))).isEqualTo(HostColumns.writeProducts(List.of(b, a)));
    }

    @Test
    void traits() {
        Map<String, Trait> traits = Map.of(
                "model",
                new Trait.Text("300"),
                "free",
                new Trait.Number(new BigDecimal("0.10")),
                "large",
                new Trait.Number(new BigDecimal("123456789012345678901234567890")),
                "signed",
                new Trait.Truth(false),
                "quote\"d",
                new Trait.Text("a\nb"));
        assertThat(HostColumns.readTraits(HostColumns.writeTraits(traits))).isEqualTo(traits);
    }

    @Test
    void absences() {
        List<Absence> absences = List.of(
                new Absence(Instant.parse("2026-11-01T00:00:00Z"), Instant.parse("2026-11-04T05:00:00.123Z")),
                new Absence(Instant.EPOCH, Instant.EPOCH));
        assertThat(HostColumns.readAbsences(HostColumns.writeAbsences(absences)))
                .isEqualTo(absences);
        assertThat(HostColumns.readAbsences(HostColumns.writeAbsences(List.of())))
                .isEmpty();
    }
}
