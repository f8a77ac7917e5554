package lucid.formats.csaf;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.update.AffectedRange;

/**
 * A version range as CSAF 2.0 section 3.1.2.3.2 allows it: a specifier {@code vers:scheme/constraint|constraint…}, or
 * its constraints alone. The constraints stand in the order of their versions: {@code >=} or {@code >} opens an
 * affected range, {@code <} or {@code <=} closes one, {@code =} or nothing names one version, {@code !=} leaves one
 * out.
 */
final class VersRange {

    /** Schemes that are the ordering of one package type and of no other. */
    private static final Set<String> OWN_SCHEMES = Set.of("deb", "rpm");

    private final String text;
    private final List<AffectedRange> ranges = new ArrayList<>();
    private Optional<String> introduced = Optional.empty();
    private boolean afterIntroduced;
    private boolean open;

    private VersRange(String text) {
        this.text = text;
    }

    /**
     * @param packageType type of the package URL whose versions these are
     * @throws IllegalArgumentException for a text of another form, constraints that make no ranges, or the scheme of
     *     another package type
     */
    static List<AffectedRange> parse(String text, String packageType) {
        String constraints = text;
        if (text.startsWith("vers:")) {
            int slash = text.indexOf('/');
            if (slash < 0) {
                throw new IllegalArgumentException(
                        "'" + text + "' is no version range such as vers:generic/>=1.0|<1.4 or >=1.0|<1.4");
            }
            String scheme = text.substring("vers:".length(), slash);
            if (OWN_SCHEMES.contains(scheme) && !scheme.equals(packageType)) {
                throw new IllegalArgumentException("'" + text + "' orders versions as " + scheme
                        + " does, but the package URL is of type " + packageType);
            }
            constraints = text.substring(slash + 1);
        }
        VersRange range = new VersRange(text);
        if (constraints.equals("*")) {
            return List.of(new AffectedRange(Optional.empty(), Optional.empty(), false));
        }
        for (String constraint : constraints.split("\\|")) {
            range.take(constraint);
        }
        return range.whole();
    }

    private void take(String constraint) {
        String comparator = constraint.replaceFirst("[^<>=!*].*$", "");
        String version = decoded(constraint.substring(comparator.length()));
        if (version.isEmpty() || version.chars().anyMatch(c -> c <= ' ')) {
            throw new IllegalArgumentException(
                    "'" + text + "' is no version range such as vers:generic/>=1.0|<1.4 or >=1.0|<1.4");
        }
        switch (comparator) {
            case ">=", ">" -> open(version, comparator.equals(">"));
            case "<", "<=" -> close(version, comparator.equals("<="));
            case "=", "" -> only(version);
            case "!=" -> leaveOut(version);
            default ->
                throw new IllegalArgumentException("'" + constraint + "' in '" + text
                        + "' is no constraint: one begins with >=, >, <, <=, =, != or the version");
        }
    }

    private static String decoded(String version) {
        try {
            return URLDecoder.decode(version.replace("+", "%2B"), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("'" + version + "' is not correctly percent-encoded");
        }
    }

    private void open(String version, boolean after) {
        if (open) {
            throw new IllegalArgumentException("'" + text + "' opens a range twice, at " + version);
        }
        introduced = Optional.of(version);
        afterIntroduced = after;
        open = true;
    }

    private void close(String version, boolean included) {
        if (!open && !ranges.isEmpty()) {
            throw new IllegalArgumentException("'" + text + "' closes a range twice, at " + version);
        }
        ranges.add(new AffectedRange(introduced, afterIntroduced, Optional.of(version), included));
        introduced = Optional.empty();
        afterIntroduced = false;
        open = false;
    }

    private void only(String version) {
        if (open) {
            throw new IllegalArgumentException("'" + text + "' names " + version + " inside a range");
        }
        ranges.add(AffectedRange.only(version));
    }

    /** Outside a range nothing is to be left out, except before the first: then it begins at the lowest version. */
    private void leaveOut(String version) {
        if (open || ranges.isEmpty()) {
            ranges.add(new AffectedRange(introduced, afterIntroduced, Optional.of(version), false));
            introduced = Optional.of(version);
            afterIntroduced = true;
            open = true;
        }
    }

    private List<AffectedRange> whole() {
        if (open) {
            ranges.add(new AffectedRange(introduced, afterIntroduced, Optional.empty(), false));
        }
        return List.copyOf(ranges);
    }
}
