package lucid.server.digest;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * What one person should know.
 *
 * @param from what happened is told from then on
 * @param sections without those that have nothing to tell
 */
record Digest(Instant from, Instant at, List<DigestSection> sections) {

    /** @param more lines that are left out */
    record DigestSection(String title, List<DigestLine> lines, int more) {

        static Optional<DigestSection> of(String title, Stream<DigestLine> lines) {
            List<DigestLine> all = lines.toList();
            return all.isEmpty()
                    ? Optional.empty()
                    : Optional.of(new DigestSection(
                            title, all.stream().limit(MOST_LINES).toList(), Math.max(0, all.size() - MOST_LINES)));
        }
    }

    private static final int MOST_LINES = 12;

    /** @param path of the place where more of it stands */
    record DigestLine(String text, Optional<String> path) {
        DigestLine(String text, String path) {
            this(text, Optional.of(path));
        }
    }
}
