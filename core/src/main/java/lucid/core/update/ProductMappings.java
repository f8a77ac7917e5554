package lucid.core.update;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * All mappings of product names that are in use. For one product the first of these counts: one that names it exactly,
 * then by CPE, by package, by a name with {@code *}; of several the newest.
 */
public record ProductMappings(List<ProductMapping> mappings) {

    private static final Comparator<ProductMapping> FIRST_COUNTS = Comparator.comparing(
                    (ProductMapping mapping) -> !mapping.isExact())
            .thenComparing(mapping -> switch (mapping.how()) {
                case CPE -> 0;
                case PACKAGE -> 1;
                case NAME -> 2;
            })
            .thenComparing(Comparator.comparing(ProductMapping::number).reversed());

    public static final ProductMappings NONE = new ProductMappings(List.of());

    public ProductMappings {
        mappings = mappings.stream().sorted(FIRST_COUNTS).toList();
    }

    /**
     * What a product is mapped to.
     *
     * @param reference its package URL, with the version where its name tells one; empty: no host here has it
     */
    public record Mapped(ProductMapping by, Optional<PackageReference> reference) {}

    /** @param names of the product, the nearest first */
    public Optional<Mapped> of(String vendor, List<String> names, Optional<String> cpe) {
        return mappings.stream()
                .filter(mapping -> mapping.isOf(vendor))
                .flatMap(mapping -> mapped(mapping, names, cpe).stream())
                .findFirst();
    }

    private static Optional<Mapped> mapped(ProductMapping mapping, List<String> names, Optional<String> cpe) {
        Stream<String> candidates = mapping.how() == ProductMapping.How.CPE ? cpe.stream() : names.stream();
        return candidates
                .filter(mapping::matches)
                .flatMap(name -> mapped(mapping, name).stream())
                .findFirst();
    }

    private static Optional<Mapped> mapped(ProductMapping mapping, String name) {
        if (mapping.target().isEmpty()) {
            return Optional.of(new Mapped(mapping, Optional.empty()));
        }
        ProductMapping.Target target = mapping.target().get();
        if (mapping.how() != ProductMapping.How.PACKAGE) {
            return Optional.of(new Mapped(mapping, Optional.of(target.of(name))));
        }
        return ProductMapping.PackageName.of(name).map(named -> {
            ProductBuild build = target.of(named.name()).build();
            return new Mapped(
                    mapping,
                    Optional.of(new PackageReference(
                            new ProductBuild(
                                    build.product(),
                                    build.distro(),
                                    build.arch().isEmpty()
                                            ? PackageReference.arch(named.arch().orElse(""))
                                            : build.arch()),
                            Optional.of(named.version()))));
        });
    }
}
