package lucid.core.fleet;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.ProductBuild;

/**
 * What a package system's own log tells of one package: it was installed, removed, or did not get so far. The log knows
 * no updates; which of them the change brought, took away or failed to bring follows from what they fix.
 *
 * @param from version before, empty if it was not there
 * @param to version after, or that was meant to be; empty if it was removed
 * @param code of a failure, where told
 */
public record PackageChange(
        ProductBuild build, What what, Optional<String> from, Optional<String> to, Instant at, Optional<String> code) {

    public enum What {
        INSTALLED,
        REMOVED,
        FAILED
    }

    /**
     * The outcomes of updates on a host that this change amounts to: an update is installed, or failed, if its fix was
     * lacking before and is there after, and removed if an earlier version took the place of one that has it.
     *
     * @param known products that the host told of before and after, which tell from what a version was built
     */
    public List<Outcome> outcomes(Catalogue catalogue, int host, Collection<InstalledProduct> known) {
        if (from.isEmpty() || to.isEmpty()) {
            return List.of();
        }
        InstalledProduct before = known(from.get(), known);
        InstalledProduct after = known(to.get(), known);
        return Stream.of(
                        build.product(),
                        before.sourceBuild().product(),
                        after.sourceBuild().product())
                .distinct()
                .flatMap(product -> catalogue.ofProduct(product).stream())
                .distinct()
                .flatMap(update -> update.fixes().stream()
                        .flatMap(fix -> meaning(fix, before, after).stream())
                        .map(meaning -> new Outcome(
                                host,
                                update.id(),
                                Optional.empty(),
                                meaning,
                                at,
                                meaning == Outcome.What.FAILED ? code : Optional.empty(),
                                Optional.empty(),
                                Optional.of(before))))
                .distinct()
                .toList();
    }

    private InstalledProduct known(String version, Collection<InstalledProduct> known) {
        return known.stream()
                .filter(product ->
                        product.build().equals(build) && product.version().equals(version))
                .findFirst()
                .orElseGet(() -> new InstalledProduct(build, version));
    }

    private Optional<Outcome.What> meaning(Fix fix, InstalledProduct earlier, InstalledProduct later) {
        Optional<Fix.Standing> before = earlier.judgedAs(fix.build()).map(fix::standing);
        Optional<Fix.Standing> after = later.judgedAs(fix.build()).map(fix::standing);
        if (before.equals(Optional.of(Fix.Standing.LACKS)) && after.equals(Optional.of(Fix.Standing.HAS))) {
            return Optional.of(what == What.FAILED ? Outcome.What.FAILED : Outcome.What.INSTALLED);
        }
        return before.equals(Optional.of(Fix.Standing.HAS))
                        && after.equals(Optional.of(Fix.Standing.LACKS))
                        && what == What.INSTALLED
                ? Optional.of(Outcome.What.REMOVED)
                : Optional.empty();
    }
}
