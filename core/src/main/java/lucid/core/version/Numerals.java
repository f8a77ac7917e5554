package lucid.core.version;

/** Strings of ASCII digits compared by value, whatever their length. */
final class Numerals {

    private Numerals() {}

    static boolean isDigit(char c) {
        return c >= '0' && c <= '9';
    }

    static boolean isLetter(char c) {
        return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z';
    }

    /** True for a text of one or more ASCII digits. */
    static boolean isNumber(String text) {
        return !text.isEmpty() && text.chars().allMatch(c -> isDigit((char) c));
    }

    /** Compares by value; the empty string counts as 0. */
    static int compare(String a, String b) {
        String left = withoutLeadingZeros(a);
        String right = withoutLeadingZeros(b);
        int byLength = Integer.compare(left.length(), right.length());
        return byLength != 0 ? byLength : Integer.signum(left.compareTo(right));
    }

    private static String withoutLeadingZeros(String digits) {
        int first = 0;
        while (first < digits.length() && digits.charAt(first) == '0') {
            first++;
        }
        return digits.substring(first);
    }
}
