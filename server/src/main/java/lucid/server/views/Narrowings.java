package lucid.server.views;

import lucid.core.fleet.Fleet;
import lucid.core.fleet.Predicate;
import lucid.core.fleet.PredicateSyntaxException;
import lucid.core.fleet.Predicates;
import lucid.server.web.ProblemException;

/** Reads predicates that people type. */
public final class Narrowings {

    private static final int LONGEST = 1_000;

    private Narrowings() {}

    /** @throws ProblemException naming {@code field} and, where the text is no predicate, the position of the fault */
    public static Predicate read(String field, String text, Fleet fleet) {
        if (text.length() > LONGEST) {
            throw ProblemException.badField(field, "at most " + LONGEST + " characters");
        }
        try {
            return Predicates.parse(text, fleet.traitTypes());
        } catch (PredicateSyntaxException e) {
            throw ProblemException.badText(field, e.getMessage(), e.position());
        }
    }
}
