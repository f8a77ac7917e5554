package lucid.core.update;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import lucid.core.version.VersionOrdering;

/**
 * What an update fixes in one product: the affected ranges, which are the product's tracks.
 *
 * <p><b>Track rule.</b> Of the ranges sorted by their introduced version, the last one whose introduced version is not above
 * the installed version speaks of it; if there is none, the update does not speak of that version. Inside the range the
 * fix is lacking, behind its end it is there.
 *
 * @param tracks sorted by introduced version, at least one
 */
public record Fix(ProductBuild build, List<AffectedRange> tracks) {

    /** What an update says of one version of a product. */
    public enum Standing { LACKS, HAS, NOT_SPOKEN_OF }

    /**
     * @throws IllegalArgumentException for no range, a version that the product's ordering cannot compare, an empty
     *     range, two ranges introduced at the same version, or a range that reaches over the beginning of the next
     */
    public Fix {
        if (tracks.isEmpty()) {
            throw new IllegalArgumentException("no affected range is given for " + build);
        }
        VersionOrdering ordering = build.product().ordering();
        for (AffectedRange range : tracks) {
            range.introduced().ifPresent(ordering::require);
            range.end().ifPresent(ordering::require);
            requireNotEmpty(range, ordering);
        }
        tracks = tracks.stream().sorted(byIntroduced(ordering)).toList();
        for (int i = 1; i < tracks.size(); i++) {
            requireApart(tracks.get(i - 1), tracks.get(i), ordering);
        }
    }

    /** The standing of an installed version of this product. */
    public Standing standing(String version) {
        VersionOrdering ordering = build.product().ordering();
        Standing standing = Standing.NOT_SPOKEN_OF;
        for (AffectedRange track : tracks) {
            if (track.introduced().isPresent() && ordering.compare(version, track.introduced().get()) < 0) {
                break;
            }
            standing = liesBeforeEnd(version, track, ordering) ? Standing.LACKS : Standing.HAS;
        }
        return standing;
    }

    /** The range that speaks of {@code version}, if any does. */
    public Optional<AffectedRange> trackOf(String version) {
        VersionOrdering ordering = build.product().ordering();
        return tracks.stream()
                .filter(t -> t.introduced().isEmpty() || ordering.compare(version, t.introduced().get()) >= 0)
                .reduce((earlier, later) -> later);
    }

    private static boolean liesBeforeEnd(String version, AffectedRange track, VersionOrdering ordering) {
        if (track.end().isEmpty()) {
            return true;
        }
        int toEnd = ordering.compare(version, track.end().get());
        return toEnd < 0 || toEnd == 0 && track.endIncluded();
    }

    private static Comparator<AffectedRange> byIntroduced(VersionOrdering ordering) {
        return (a, b) -> {
            if (a.introduced().isEmpty() || b.introduced().isEmpty()) {
                return Boolean.compare(a.introduced().isPresent(), b.introduced().isPresent());
            }
            return ordering.compare(a.introduced().get(), b.introduced().get());
        };
    }

    private static void requireNotEmpty(AffectedRange range, VersionOrdering ordering) {
        if (range.introduced().isPresent() && !liesBeforeEnd(range.introduced().get(), range, ordering)) {
            throw new IllegalArgumentException("the affected range " + range + " is empty");
        }
    }

    private static void requireApart(AffectedRange earlier, AffectedRange later, VersionOrdering ordering) {
        if (byIntroduced(ordering).compare(earlier, later) == 0) {
            throw new IllegalArgumentException("the affected ranges " + earlier + " and " + later + " begin at the same version");
        }
        // What lies before the earlier range's end may not lie in the later range.
        if (liesBeforeEnd(later.introduced().orElseThrow(), earlier, ordering)) {
            throw new IllegalArgumentException("the affected range " + earlier + " reaches over the beginning of " + later);
        }
    }

    /** Ranges of several sources for one product, put together in one fix each. */
    public static List<Fix> collect(List<Fix> parts) {
        List<Fix> whole = new ArrayList<>();
        parts.stream().map(Fix::build).distinct().sorted().forEach(build -> whole.add(new Fix(build,
                parts.stream().filter(p -> p.build().equals(build)).flatMap(p -> p.tracks().stream()).distinct().toList())));
        return List.copyOf(whole);
    }
}
