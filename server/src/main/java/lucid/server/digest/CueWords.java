package lucid.server.digest;

import java.util.Locale;
import lucid.core.docket.Cue;

/** Cues in two or three words. */
final class CueWords {

    private CueWords() {}

    static String of(Cue.Type type) {
        return switch (type) {
            case KNOWN_EXPLOITED -> "known to be exploited";
            case FAILURES_ABOVE_USUAL -> "fails more often than usual";
            case SILENT_AFTER_INSTALL -> "hosts silent after install";
            case PRODUCTS_NOT_READ -> "products not read";
            case ISSUE_OPENED -> "known issue";
            case ISSUE_FIXED -> "known issue fixed";
            case OBJECTED -> "objected to by whoever answers for an exception";
            case LOOK_AGAIN -> "to be looked at again";
            case BLOCKED_BUT_INSTALLED -> "installed although blocked";
            case SUPERSEDES_BLOCKED -> "contains what is withheld";
            case REVISED_FIXES -> "revised: other fixes";
            case REVISED_TEXT -> "revised: only words";
            case PROBABILITY_CROSSED -> "exploit probability changed";
            case DUE_AT_RISK -> "due soon";
            case POPULATION_CHANGED -> "hosts of its verdict changed";
            case AFFECTED_NOW -> "does matter now";
            case NEEDS_VERDICT -> "needs a verdict";
            default -> type.name().toLowerCase(Locale.ROOT).replace('_', ' ');
        };
    }
}
