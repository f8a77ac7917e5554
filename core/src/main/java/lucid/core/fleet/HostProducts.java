package lucid.core.fleet;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lucid.core.update.Fix;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;

/** What a host has installed, in which that is found of which fixes speak: made for one question about many updates. */
public final class HostProducts {

    private final Host host;
    private final Map<Product, List<InstalledProduct>> own = new HashMap<>();
    /** Made when first asked for: most fixes speak of no source. */
    private Map<Product, List<InstalledProduct>> bySource;

    public HostProducts(Host host) {
        this.host = host;
        host.products().forEach(installed -> add(own, installed.build().product(), installed));
    }

    private static void add(
            Map<Product, List<InstalledProduct>> products, Product product, InstalledProduct installed) {
        products.computeIfAbsent(product, any -> new ArrayList<>(1)).add(installed);
    }

    private List<InstalledProduct> judgedAs(ProductBuild named) {
        if (!named.isSource()) {
            return own.getOrDefault(named.product(), List.of());
        }
        if (bySource == null) {
            bySource = new HashMap<>();
            host.products()
                    .forEach(installed -> add(bySource, installed.sourceBuild().product(), installed));
        }
        return bySource.getOrDefault(named.product(), List.of());
    }

    /** As {@link Host#spokenOf(Fix)}. */
    public List<Host.SpokenOf> spokenOf(Fix fix) {
        return host.spokenOf(fix, judgedAs(fix.build()));
    }

    /** True if some version of it is one that an update fixes; without one the host lacks nothing of the update. */
    public boolean hasBefore(Update update) {
        return update.fixes().stream().anyMatch(fix -> spokenOf(fix).stream()
                .anyMatch(spokenOf -> fix.standing(spokenOf.version()) == Fix.Standing.LACKS));
    }

    /** What must be restarted on the host for an update: the strongest need of the products that it has. */
    public RestartNeed restartFor(Update update) {
        return update.fixes().stream()
                .filter(fix -> !spokenOf(fix).isEmpty())
                .map(fix -> update.restarts().of(fix.build()))
                .max(Comparator.naturalOrder())
                .orElseGet(update::restart);
    }
}
