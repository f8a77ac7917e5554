package lucid.core.fleet;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import lucid.core.update.Fix;

/**
 * What the package manager of a host knows from the lists of its sources.
 *
 * @param fetched instant at which it last fetched them
 * @param newer versions in them above the installed ones, two of a product at most: what it would install, and the
 *     highest where that is another
 * @param cameFrom how many of the installed products its lists name in each source, by the address of the source
 */
public record PackageLists(Instant fetched, List<Newer> newer, Map<String, Integer> cameFrom) {

    /** @param candidate true if the package manager would install it; else something on the host keeps it back */
    public record Newer(InstalledProduct product, boolean candidate) {}

    public PackageLists {
        newer = List.copyOf(newer);
        cameFrom = Map.copyOf(cameFrom);
    }

    /** True if they have a version of that product, of its own build, to which {@code fix} is applied. */
    public boolean bring(Fix fix, InstalledProduct installed) {
        return newer.stream()
                .map(Newer::product)
                .filter(product -> product.build().equals(installed.build()))
                .anyMatch(product -> product.judgedAs(fix.build())
                        .filter(version -> fix.standing(version) == Fix.Standing.HAS)
                        .isPresent());
    }
}
