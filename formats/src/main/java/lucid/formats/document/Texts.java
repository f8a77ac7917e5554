package lucid.formats.document;

import java.text.Normalizer;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;

/**
 * Which texts and instants are taken, whatever brings them: documents, reports and requests alike. A text is
 * well-formed Unicode in Normalization Form C (Unicode Standard Annex 15) without control characters, without code
 * points that are none, and without signs that turn the direction of what stands around it (Unicode Standard Annex 9).
 * An instant lies where a released update can: in the years 1990 to 2100.
 */
public final class Texts {

    private static final Instant FIRST = LocalDate.of(1990, 1, 1).atStartOfDay().toInstant(ZoneOffset.UTC);
    private static final Instant LAST = LocalDate.of(2101, 1, 1).atStartOfDay().toInstant(ZoneOffset.UTC);

    private Texts() {}

    /**
     * A text of one line without blanks at its ends, as it is kept: an identifier, a name, a version.
     *
     * @throws IllegalArgumentException saying what is wrong with it
     */
    public static String line(String text) {
        return checked(text, false).strip();
    }

    /**
     * A text of any number of lines, as it is kept.
     *
     * @throws IllegalArgumentException saying what is wrong with it
     */
    public static String prose(String text) {
        return checked(text, true);
    }

    private static String checked(String text, boolean lines) {
        boolean plain = true;
        for (int at = 0; at < text.length(); ) {
            int sign = text.codePointAt(at);
            if (sign < ' ' || sign >= 0x7f) {
                plain = false;
                requireSign(sign, lines);
            }
            at += Character.charCount(sign);
        }
        return plain || Normalizer.isNormalized(text, Normalizer.Form.NFC)
                ? text
                : Normalizer.normalize(text, Normalizer.Form.NFC);
    }

    private static void requireSign(int sign, boolean lines) {
        boolean breaks = sign == '\n' || sign == '\r' || sign == '\t';
        if (Character.isISOControl(sign) && !(lines && breaks)) {
            throw new IllegalArgumentException(
                    "must not hold " + (breaks ? "line breaks" : "control characters") + " (" + name(sign) + ")");
        }
        if (sign >= Character.MIN_SURROGATE && sign <= Character.MAX_SURROGATE) {
            throw new IllegalArgumentException(
                    "is no well-formed text: half a character stands in it (" + name(sign) + ")");
        }
        if ((sign & 0xFFFE) == 0xFFFE || sign >= 0xFDD0 && sign <= 0xFDEF) {
            throw new IllegalArgumentException("holds what is no character (" + name(sign) + ")");
        }
        if (turns(sign) || !lines && (marks(sign) || sign == 0x2028 || sign == 0x2029)) {
            throw new IllegalArgumentException(
                    "must not hold signs that turn the direction of text or break its lines (" + name(sign) + ")");
        }
    }

    /** Embeddings, overrides and isolates of the bidirectional algorithm: a name that holds one reads as another. */
    private static boolean turns(int sign) {
        return sign >= 0x202A && sign <= 0x202E || sign >= 0x2066 && sign <= 0x2069;
    }

    /** Marks of direction, which cannot be seen; running text of some languages needs them. */
    private static boolean marks(int sign) {
        return sign == 0x200E || sign == 0x200F || sign == 0x061C;
    }

    private static String name(int sign) {
        return String.format("U+%04X", sign);
    }

    /** A name that somebody else chose, of which what cannot be shown is replaced: a file's. */
    public static String shown(String text) {
        StringBuilder shown = new StringBuilder();
        text.codePoints().forEach(sign -> {
            try {
                requireSign(sign, false);
                shown.appendCodePoint(sign);
            } catch (IllegalArgumentException e) {
                shown.append('\uFFFD');
            }
        });
        return Normalizer.normalize(shown, Normalizer.Form.NFC).strip();
    }

    /**
     * An identifier that can stand in an address: it has a letter or digit.
     *
     * @throws IllegalArgumentException saying what is wrong with it
     */
    public static String identifier(String text) {
        String line = line(text);
        if (line.codePoints().noneMatch(Character::isLetterOrDigit)) {
            throw new IllegalArgumentException("has neither letter nor digit");
        }
        return line;
    }

    /**
     * The instant itself.
     *
     * @throws IllegalArgumentException if it lies outside the years 1990 to 2100
     */
    public static Instant plausible(Instant instant) {
        if (instant.isBefore(FIRST) || !instant.isBefore(LAST)) {
            throw new IllegalArgumentException(instant + " lies outside the years 1990 to 2100");
        }
        return instant;
    }
}
