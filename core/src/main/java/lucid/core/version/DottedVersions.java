package lucid.core.version;

/**
 * Builds such as {@code 6.0.1107} or {@code 7.0-rc.2}: numbers between dots, missing ones counting as 0. What follows a
 * hyphen is a pre-release, ordered as in Semantic Versioning 2.0.0 section 11: before the release, identifier by
 * identifier, numbers before words, the longer list after its prefix.
 */
final class DottedVersions {

    private DottedVersions() {}

    static String fault(String version) {
        int hyphen = version.indexOf('-');
        String numbers = hyphen < 0 ? version : version.substring(0, hyphen);
        for (String part : numbers.split("\\.", -1)) {
            if (!Numerals.isNumber(part)) {
                return part.isEmpty() ? "a number is missing" : "'" + part + "' is not a number";
            }
        }
        if (hyphen < 0) {
            return null;
        }
        for (String identifier : version.substring(hyphen + 1).split("\\.", -1)) {
            if (identifier.isEmpty()) {
                return "a pre-release identifier is empty";
            }
            for (char c : identifier.toCharArray()) {
                if (!Numerals.isDigit(c) && !Numerals.isLetter(c) && c != '-') {
                    return "the character '" + c + "' is not allowed in a pre-release";
                }
            }
        }
        return null;
    }

    static int compare(String a, String b) {
        String[] left = numbers(a);
        String[] right = numbers(b);
        for (int i = 0; i < Math.max(left.length, right.length); i++) {
            int order = Numerals.compare(i < left.length ? left[i] : "", i < right.length ? right[i] : "");
            if (order != 0) {
                return order;
            }
        }
        return comparePreReleases(preRelease(a), preRelease(b));
    }

    private static String[] numbers(String version) {
        int hyphen = version.indexOf('-');
        return (hyphen < 0 ? version : version.substring(0, hyphen)).split("\\.", -1);
    }

    private static String preRelease(String version) {
        int hyphen = version.indexOf('-');
        return hyphen < 0 ? "" : version.substring(hyphen + 1);
    }

    private static int comparePreReleases(String a, String b) {
        if (a.isEmpty() || b.isEmpty()) {
            return Boolean.compare(a.isEmpty(), b.isEmpty());
        }
        String[] left = a.split("\\.", -1);
        String[] right = b.split("\\.", -1);
        for (int i = 0; i < Math.min(left.length, right.length); i++) {
            boolean leftIsNumber = Numerals.isNumber(left[i]);
            boolean rightIsNumber = Numerals.isNumber(right[i]);
            int order;
            if (leftIsNumber && rightIsNumber) {
                order = Numerals.compare(left[i], right[i]);
            } else if (leftIsNumber != rightIsNumber) {
                order = leftIsNumber ? -1 : 1;
            } else {
                order = Integer.signum(left[i].compareTo(right[i]));
            }
            if (order != 0) {
                return order;
            }
        }
        return Integer.compare(left.length, right.length);
    }
}
