package lucid.formats.osv;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.update.AffectedRange;
import lucid.core.update.ProductBuild;
import lucid.core.version.VersionOrdering;
import lucid.formats.document.JsonPlace;

/**
 * The affected versions of an entry (Open Source Vulnerability format, schema 1.x, affected[].ranges and
 * affected[].versions): what stands in a range, or is listed. Events may stand in any order; by their versions each
 * {@code introduced} opens a range, unless one is open, and each {@code fixed} or {@code last_affected} closes it. What
 * lies behind the highest {@code limit} is not affected.
 */
final class OsvRanges {

    private static final int MOST_VERSIONS = 10_000;
    private static final Set<String> RANGES_READ = Set.of("SEMVER", "ECOSYSTEM");
    private static final String FROM_THE_FIRST = "0";
    private static final String NO_LIMIT = "*";

    private OsvRanges() {}

    /**
     * Ranges that may overlap.
     *
     * @throws IllegalArgumentException if there are none, or versions that cannot be ordered
     */
    static List<AffectedRange> of(JsonPlace affected, ProductBuild build) {
        VersionOrdering ordering = build.product().ordering();
        if (!ordering.isKnown()) {
            throw new IllegalArgumentException(
                    "versions of " + build.product().type() + " packages cannot be ordered here");
        }
        List<AffectedRange> ranges = new ArrayList<>();
        boolean onlyCommits = false;
        for (JsonPlace range : affected.get("ranges").items()) {
            if (RANGES_READ.contains(range.get("type").line())) {
                ranges.addAll(ofEvents(range.get("events"), ordering));
            } else {
                onlyCommits = true;
            }
        }
        List<JsonPlace> versions = affected.get("versions").items();
        if (versions.size() > MOST_VERSIONS) {
            throw new IllegalArgumentException("at most " + MOST_VERSIONS + " versions are listed one by one");
        }
        versions.stream()
                .map(version -> ordering.require(version.line()))
                .filter(version -> ranges.stream().noneMatch(range -> range.includes(version, ordering)))
                .map(AffectedRange::only)
                .toList()
                .forEach(ranges::add);
        if (ranges.isEmpty()) {
            throw new IllegalArgumentException(
                    onlyCommits
                            ? "it tells commits instead of versions, which no host reports"
                            : "it does not say which versions are affected");
        }
        return ranges;
    }

    private record Event(String kind, String version) {}

    private static List<AffectedRange> ofEvents(JsonPlace events, VersionOrdering ordering) {
        List<Event> sorted = new ArrayList<>();
        Optional<String> limit = Optional.empty();
        for (JsonPlace event : events.items()) {
            for (String kind : List.of("introduced", "fixed", "last_affected")) {
                if (event.get(kind).exists()) {
                    String version = event.get(kind).line();
                    sorted.add(new Event(kind, version.equals(FROM_THE_FIRST) ? version : ordering.require(version)));
                }
            }
            if (event.get("limit").exists() && !event.get("limit").line().equals(NO_LIMIT)) {
                String here = ordering.require(event.get("limit").line());
                limit = Optional.of(
                        limit.filter(l -> ordering.compare(l, here) >= 0).orElse(here));
            }
        }
        // At one version what ends there comes before what begins there.
        sorted.sort(Comparator.comparing((Event event) ->
                        !(event.kind().equals("introduced") && event.version().equals(FROM_THE_FIRST)))
                .thenComparing(
                        Event::version,
                        (a, b) -> a.equals(FROM_THE_FIRST) || b.equals(FROM_THE_FIRST)
                                ? Boolean.compare(!a.equals(FROM_THE_FIRST), !b.equals(FROM_THE_FIRST))
                                : ordering.compare(a, b))
                .thenComparing(event -> event.kind().equals("introduced")));
        return ranges(sorted, limit, ordering);
    }

    private static List<AffectedRange> ranges(List<Event> sorted, Optional<String> limit, VersionOrdering ordering) {
        List<AffectedRange> ranges = new ArrayList<>();
        Optional<String> introduced = Optional.empty();
        boolean open = false;
        for (Event event : sorted) {
            if (event.kind().equals("introduced")) {
                if (!open) {
                    introduced = Optional.of(event.version()).filter(version -> !version.equals(FROM_THE_FIRST));
                    open = true;
                }
            } else if (open) {
                boolean included = event.kind().equals("last_affected");
                ranges.add(new AffectedRange(introduced, Optional.of(event.version()), included));
                open = false;
            }
        }
        if (open) {
            ranges.add(new AffectedRange(introduced, Optional.empty(), false));
        }
        return limit.map(behind -> ranges.stream()
                        .flatMap(range -> before(range, behind, ordering).stream())
                        .toList())
                .orElse(ranges);
    }

    /** What of a range lies before a limit; from the limit on nothing is affected. */
    private static Optional<AffectedRange> before(AffectedRange range, String limit, VersionOrdering ordering) {
        if (range.introduced()
                .filter(start -> ordering.compare(start, limit) >= 0)
                .isPresent()) {
            return Optional.empty();
        }
        boolean endsBefore =
                range.end().filter(end -> ordering.compare(end, limit) < 0).isPresent();
        return Optional.of(endsBefore ? range : new AffectedRange(range.introduced(), Optional.of(limit), false));
    }
}
