package lucid.core.update;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.version.VersionOrdering;

/**
 * What an update fixes in one product: the affected ranges, which are the product's tracks.
 *
 * <p><b>Track rule.</b> Of the ranges sorted by their introduced version, the last one whose introduced version is not
 * above the installed version speaks of it; if there is none, the update does not speak of that version. Inside the
 * range the fix is lacking, behind its end it is there.
 *
 * @param tracks sorted by introduced version, at least one
 */
public record Fix(ProductBuild build, List<AffectedRange> tracks) {

    /** What an update says of one version of a product. */
    public enum Standing {
        LACKS,
        HAS,
        NOT_SPOKEN_OF
    }

    /**
     * @throws IllegalArgumentException for no range, a version that the product's ordering cannot compare, an empty
     *     range, two ranges introduced at the same version, or a range that reaches over the beginning of the next
     */
    public Fix {
        if (tracks.isEmpty()) {
            throw new IllegalArgumentException("no affected range is given for " + build);
        }
        VersionOrdering ordering = build.product().ordering();
        if (!ordering.isKnown()) {
            throw new IllegalArgumentException(
                    "versions of " + build.product().type() + " packages cannot be ordered here");
        }
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
        return trackOf(version)
                .map(track -> track.reaches(version, build.product().ordering()) ? Standing.LACKS : Standing.HAS)
                .orElse(Standing.NOT_SPOKEN_OF);
    }

    /** The range that speaks of {@code version}, if any does. */
    public Optional<AffectedRange> trackOf(String version) {
        AffectedRange last = null;
        for (AffectedRange track : tracks) {
            if (!track.hasBegunAt(version, build.product().ordering())) {
                break;
            }
            last = track;
        }
        return Optional.ofNullable(last);
    }

    private static Comparator<AffectedRange> byIntroduced(VersionOrdering ordering) {
        Comparator<AffectedRange> lowestFirst =
                Comparator.comparing(range -> range.introduced().isPresent());
        return lowestFirst
                .thenComparing((a, b) -> a.introduced().isEmpty()
                        ? 0
                        : ordering.compare(a.introduced().get(), b.introduced().get()))
                .thenComparing(AffectedRange::afterIntroduced);
    }

    private static void requireNotEmpty(AffectedRange range, VersionOrdering ordering) {
        if (isEmpty(range, ordering)) {
            throw new IllegalArgumentException("the affected range " + range + " is empty");
        }
    }

    private static boolean isEmpty(AffectedRange range, VersionOrdering ordering) {
        boolean startsAtItsEnd = range.introduced().isPresent()
                && range.end().isPresent()
                && ordering.compare(range.introduced().get(), range.end().get()) == 0;
        return startsAtItsEnd
                ? range.afterIntroduced() || !range.endIncluded()
                : range.introduced()
                        .filter(introduced -> !range.reaches(introduced, ordering))
                        .isPresent();
    }

    private static void requireApart(AffectedRange earlier, AffectedRange later, VersionOrdering ordering) {
        if (byIntroduced(ordering).compare(earlier, later) == 0) {
            throw new IllegalArgumentException(
                    "the affected ranges " + earlier + " and " + later + " begin at the same version");
        }
        String beginning = later.introduced().orElseThrow();
        boolean meetsItsEnd = earlier.end()
                .filter(end -> ordering.compare(end, beginning) == 0)
                .isPresent();
        if (earlier.reaches(beginning, ordering) && !(meetsItsEnd && later.afterIntroduced())) {
            throw new IllegalArgumentException(
                    "the affected range " + earlier + " reaches over the beginning of " + later);
        }
    }

    /**
     * What several vulnerabilities of one product affect together: ranges that overlap become one. (Ranges of one
     * vulnerability that overlap are a contradiction instead.) Each list holds the ranges of one vulnerability.
     *
     * @throws IllegalArgumentException as the constructor, for the ranges of one vulnerability
     */
    public static Fix ofVulnerabilities(ProductBuild build, List<List<AffectedRange>> vulnerabilities) {
        VersionOrdering ordering = build.product().ordering();
        List<AffectedRange> sorted = vulnerabilities.stream()
                .flatMap(ranges -> new Fix(build, ranges).tracks().stream())
                .sorted(byIntroduced(ordering))
                .toList();
        List<AffectedRange> union = new ArrayList<>();
        for (AffectedRange next : sorted) {
            AffectedRange last = union.isEmpty() ? null : union.get(union.size() - 1);
            if (last == null
                    || next.introduced().isPresent()
                            && !last.reaches(next.introduced().get(), ordering)) {
                union.add(next);
            } else if (last.end().isPresent() && (next.end().isEmpty() || reachesFurther(next, last, ordering))) {
                union.set(
                        union.size() - 1,
                        new AffectedRange(last.introduced(), last.afterIntroduced(), next.end(), next.endIncluded()));
            }
        }
        return new Fix(build, union);
    }

    private static boolean reachesFurther(AffectedRange range, AffectedRange other, VersionOrdering ordering) {
        int ends = ordering.compare(range.end().orElseThrow(), other.end().orElseThrow());
        return ends > 0 || ends == 0 && range.endIncluded();
    }

    /** The ranges of this fix without the versions in others, such as those that are told not to be affected. */
    public List<AffectedRange> without(Collection<AffectedRange> others) {
        List<AffectedRange> left = tracks;
        for (AffectedRange hole : others) {
            left = left.stream().flatMap(range -> without(range, hole)).toList();
        }
        return left;
    }

    /** What is left of a range before and behind a hole in it. */
    private Stream<AffectedRange> without(AffectedRange range, AffectedRange hole) {
        VersionOrdering ordering = build.product().ordering();
        List<AffectedRange> left = new ArrayList<>();
        hole.introduced().ifPresent(start -> {
            boolean endsBefore =
                    range.end().filter(end -> ordering.compare(end, start) < 0).isPresent();
            left.add(
                    endsBefore
                            ? range
                            : new AffectedRange(
                                    range.introduced(),
                                    range.afterIntroduced(),
                                    Optional.of(start),
                                    hole.afterIntroduced()));
        });
        hole.end().ifPresent(end -> {
            boolean beginsBehind = range.introduced()
                    .filter(start -> ordering.compare(start, end) > 0)
                    .isPresent();
            left.add(
                    beginsBehind
                            ? range
                            : new AffectedRange(
                                    Optional.of(end), hole.endIncluded(), range.end(), range.endIncluded()));
        });
        return left.stream().filter(part -> !isEmpty(part, ordering)).distinct();
    }

    /** Ranges of several sources for one product, put together in one fix each. */
    public static List<Fix> collect(List<Fix> parts) {
        List<Fix> whole = new ArrayList<>();
        parts.stream()
                .map(Fix::build)
                .distinct()
                .sorted()
                .forEach(build -> whole.add(new Fix(
                        build,
                        parts.stream()
                                .filter(p -> p.build().equals(build))
                                .flatMap(p -> p.tracks().stream())
                                .distinct()
                                .toList())));
        return List.copyOf(whole);
    }
}
