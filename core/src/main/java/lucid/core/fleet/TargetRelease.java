package lucid.core.fleet;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.update.AffectedRange;
import lucid.core.update.Kind;
import lucid.core.update.Product;
import lucid.core.update.Update;

/**
 * The release of a platform that a population stays at: its rule offers what leads up to it, and nothing above it. What
 * is above it already is never lowered.
 *
 * @param product the platform, as its upgrades name it
 * @param release version of it, as far as one says it: 6 stands for every 6.1 and 6.0.420 too
 * @param supportEnds last day on which its vendor supports it; none: nobody said
 */
public record TargetRelease(Product product, String release, Optional<LocalDate> supportEnds) {

    /** Where a population stands to its target release. */
    public enum Standing {
        BELOW,
        AT,
        ABOVE
    }

    /** @throws IllegalArgumentException if the release is no version of the product */
    public TargetRelease {
        product.ordering().require(release);
    }

    public Standing standing(String version) {
        boolean same = version.equals(release)
                || version.startsWith(release) && !Character.isLetterOrDigit(version.charAt(release.length()));
        int compared = same ? 0 : product.ordering().compare(version, release);
        return compared == 0 ? Standing.AT : compared < 0 ? Standing.BELOW : Standing.ABOVE;
    }

    /** True for an upgrade of the platform that leads only to releases above this one. */
    public boolean forbids(Update update) {
        if (update.kind() != Kind.UPGRADE) {
            return false;
        }
        List<String> releases = update.fixes().stream()
                .filter(fix -> fix.build().product().equals(product))
                .flatMap(fix -> fix.tracks().stream())
                .map(AffectedRange::fixed)
                .flatMap(Optional::stream)
                .toList();
        return !releases.isEmpty() && releases.stream().allMatch(fixed -> standing(fixed) == Standing.ABOVE);
    }
}
