package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;

/**
 * What one clause says.
 *
 * @param source number of the verdict or exception that says so, where one does
 * @param end until when it says so, where it ends by itself
 * @param due when an offer is due, where it is; it still stands when that is past
 */
public record RuleMatch(
        Clause clause, Effect effect, Optional<DecisionNumber> source, Optional<Instant> end, Optional<Instant> due) {

    /** The clauses of the ruling, in their order. */
    public enum Clause {
        CARRIED_OR_NOT_APPLICABLE,
        /** The host is known to lack what the update requires; it is offered to it once it has that. */
        CANNOT_TAKE,
        /** It would be offered, but the host has just come, and this is an upgrade. */
        FIRST_DAY,
        OVERRIDING_FORCE,
        EXCEPTION,
        /** Nothing is offered, installed or restarted until it ends. */
        FREEZE,
        VERDICT,
        /** It contains an update that a verdict withholds, and nobody has answered for it yet. */
        SUPERSEDES_BLOCKED,
        /** It contains an update that an exception withholds, and nobody has answered for it yet. */
        CONTAINS_EXCEPTED,
        /** The population stays at a release of the platform that is below this one. */
        TARGET_RELEASE,
        /** The fleet's caution lets no standing rule offer anything. */
        CAUTION,
        STANDING_RULE
    }

    /**
     * True if nothing but a verdict will ever offer it: the standing rule says so, or the release of the population.
     */
    public boolean isNever() {
        return (clause == Clause.STANDING_RULE || clause == Clause.TARGET_RELEASE)
                && effect == Effect.WITHHELD
                && end.isEmpty();
    }

    RuleMatch due(Instant at) {
        return new RuleMatch(clause, effect, source, end, Optional.of(at));
    }

    /** True if it is a rule for whatever nobody has judged, and no decision on the update. */
    public boolean isRule() {
        return clause == Clause.TARGET_RELEASE || clause == Clause.CAUTION || clause == Clause.STANDING_RULE;
    }
}
