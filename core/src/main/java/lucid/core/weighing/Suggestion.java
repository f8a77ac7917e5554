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
        NONE,
        CARRY_OVER,
        FORCE,
        BLOCK,
        PILOT,
        LET_GO,
        LEAVE_TO_RULE
    }

    static Suggestion of(Type type) {
        return new Suggestion(type, List.of(), Optional.empty());
    }
}
