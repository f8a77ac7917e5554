package lucid.server.views;

import lucid.core.fleet.ConditionSyntaxException;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostConditions;
import lucid.server.web.ProblemException;

/** Reads conditions that people type. */
public final class ConditionParser {

    private static final int LONGEST = 1_000;

    private ConditionParser() {}

    /** @throws ProblemException naming {@code field} and, where the text is no condition, the position of the fault */
    public static HostCondition read(String field, String text, Fleet fleet) {
        return read(field, text, fleet, LONGEST);
    }

    /**
     * As {@link #read(String, String, Fleet)}, where a condition may be a long list of names.
     *
     * @param longest in characters
     */
    public static HostCondition read(String field, String text, Fleet fleet, int longest) {
        if (text.length() > longest) {
            throw ProblemException.badField(field, "at most " + longest + " characters");
        }
        try {
            return HostConditions.parse(text, fleet.traitTypes());
        } catch (ConditionSyntaxException e) {
            throw ProblemException.badText(field, e.getMessage(), e.position());
        }
    }
}
