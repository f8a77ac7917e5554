package lucid.core.update;

import java.time.Instant;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * One released update, put together from its vendor's advisory, its notice, or both.
 *
 * @param revision of the advisory where there is one, else of the notice
 * @param rating the vendor's word on our scale, else that of the highest CVSS base score, else unrated
 * @param vendorRating the vendor's own word, kept beside the rating
 * @param firstRead instant at which this product first read of the update
 * @param fixes one for each product build, sorted
 */
public record Update(
        String id,
        String title,
        String vendor,
        String summary,
        Kind kind,
        String revision,
        Instant published,
        Instant revised,
        Instant firstRead,
        Rating rating,
        Optional<String> vendorRating,
        List<Vulnerability> vulnerabilities,
        List<Fix> fixes,
        RestartNeed restart,
        Optional<Long> sizeBytes,
        Optional<LocalDate> removableUntil,
        List<String> supersedes,
        Set<String> platforms,
        List<String> references) {

    /**
     * Joins what is known of one update. An update without a notice is of the kind security if its advisory names a CVE,
     * else a bugfix.
     *
     * @throws IllegalArgumentException if both are missing, their identifiers differ, or their affected ranges contradict
     */
    public static Update join(Optional<Advisory> advisory, Optional<UpdateNotice> notice, Instant firstRead) {
        if (advisory.isEmpty() && notice.isEmpty()) {
            throw new IllegalArgumentException("an update needs an advisory or a notice");
        }
        if (advisory.isPresent() && notice.isPresent() && !advisory.get().id().equals(notice.get().id())) {
            throw new IllegalArgumentException("advisory " + advisory.get().id() + " and notice " + notice.get().id() + " are of different updates");
        }
        List<Vulnerability> vulnerabilities = advisory.map(Advisory::vulnerabilities).orElse(List.of());
        Optional<String> vendorRating = advisory.flatMap(Advisory::vendorRating);
        return new Update(
                advisory.map(Advisory::id).orElseGet(() -> notice.orElseThrow().id()),
                // The notice names the release as people know it; an advisory's title often names the weakness.
                notice.map(UpdateNotice::title).orElseGet(() -> advisory.orElseThrow().title()),
                advisory.map(Advisory::vendor).orElseGet(() -> notice.orElseThrow().vendor()),
                advisory.map(Advisory::summary).filter(s -> !s.isEmpty()).or(() -> notice.map(UpdateNotice::summary)).orElse(""),
                notice.map(UpdateNotice::kind).orElse(vulnerabilities.isEmpty() ? Kind.BUGFIX : Kind.SECURITY),
                advisory.map(Advisory::revision).orElseGet(() -> notice.orElseThrow().revision()),
                advisory.map(Advisory::published).orElseGet(() -> notice.orElseThrow().published()),
                advisory.map(Advisory::revised).orElseGet(() -> notice.orElseThrow().published()),
                firstRead,
                rating(vendorRating, vulnerabilities),
                vendorRating,
                vulnerabilities,
                Fix.collect(Stream.concat(
                        advisory.stream().flatMap(a -> a.fixes().stream()),
                        notice.stream().flatMap(n -> n.fixes().stream())).toList()),
                notice.map(UpdateNotice::restart).orElse(RestartNeed.NONE),
                notice.flatMap(UpdateNotice::sizeBytes),
                notice.flatMap(UpdateNotice::removableUntil),
                notice.map(UpdateNotice::supersedes).orElse(List.of()),
                notice.map(n -> Set.copyOf(n.platforms())).orElse(Set.of()),
                advisory.map(Advisory::references).orElse(List.of()));
    }

    private static Rating rating(Optional<String> vendorRating, List<Vulnerability> vulnerabilities) {
        return vendorRating.map(Rating::ofVendorWord)
                .filter(r -> r != Rating.UNRATED)
                .or(() -> vulnerabilities.stream()
                        .flatMap(v -> v.baseScore().stream())
                        .max(Comparator.naturalOrder())
                        .map(Rating::ofBaseScore))
                .orElse(Rating.UNRATED);
    }

    /** The highest CVSS base score of the weaknesses it closes, if one is given. */
    public Optional<Double> highestBaseScore() {
        return vulnerabilities.stream().flatMap(v -> v.baseScore().stream()).max(Comparator.naturalOrder());
    }
}
