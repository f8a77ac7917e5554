package lucid.core.fleet;

import java.util.ArrayList;
import java.util.List;

/** One word, number, sign or quoted text of a condition, with its place. */
record Token(Type type, String text, int position) {

    enum Type {
        WORD,
        KEYWORD,
        NUMBER,
        QUOTED,
        SIGN,
        END
    }

    boolean is(Type wanted) {
        return type == wanted;
    }

    boolean isKeyword(String keyword) {
        return type == Type.KEYWORD && text.equals(keyword);
    }

    /** Cuts a text into tokens; the last one is always {@link Type#END}. */
    static List<Token> all(String text) {
        List<Token> tokens = new ArrayList<>();
        int i = 0;
        while (i < text.length()) {
            char c = text.charAt(i);
            if (Character.isWhitespace(c)) {
                i++;
            } else if (c == '"') {
                i = quoted(text, i, tokens);
            } else if (ConditionText.isWordCharacter(c)) {
                int end = i;
                while (end < text.length() && ConditionText.isWordCharacter(text.charAt(end))) {
                    end++;
                }
                tokens.add(word(text.substring(i, end), i));
                i = end;
            } else {
                i = sign(text, i, tokens);
            }
        }
        tokens.add(new Token(Type.END, "", text.length()));
        return tokens;
    }

    private static Token word(String word, int position) {
        if (ConditionText.KEYWORDS.contains(word)) {
            return new Token(Type.KEYWORD, word, position);
        }
        return new Token(ConditionText.isNumber(word) ? Type.NUMBER : Type.WORD, word, position);
    }

    private static int quoted(String text, int start, List<Token> tokens) {
        StringBuilder content = new StringBuilder();
        int i = start + 1;
        while (i < text.length() && text.charAt(i) != '"') {
            if (text.charAt(i) == '\\' && i + 1 < text.length()) {
                i++;
            }
            content.append(text.charAt(i++));
        }
        if (i >= text.length()) {
            throw new ConditionSyntaxException(start, "the quoted text has no end");
        }
        tokens.add(new Token(Type.QUOTED, content.toString(), start));
        return i + 1;
    }

    private static int sign(String text, int start, List<Token> tokens) {
        String two = text.substring(start, Math.min(start + 2, text.length()));
        String canonical =
                switch (two) {
                    case "!=" -> "≠";
                    case "<=" -> "≤";
                    case ">=" -> "≥";
                    default -> null;
                };
        if (canonical != null) {
            tokens.add(new Token(Type.SIGN, canonical, start));
            return start + 2;
        }
        String one = two.substring(0, 1);
        if (!"=≠<≤>≥(),".contains(one)) {
            throw new ConditionSyntaxException(
                    start, "'" + one + "' means nothing here; a text with it wants double quotes");
        }
        tokens.add(new Token(Type.SIGN, one, start));
        return start + 1;
    }
}
