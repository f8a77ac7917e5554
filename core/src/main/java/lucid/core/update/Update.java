package lucid.core.update;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * One released update, put together from its vendor's advisories, its notice, or both.
 *
 * @param revision of the advisory where there is one, else of the notice
 * @param published when the first revision with the same fixes was: a text-only revision does not make an update new
 * @param rating the vendor's word on our scale, else that of the highest CVSS base score, else unrated
 * @param vendorRating the vendor's own word, kept beside the rating
 * @param firstRead instant at which this product first read of the update
 * @param brings identifiers of updates that it contains without superseding them
 * @param requires what a host must have to take it, beside a version that it fixes
 * @param fixes one for each product build, sorted
 * @param unread products of which nobody can tell which hosts have them
 * @param notes what its vendor says beside the summary
 * @param readFrom where in its advisories stands what was read of each product
 * @param sharing with whom what is told of it may be shared, the narrowest that is asked for
 * @param revisions every revision that was read here, the first one first
 */
public record Update(
        UpdateId id,
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
        Restarts restarts,
        Optional<Long> sizeBytes,
        Removable removable,
        List<UpdateId> supersedes,
        List<UpdateId> brings,
        Set<String> platforms,
        List<Requirement> requires,
        Optional<Retraction> retraction,
        List<VendorStatement> statements,
        List<Remedy> remedies,
        List<ReferenceLink> references,
        List<UnreadProduct> unread,
        List<AdvisoryNote> notes,
        List<ReadFrom> readFrom,
        Optional<SharingLevel> sharing,
        List<RevisionNote> revisions) {

    /**
     * Joins what is known of one update. The kind is the notice's, else what an advisory's format tells, else security
     * if an advisory names a CVE, else bugfix.
     *
     * @param advisories at most one of each source
     * @param before what was known of it until now, from which its history goes on
     * @param read when the newest of these documents was read
     * @throws IllegalArgumentException if there is no document, identifiers differ, or affected ranges contradict each
     *     other
     */
    public static Update join(
            List<Advisory> advisories, Optional<UpdateNotice> notice, Optional<Update> before, Instant read) {
        List<Advisory> byTrust = advisories.stream()
                .sorted(Comparator.comparing(Advisory::source))
                .toList();
        UpdateId id = requireOneId(byTrust, notice);
        Optional<Advisory> first = byTrust.stream().findFirst();
        List<Vulnerability> vulnerabilities = firstFilled(byTrust, Advisory::vulnerabilities);
        Optional<String> vendorRating = firstPresent(byTrust, Advisory::vendorRating);
        String revision = first.map(Advisory::revision)
                .orElseGet(() -> notice.orElseThrow().revision());
        Instant revised = first.map(Advisory::revised)
                .orElseGet(() -> notice.orElseThrow().published());
        List<Fix> fixes = Fix.collect(Stream.concat(
                        firstFilled(byTrust, Advisory::fixes).stream(),
                        notice.stream().flatMap(n -> n.fixes().stream()))
                .toList());
        boolean newFixes = before.filter(b -> b.fixes().isEmpty() || b.fixes().equals(fixes))
                .isEmpty();
        Instant firstPublished = first.map(Advisory::published)
                .orElseGet(() -> notice.orElseThrow().published());
        return new Update(
                id,
                // The notice names the release as people know it; an advisory's title often names the vulnerability.
                notice.map(UpdateNotice::title)
                        .orElseGet(() -> first.orElseThrow().title()),
                first.map(Advisory::vendor)
                        .filter(v -> !v.isEmpty())
                        .or(() -> notice.map(UpdateNotice::vendor))
                        .orElse(""),
                first.map(Advisory::summary)
                        .filter(s -> !s.isEmpty())
                        .or(() -> notice.map(UpdateNotice::summary))
                        .orElse(""),
                notice.map(UpdateNotice::kind)
                        .or(() -> firstPresent(byTrust, Advisory::kind))
                        .orElse(vulnerabilities.stream().anyMatch(Vulnerability::hasCve) ? Kind.SECURITY : Kind.BUGFIX),
                revision,
                before.isEmpty()
                        ? firstPublished
                        : newFixes ? revised : before.get().published(),
                revised,
                before.map(Update::firstRead).orElse(read),
                rating(vendorRating, vulnerabilities),
                vendorRating,
                vulnerabilities,
                fixes,
                Restarts.together(Stream.concat(
                                Stream.of(Restarts.ofAll(notice.flatMap(UpdateNotice::restart))),
                                byTrust.stream().map(Advisory::restarts))
                        .toList()),
                notice.flatMap(UpdateNotice::sizeBytes),
                notice.map(UpdateNotice::removable).orElse(Removable.NOT_TOLD),
                notice.map(UpdateNotice::supersedes).orElse(List.of()),
                notice.map(UpdateNotice::brings).orElse(List.of()),
                notice.map(n -> Set.copyOf(n.platforms())).orElse(Set.of()),
                notice.map(UpdateNotice::requires).orElse(List.of()),
                firstPresent(byTrust, Advisory::retraction),
                firstFilled(byTrust, Advisory::statements),
                firstFilled(byTrust, Advisory::remedies),
                byTrust.stream()
                        .flatMap(a -> a.references().stream())
                        .distinct()
                        .toList(),
                unread(byTrust, fixes),
                firstFilled(byTrust, Advisory::notes),
                firstFilled(byTrust, Advisory::readFrom),
                byTrust.stream().flatMap(a -> a.sharing().stream()).max(Comparator.naturalOrder()),
                revisions(
                        before,
                        new RevisionNote(
                                revision,
                                revised,
                                read,
                                newFixes,
                                first.map(Advisory::revisionWords).orElse(""),
                                fixes)));
    }

    /** Of the advisory that is believed first, unless another source or the notice tells which products are fixed. */
    private static List<UnreadProduct> unread(List<Advisory> advisories, List<Fix> fixes) {
        boolean toldElsewhere = advisories.stream()
                        .anyMatch(a -> a.unread().isEmpty() && !a.fixes().isEmpty())
                || advisories.stream().allMatch(a -> a.fixes().isEmpty()) && !fixes.isEmpty();
        return toldElsewhere ? List.of() : firstFilled(advisories, Advisory::unread);
    }

    private static UpdateId requireOneId(List<Advisory> advisories, Optional<UpdateNotice> notice) {
        List<UpdateId> ids = Stream.concat(
                        advisories.stream().map(Advisory::id), notice.stream().map(UpdateNotice::id))
                .distinct()
                .toList();
        if (ids.isEmpty()) {
            throw new IllegalArgumentException("an update needs an advisory or a notice");
        }
        if (ids.size() > 1) {
            throw new IllegalArgumentException("documents of different updates cannot be joined: "
                    + ids.stream().map(UpdateId::value).collect(Collectors.joining(" and ")));
        }
        return ids.get(0);
    }

    /**
     * A document that changes neither revision nor fixes, such as the notice to an advisory, is no revision of its own.
     */
    private static List<RevisionNote> revisions(Optional<Update> before, RevisionNote note) {
        List<RevisionNote> revisions =
                new ArrayList<>(before.map(Update::revisions).orElse(List.of()));
        boolean known = !revisions.isEmpty()
                && revisions.get(revisions.size() - 1).revision().equals(note.revision());
        if (!known || note.newFixes()) {
            revisions.add(note);
        }
        return List.copyOf(revisions);
    }

    private static <T> List<T> firstFilled(List<Advisory> advisories, Function<Advisory, List<T>> part) {
        return advisories.stream()
                .map(part)
                .filter(list -> !list.isEmpty())
                .findFirst()
                .orElse(List.of());
    }

    private static <T> Optional<T> firstPresent(List<Advisory> advisories, Function<Advisory, Optional<T>> part) {
        return advisories.stream().flatMap(a -> part.apply(a).stream()).findFirst();
    }

    private static Rating rating(Optional<String> vendorRating, List<Vulnerability> vulnerabilities) {
        return vendorRating
                .map(Rating::ofVendorWord)
                .filter(r -> r != Rating.UNRATED)
                .or(() -> highestBaseScore(vulnerabilities).map(Rating::ofBaseScore))
                .orElse(Rating.UNRATED);
    }

    private static Optional<Double> highestBaseScore(List<Vulnerability> vulnerabilities) {
        return vulnerabilities.stream().flatMap(v -> v.baseScore().stream()).max(Comparator.naturalOrder());
    }

    /** The strongest need of a restart that any product of it has. */
    public RestartNeed restart() {
        return restarts.strongest();
    }

    /** The fixes that take effect only once the host is started anew. */
    public List<Fix> fixesAwaitingStart() {
        return fixes.stream()
                .filter(fix -> restarts.of(fix.build()) == RestartNeed.HOST)
                .toList();
    }

    /** The highest CVSS base score of the vulnerabilities it closes, if one is given. */
    public Optional<Double> highestBaseScore() {
        return highestBaseScore(vulnerabilities);
    }

    public boolean isWithdrawn() {
        return retraction.filter(r -> r.type() == Retraction.Type.WITHDRAWN).isPresent();
    }

    /** False if no version with the fix is known: then hosts may lack it, but there is nothing to install. */
    public boolean canBeInstalled() {
        return fixes.stream().flatMap(fix -> fix.tracks().stream()).anyMatch(track -> track.fixed()
                .isPresent());
    }

    /** How many products could not be read; several versions of one are one. */
    public int unreadNames() {
        return (int) unread.stream().map(UnreadProduct::family).distinct().count();
    }

    /** True if nobody can tell which hosts have what it is for: no product of it could be read. */
    public boolean isNotRead() {
        return fixes.isEmpty() && !unread.isEmpty();
    }

    /** False if its vendor took it back, or there is nothing to install: then it is offered to nobody. */
    public boolean canBeOffered() {
        return !isWithdrawn() && canBeInstalled();
    }

    /** The newest revision with other fixes that was read after {@code instant}, if there is one. */
    public Optional<RevisionNote> newFixesAfter(Instant instant) {
        return revisions.stream()
                .filter(r -> r.newFixes() && r.read().isAfter(instant))
                .reduce((earlier, later) -> later);
    }

    /**
     * Its revisions since the last one that brought other fixes: what was tried of any of them was tried of this one.
     */
    public List<RevisionNote> revisionsWithTheseFixes() {
        int from = revisions.size() - 1;
        while (from > 0 && !revisions.get(from).newFixes()) {
            from--;
        }
        return revisions.subList(Math.max(from, 0), revisions.size());
    }

    /** The newest revision, if it was read after {@code instant}. */
    public Optional<RevisionNote> revisedAfter(Instant instant) {
        return Optional.of(revisions.get(revisions.size() - 1))
                .filter(r -> r.read().isAfter(instant));
    }
}
