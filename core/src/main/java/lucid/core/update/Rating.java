package lucid.core.update;

import java.util.Locale;

/**
 * Severity on the qualitative scale of CVSS v3.1, section 5. Ordered from unknown to worst; a missing rating is
 * {@link #UNRATED}, never {@link #LOW}.
 */
public enum Rating {
    UNRATED,
    NONE,
    LOW,
    MEDIUM,
    HIGH,
    CRITICAL;

    /** A vendor's word on our scale: Moderate is Medium, Important is High; an unknown word or none is unrated. */
    public static Rating ofVendorWord(String word) {
        return switch (word.strip().toLowerCase(Locale.ROOT)) {
            case "critical" -> CRITICAL;
            case "high", "important" -> HIGH;
            case "medium", "moderate" -> MEDIUM;
            case "low" -> LOW;
            case "none" -> NONE;
            default -> UNRATED;
        };
    }

    /** The rating of a CVSS base score from 0.0 to 10.0. */
    public static Rating ofBaseScore(double score) {
        if (score >= 9) {
            return CRITICAL;
        }
        if (score >= 7) {
            return HIGH;
        }
        if (score >= 4) {
            return MEDIUM;
        }
        return score > 0 ? LOW : NONE;
    }
}
