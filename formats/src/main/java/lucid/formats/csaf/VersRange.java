package lucid.formats.csaf;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import lucid.core.update.AffectedRange;

/**
 * A version range specifier, {@code vers:type/constraint|constraint…} (CSAF 2.0 section 3.1.2.3.2 points to it), as the
 * affected ranges that it stands for: each {@code >=} opens one, each {@code <} or {@code <=} closes one.
 */
final class VersRange {

    private VersRange() {}

    /** @throws IllegalArgumentException for a text of another form, or with a constraint that is no range */
    static List<AffectedRange> parse(String text) {
        int slash = text.indexOf('/');
        if (!text.startsWith("vers:") || slash < 0) {
            throw new IllegalArgumentException("'" + text + "' is no version range specifier such as vers:generic/>=1.0|<1.4");
        }
        if (text.substring(slash + 1).equals("*")) {
            return List.of(new AffectedRange(Optional.empty(), Optional.empty(), false));
        }
        List<AffectedRange> ranges = new ArrayList<>();
        Optional<String> introduced = Optional.empty();
        boolean open = false;
        for (String constraint : text.substring(slash + 1).split("\\|")) {
            String comparator = constraint.replaceFirst("[^<>=!*].*$", "");
            String version = URLDecoder.decode(constraint.substring(comparator.length()).replace("+", "%2B"), StandardCharsets.UTF_8);
            switch (comparator) {
                case ">=" -> {
                    if (open) {
                        throw new IllegalArgumentException("'" + text + "' opens a range twice, at " + version);
                    }
                    introduced = Optional.of(version);
                    open = true;
                }
                case "<", "<=" -> {
                    if (!open && !ranges.isEmpty()) {
                        throw new IllegalArgumentException("'" + text + "' closes a range twice, at " + version);
                    }
                    ranges.add(new AffectedRange(introduced, Optional.of(version), comparator.equals("<=")));
                    introduced = Optional.empty();
                    open = false;
                }
                default -> throw new IllegalArgumentException(
                        "'" + constraint + "' in '" + text + "' is not read: only >=, < and <= make affected ranges");
            }
        }
        if (open) {
            ranges.add(new AffectedRange(introduced, Optional.empty(), false));
        }
        return ranges;
    }
}
