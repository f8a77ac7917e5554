package lucid.core.update;

import java.util.Optional;
import lucid.core.version.VersionOrdering;

/**
 * Versions of one product that lack a fix: from {@code introduced} (none: from the lowest) up to {@code end} (none: all
 * that follow). The end itself is affected only if {@code endIncluded}, the introduced version itself unless
 * {@code afterIntroduced}.
 *
 * <p>A range whose end is excluded names the first fixed version. Otherwise there is nothing to install.
 */
public record AffectedRange(
        Optional<String> introduced, boolean afterIntroduced, Optional<String> end, boolean endIncluded) {

    public AffectedRange(Optional<String> introduced, Optional<String> end, boolean endIncluded) {
        this(introduced, false, end, endIncluded);
    }

    /** [introduced, fixed). */
    public static AffectedRange between(String introduced, String fixed) {
        return new AffectedRange(Optional.of(introduced), Optional.of(fixed), false);
    }

    /** Everything below {@code fixed}. */
    public static AffectedRange below(String fixed) {
        return new AffectedRange(Optional.empty(), Optional.of(fixed), false);
    }

    /** Everything up to and with {@code lastAffected}; no fixed version is known. */
    public static AffectedRange upTo(String lastAffected) {
        return new AffectedRange(Optional.empty(), Optional.of(lastAffected), true);
    }

    /** This version and no other. */
    public static AffectedRange only(String version) {
        return new AffectedRange(Optional.of(version), Optional.of(version), true);
    }

    /** The first version that has the fix, if one is known. */
    public Optional<String> fixed() {
        return endIncluded ? Optional.empty() : end;
    }

    /** True if {@code version} is one of these. */
    public boolean includes(String version, VersionOrdering ordering) {
        return hasBegunAt(version, ordering) && reaches(version, ordering);
    }

    /** True if {@code version} is not below the beginning of this range. */
    boolean hasBegunAt(String version, VersionOrdering ordering) {
        int fromIntroduced = introduced.map(i -> ordering.compare(version, i)).orElse(1);
        return fromIntroduced > 0 || fromIntroduced == 0 && !afterIntroduced;
    }

    /** True if {@code version} is not behind the end of this range. */
    boolean reaches(String version, VersionOrdering ordering) {
        int toEnd = end.map(e -> ordering.compare(version, e)).orElse(-1);
        return toEnd < 0 || toEnd == 0 && endIncluded;
    }

    @Override
    public String toString() {
        return (afterIntroduced ? "(" : "[") + introduced.orElse("lowest") + ", " + end.orElse("no end")
                + (endIncluded ? "]" : ")");
    }
}
