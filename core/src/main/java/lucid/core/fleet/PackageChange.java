package lucid.core.fleet;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
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
     */
    public List<Outcome> outcomes(Catalogue catalogue, int host) {
        return catalogue.ofProduct(build.product()).stream()
                .flatMap(update -> update.fixes().stream()
                        .filter(fix -> fix.build().covers(build))
                        .flatMap(fix -> meaning(fix).stream())
                        .map(meaning -> new Outcome(
                                host,
                                update.id(),
                                Optional.empty(),
                                meaning,
                                at,
                                meaning == Outcome.What.FAILED ? code : Optional.empty(),
                                Optional.empty(),
                                from.map(version -> new InstalledProduct(build, version)))))
                .distinct()
                .toList();
    }

    private Optional<Outcome.What> meaning(Fix fix) {
        if (from.isEmpty() || to.isEmpty()) {
            return Optional.empty();
        }
        Fix.Standing before = fix.standing(from.get());
        Fix.Standing after = fix.standing(to.get());
        if (before == Fix.Standing.LACKS && after == Fix.Standing.HAS) {
            return Optional.of(what == What.FAILED ? Outcome.What.FAILED : Outcome.What.INSTALLED);
        }
        return before == Fix.Standing.HAS && after == Fix.Standing.LACKS && what == What.INSTALLED
                ? Optional.of(Outcome.What.REMOVED)
                : Optional.empty();
    }
}
