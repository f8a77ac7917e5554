package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;

/** "Leave to the rule": an answer, not a verdict. Nothing speaks against the update; its standing rules go on. */
public record RuleAnswer(long number, String updateId, String author, Instant given, Optional<Instant> takenBack) {

    public RuleAnswer takenBackAt(Instant instant) {
        return new RuleAnswer(number, updateId, author, given, Optional.of(instant));
    }
}
