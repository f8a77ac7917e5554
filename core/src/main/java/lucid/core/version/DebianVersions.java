package lucid.core.version;

/**
 * Versions of deb packages, {@code [epoch:]upstream[-revision]}, compared as Debian Policy section 5.6.12 says:
 * stretches without digits and stretches of digits in turn, where {@code ~} sorts before everything, even the end, then
 * letters, then all other characters.
 */
final class DebianVersions {

    /** dpkg keeps the epoch in a C int. */
    private static final String LARGEST_EPOCH = String.valueOf(Integer.MAX_VALUE);

    private DebianVersions() {}

    static String fault(String version) {
        int colon = version.indexOf(':');
        String epoch = version.substring(0, Math.max(colon, 0));
        if (colon >= 0 && !Numerals.isNumber(epoch)) {
            return "the epoch before the first colon must be a number";
        }
        if (colon >= 0 && Numerals.compare(epoch, LARGEST_EPOCH) > 0) {
            return "the epoch must not be larger than " + LARGEST_EPOCH;
        }
        String rest = version.substring(colon + 1);
        int hyphen = rest.lastIndexOf('-');
        if (hyphen == rest.length() - 1 && hyphen >= 0) {
            return "nothing follows the last hyphen";
        }
        String upstream = hyphen < 0 ? rest : rest.substring(0, hyphen);
        if (upstream.isEmpty()) {
            return "the upstream part is empty";
        }
        if (!Numerals.isDigit(upstream.charAt(0))) {
            return "the upstream part must begin with a digit";
        }
        String illegal = firstIllegal(upstream, ".+~:-");
        if (illegal == null && hyphen >= 0) {
            illegal = firstIllegal(rest.substring(hyphen + 1), ".+~");
        }
        return illegal;
    }

    private static String firstIllegal(String part, String alsoLegal) {
        for (int i = 0; i < part.length(); i++) {
            char c = part.charAt(i);
            if (!Numerals.isDigit(c) && !Numerals.isLetter(c) && alsoLegal.indexOf(c) < 0) {
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
        int byUpstream = compareParts(upstream(a), upstream(b));
        return byUpstream != 0 ? byUpstream : compareParts(revision(a), revision(b));
    }

    private static String epoch(String version) {
        return version.substring(0, Math.max(version.indexOf(':'), 0));
    }

    private static String upstream(String version) {
        int hyphen = version.lastIndexOf('-');
        return version.substring(version.indexOf(':') + 1, hyphen < 0 ? version.length() : hyphen);
    }

    private static String revision(String version) {
        int hyphen = version.lastIndexOf('-');
        return hyphen < 0 ? "" : version.substring(hyphen + 1);
    }

    private static int compareParts(String a, String b) {
        int i = 0;
        int j = 0;
        while (i < a.length() || j < b.length()) {
            while (i < a.length() && !Numerals.isDigit(a.charAt(i))
                    || j < b.length() && !Numerals.isDigit(b.charAt(j))) {
                int byWeight = Integer.compare(weight(a, i++), weight(b, j++));
                if (byWeight != 0) {
                    return byWeight;
                }
            }
            int endA = endOfDigits(a, i);
            int endB = endOfDigits(b, j);
            int byNumber = Numerals.compare(a.substring(Math.min(i, endA), endA), b.substring(Math.min(j, endB), endB));
            if (byNumber != 0) {
                return byNumber;
            }
            i = endA;
            j = endB;
        }
        return 0;
    }

    /** The end of the text and digits weigh 0, {@code ~} less, letters more, other characters most. */
    private static int weight(String part, int at) {
        if (at >= part.length() || Numerals.isDigit(part.charAt(at))) {
            return 0;
        }
        char c = part.charAt(at);
        if (c == '~') {
            return -1;
        }
        return Numerals.isLetter(c) ? c : c + 256;
    }

    private static int endOfDigits(String part, int from) {
        int end = Math.min(from, part.length());
        while (end < part.length() && Numerals.isDigit(part.charAt(end))) {
            end++;
        }
        return end;
    }
}
