package lucid.core.fleet;

import java.util.Set;

/** How names and values are written in the condition language. */
final class ConditionText {

    static final Set<String> KEYWORDS = Set.of("and", "or", "not", "in", "is", "set", "true", "false");

    private ConditionText() {}

    /** Characters that a word may have without quotes. */
    static boolean isWordCharacter(int c) {
        return Character.isLetterOrDigit(c) || c == '_' || c == '.' || c == '-' || c == '/';
    }

    static boolean isNumber(String word) {
        return word.matches("-?\\d+(\\.\\d+)?");
    }

    /** A word bare where that reads back as the same text, else in quotes. */
    static String word(String text) {
        boolean bare = !text.isEmpty()
                && text.codePoints().allMatch(ConditionText::isWordCharacter)
                && !KEYWORDS.contains(text)
                && !isNumber(text);
        return bare ? text : "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
    }

    static String literal(Trait value) {
        return value instanceof Trait.Text text ? word(text.value()) : value.toString();
    }
}
