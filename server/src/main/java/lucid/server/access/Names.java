package lucid.server.access;

import java.lang.Character.UnicodeScript;
import java.text.Normalizer;
import java.util.EnumSet;
import java.util.Locale;
import java.util.Set;
import lucid.formats.document.Texts;

/**
 * Names that the screen shows for people, feeds and machines. None may pass for another: each is printable, in one
 * script (Unicode Technical Standard 39, section 5.1, with the scripts that are written together), and compared without
 * case, width and spaces; people's names never begin as those of machines and feeds do.
 */
final class Names {

    private static final int LONGEST = 100;
    private static final Set<UnicodeScript> JAPANESE =
            EnumSet.of(UnicodeScript.HAN, UnicodeScript.HIRAGANA, UnicodeScript.KATAKANA);
    private static final Set<UnicodeScript> KOREAN = EnumSet.of(UnicodeScript.HAN, UnicodeScript.HANGUL);
    private static final Set<UnicodeScript> OF_ALL = EnumSet.of(UnicodeScript.COMMON, UnicodeScript.INHERITED);

    private Names() {}

    /**
     * The name as it is kept.
     *
     * @throws IllegalArgumentException saying what is wrong with it
     */
    static String require(String name) {
        String line = Texts.line(name);
        if (line.isEmpty() || line.length() > LONGEST) {
            throw new IllegalArgumentException("the name that the record shows has 1 to " + LONGEST + " characters");
        }
        Set<UnicodeScript> scripts = EnumSet.noneOf(UnicodeScript.class);
        line.codePoints().mapToObj(UnicodeScript::of).forEach(scripts::add);
        scripts.removeAll(OF_ALL);
        if (scripts.size() > 1 && !JAPANESE.containsAll(scripts) && !KOREAN.containsAll(scripts)) {
            throw new IllegalArgumentException(
                    "the name mixes letters of several scripts, which look alike; write it in one");
        }
        if (line.codePoints().noneMatch(Character::isLetterOrDigit)) {
            throw new IllegalArgumentException("the name has no letter");
        }
        return line;
    }

    /** As {@link #require}, for a person. */
    static String requirePerson(String name) {
        String line = require(name);
        String compared = compared(line);
        if (compared.startsWith("machine") || compared.startsWith("feed") || compared.startsWith("lucidverdict")) {
            throw new IllegalArgumentException(
                    "a name that begins with 'Machine', 'Feed' or 'Lucid Verdict' would look like one of those");
        }
        return line;
    }

    /** By which two names are the same. */
    static String compared(String name) {
        return Normalizer.normalize(name, Normalizer.Form.NFKC)
                .toLowerCase(Locale.ROOT)
                .replaceAll("[\\s\\p{Punct}]+", "");
    }
}
