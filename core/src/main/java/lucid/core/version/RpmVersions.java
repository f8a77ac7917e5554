package lucid.core.version;

/**
 * Versions of rpm packages, {@code [epoch:]version[-release]}. A part is cut into stretches of digits and stretches of
 * letters; everything else only separates, but for {@code ~} (before the end of the text) and {@code ^} (after the end,
 * before anything that goes on). Digits are newer than letters. No release sorts before any release.
 */
final class RpmVersions {

    private static final String LARGEST_EPOCH = "4294967295";

    private RpmVersions() {}

    static String fault(String evr) {
        int colon = evr.indexOf(':');
        if (colon >= 0 && !Numerals.isNumber(evr.substring(0, colon))) {
            return "the epoch before the colon must be a number";
        }
        if (colon >= 0 && Numerals.compare(evr.substring(0, colon), LARGEST_EPOCH) > 0) {
            return "the epoch must not be larger than " + LARGEST_EPOCH;
        }
        String rest = evr.substring(colon + 1);
        int hyphen = rest.indexOf('-');
        String version = hyphen < 0 ? rest : rest.substring(0, hyphen);
        String release = hyphen < 0 ? "" : rest.substring(hyphen + 1);
        if (version.isEmpty()) {
            return "the version part is empty";
        }
        if (hyphen >= 0 && release.isEmpty()) {
            return "nothing follows the hyphen";
        }
        for (char c : (version + release).toCharArray()) {
            if (!isSegment(c) && "._+~^".indexOf(c) < 0) {
                return "the character '" + c + "' is not allowed there";
            }
        }
        return null;
    }

    static int compare(String a, String b) {
        int byEpoch = Numerals.compare(epoch(a), epoch(b));
        if (byEpoch != 0) {
            return byEpoch;
        }
        int byVersion = compareParts(version(a), version(b));
        if (byVersion != 0) {
            return byVersion;
        }
        String releaseA = release(a);
        String releaseB = release(b);
        if (releaseA.isEmpty() || releaseB.isEmpty()) {
            return Boolean.compare(!releaseA.isEmpty(), !releaseB.isEmpty());
        }
        return compareParts(releaseA, releaseB);
    }

    private static String epoch(String evr) {
        return evr.substring(0, Math.max(evr.indexOf(':'), 0));
    }

    private static String version(String evr) {
        int hyphen = evr.indexOf('-');
        return evr.substring(evr.indexOf(':') + 1, hyphen < 0 ? evr.length() : hyphen);
    }

    private static String release(String evr) {
        int hyphen = evr.indexOf('-');
        return hyphen < 0 ? "" : evr.substring(hyphen + 1);
    }

    private static int compareParts(String a, String b) {
        int i = 0;
        int j = 0;
        while (true) {
            i = skipSeparators(a, i);
            j = skipSeparators(b, j);
            char left = at(a, i);
            char right = at(b, j);
            if (left == '~' || right == '~') {
                if (left != right) {
                    return left == '~' ? -1 : 1;
                }
                i++;
                j++;
                continue;
            }
            if (left == '^' || right == '^') {
                if (left == right) {
                    i++;
                    j++;
                    continue;
                }
                // A caret is newer than the end, older than anything that goes on.
                boolean leftIsNewer = left == '^' ? right == END : left != END;
                return leftIsNewer ? 1 : -1;
            }
            if (left == END || right == END) {
                return Boolean.compare(left != END, right != END);
            }
            boolean digits = Numerals.isDigit(left);
            if (digits != Numerals.isDigit(right)) {
                return digits ? 1 : -1;
            }
            int endA = endOfStretch(a, i, digits);
            int endB = endOfStretch(b, j, digits);
            String stretchA = a.substring(i, endA);
            String stretchB = b.substring(j, endB);
            int order = digits ? Numerals.compare(stretchA, stretchB) : Integer.signum(stretchA.compareTo(stretchB));
            if (order != 0) {
                return order;
            }
            i = endA;
            j = endB;
        }
    }

    private static final char END = 0;

    private static char at(String part, int index) {
        return index < part.length() ? part.charAt(index) : END;
    }

    private static boolean isSegment(char c) {
        return Numerals.isDigit(c) || Numerals.isLetter(c);
    }

    private static int skipSeparators(String part, int from) {
        int i = from;
        while (i < part.length() && !isSegment(part.charAt(i)) && part.charAt(i) != '~' && part.charAt(i) != '^') {
            i++;
        }
        return i;
    }

    private static int endOfStretch(String part, int from, boolean digits) {
        int i = from;
        while (i < part.length() && (digits ? Numerals.isDigit(part.charAt(i)) : Numerals.isLetter(part.charAt(i)))) {
            i++;
        }
        return i;
    }
}
