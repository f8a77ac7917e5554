package lucid.core.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import org.junit.jupiter.api.Test;

class InventoriesTest {

    private static InstalledProduct product(String purl) {
        PackageReference reference = PackageReference.parse(purl);
        return new InstalledProduct(reference.build(), reference.version().orElseThrow());
    }

    private static List<InstalledProduct> products(String... purls) {
        return Stream.of(purls).map(InventoriesTest::product).toList();
    }

    @Test
    void whatCameWentAndChangedIsTold() {
        Map<ProductBuild, Inventories.Difference> differences = Inventories.differences(
                products(
                        "pkg:deb/fathom/stays@1",
                        "pkg:deb/fathom/goes@1",
                        "pkg:deb/fathom/lib@9",
                        "pkg:deb/fathom/kernel@1",
                        "pkg:deb/fathom/kernel@10"),
                products(
                        "pkg:deb/fathom/stays@1",
                        "pkg:deb/fathom/comes@1",
                        "pkg:deb/fathom/lib@10",
                        "pkg:deb/fathom/kernel@10",
                        "pkg:deb/fathom/kernel@11"));
        assertThat(differences)
                .containsOnly(
                        Map.entry(
                                product("pkg:deb/fathom/goes@1").build(),
                                new Inventories.Difference(List.of("1"), List.of())),
                        Map.entry(
                                product("pkg:deb/fathom/comes@1").build(),
                                new Inventories.Difference(List.of(), List.of("1"))),
                        Map.entry(
                                product("pkg:deb/fathom/lib@1").build(),
                                new Inventories.Difference(List.of("9"), List.of("10"))),
                        Map.entry(
                                product("pkg:deb/fathom/kernel@1").build(),
                                new Inventories.Difference(List.of("1", "10"), List.of("10", "11"))));
        assertThat(differences.get(product("pkg:deb/fathom/kernel@1").build()).highestBefore())
                .contains("10");
        assertThat(differences.get(product("pkg:deb/fathom/goes@1").build()).highestAfter())
                .isEmpty();
    }

    /** Equal facts may be the same object, or not: that must not matter. */
    @Test
    void differencesAreThoseOfTheSets() {
        Random random = new Random(3);
        for (int round = 0; round < 500; round++) {
            List<InstalledProduct> before = some(random);
            List<InstalledProduct> after = new ArrayList<>(before);
            after.removeIf(product -> random.nextInt(4) == 0);
            after.replaceAll(
                    product -> random.nextBoolean() ? product : product(product.build() + "@" + product.version()));
            after.addAll(some(random).subList(0, 2));
            Map<ProductBuild, Inventories.Difference> expected = new HashMap<>();
            for (ProductBuild build : builds(before, after)) {
                List<String> had = versions(before, build);
                List<String> has = versions(after, build);
                if (!had.equals(has)) {
                    expected.put(build, new Inventories.Difference(had, has));
                }
            }
            assertThat(Inventories.differences(before, after)).isEqualTo(expected);
        }
    }

    private static List<InstalledProduct> some(Random random) {
        return random.ints(6, 0, 5)
                .mapToObj(p -> product("pkg:deb/fathom/p" + p + "@" + (1 + random.nextInt(12))))
                .toList();
    }

    private static Set<ProductBuild> builds(List<InstalledProduct> before, List<InstalledProduct> after) {
        Set<ProductBuild> builds = new HashSet<>();
        Stream.concat(before.stream(), after.stream()).forEach(product -> builds.add(product.build()));
        return builds;
    }

    private static List<String> versions(List<InstalledProduct> products, ProductBuild build) {
        return products.stream()
                .filter(product -> product.build().equals(build))
                .map(InstalledProduct::version)
                .distinct()
                .sorted(build.product().ordering())
                .toList();
    }
}
