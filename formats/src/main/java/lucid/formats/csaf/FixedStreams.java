package lucid.formats.csaf;

import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import lucid.core.update.AffectedRange;
import lucid.core.version.VersionOrdering;

/**
 * What several fixed versions of one product mean where no range is told. Each is the fix of one stream of versions,
 * 3.2.9 that of 3.2; who has a later build of that stream has the fix. Two versions are of one stream if they differ
 * only behind the second number. Then of packages of a distribution the lower one is the fix, and the higher one merely
 * has it too, unless a version between them is said to be affected; of other products nothing is known of what lies
 * between, and it is taken to lack the fix.
 */
final class FixedStreams {

    /** Epoch, first and second number. */
    private static final Pattern STREAM = Pattern.compile("(?:(\\d+):)?(\\d+)(?:\\.(\\d+))?.*");

    private FixedStreams() {}

    /**
     * @param ascending fixed versions, the lowest first, one at least
     * @return affected ranges, from the lowest version up
     */
    static List<AffectedRange> tracks(List<String> ascending, Set<String> affected, VersionOrdering ordering) {
        String before = ascending.get(0);
        List<AffectedRange> tracks = new ArrayList<>(List.of(AffectedRange.below(before)));
        for (String end : ascending.subList(1, ascending.size())) {
            String last = before;
            Optional<String> lowest = affected.stream()
                    .filter(a -> ordering.compare(a, last) > 0 && ordering.compare(a, end) < 0)
                    .min(ordering);
            Optional<String> begins = lowest.or(() -> nextStream(last, end, ordering));
            if (begins.isPresent()) {
                tracks.add(new AffectedRange(begins, Optional.of(end), false));
                before = end;
            } else if (ordering == VersionOrdering.DOTTED && ordering.compare(last, end) < 0) {
                tracks.add(new AffectedRange(Optional.of(last), true, Optional.of(end), false));
                before = end;
            }
        }
        return tracks;
    }

    /** The lowest version behind the stream of a version; none if the other one is of that stream. */
    private static Optional<String> nextStream(String version, String other, VersionOrdering ordering) {
        Matcher a = STREAM.matcher(version);
        Matcher b = STREAM.matcher(other);
        if (!a.matches() || !b.matches() || sameStream(a, b)) {
            return Optional.empty();
        }
        String epoch = a.group(1) == null ? "" : a.group(1) + ":";
        String first = a.group(2);
        String second = a.group(3) == null ? "0" : a.group(3);
        String next = first.equals(b.group(2)) ? first + "." + successor(second) : successor(first);
        return Optional.of(epoch + next)
                .filter(start -> ordering.fault(start).isEmpty() && ordering.compare(start, other) < 0);
    }

    private static boolean sameStream(Matcher a, Matcher b) {
        return IntStream.rangeClosed(1, 3).allMatch(number -> Objects.requireNonNullElse(a.group(number), "0")
                .equals(Objects.requireNonNullElse(b.group(number), "0")));
    }

    private static String successor(String number) {
        return new BigInteger(number).add(BigInteger.ONE).toString();
    }
}
