package lucid.core.weighing;

import java.util.List;
import java.util.Optional;

/**
 * What the numbers speak for; never an action.
 *
 * @param causes of a narrowed block: places of the causes' cells that it is for; else empty
 * @param rest of a narrowed block: what they speak for on the remaining hosts
 */
public record Suggestion(Type type, List<Integer> causes, Optional<Type> rest) {

    public enum Type {
        /** None: no host lacks it. */
        NONE,
        /** None: its vendor withdrew it. */
        WITHDRAWN,
        /** None: hosts lack it, but no version with the fix is known. */
        NOTHING_TO_INSTALL,
        CARRY_OVER,
        FORCE,
        BLOCK,
        PILOT,
        LET_GO,
        LEAVE_TO_RULE;

        /** False where there is nothing that could be suggested. */
        public boolean isSuggestion() {
            return this != NONE && this != WITHDRAWN && this != NOTHING_TO_INSTALL;
        }
    }

    static Suggestion of(Type type) {
        return new Suggestion(type, List.of(), Optional.empty());
    }
}
