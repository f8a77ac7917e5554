package lucid.core.update;

import java.util.Optional;

/**
 * Versions of one product that lack a fix: from {@code introduced} (none: from the lowest) up to {@code end} (none: all that
 * follow). The end itself is affected only if {@code endIncluded}.
 *
 * <p>A range whose end is excluded names the first fixed version. Otherwise there is nothing to install.
 */
public record AffectedRange(Optional<String> introduced, Optional<String> end, boolean endIncluded) {

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

    /** The first version that has the fix, if one is known. */
    public Optional<String> fixed() {
        return endIncluded ? Optional.empty() : end;
    }

    @Override
    public String toString() {
        return "[" + introduced.orElse("lowest") + ", " + end.orElse("no end") + (endIncluded ? "]" : ")");
    }
}
