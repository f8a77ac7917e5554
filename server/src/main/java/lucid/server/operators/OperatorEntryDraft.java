package lucid.server.operators;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.HostName;
import lucid.core.operators.OperatorEntry;
import lucid.core.update.UpdateId;
import lucid.server.web.ProblemException;

/**
 * What an operator says, as it comes in.
 *
 * @param slot when it is to be installed; none: it is done
 * @param words what whoever reads it should know
 */
record OperatorEntryDraft(
        UpdateId update, String revision, List<HostName> hosts, Optional<SlotDraft> slot, String words) {

    private static final int MOST_HOSTS = 2_000;
    private static final int LONGEST_WORDS = 2_000;
    private static final Duration LONGEST_SLOT = Duration.ofDays(7);
    private static final Duration FURTHEST_SLOT = Duration.ofDays(366);

    /** From one instant to before another. */
    record SlotDraft(Optional<Instant> from, Optional<Instant> until) {}

    OperatorEntryDraft {
        hosts = hosts == null ? List.of() : hosts.stream().distinct().toList();
        slot = slot == null ? Optional.empty() : slot;
        words = words == null ? "" : words.strip();
    }

    /** @throws ProblemException 422 naming the field */
    void requireSensible(Instant now) {
        if (hosts.isEmpty() || hosts.size() > MOST_HOSTS) {
            throw ProblemException.badField("hosts", "name 1 to 2,000 hosts");
        }
        if (!words.isEmpty()) {
            ProblemException.requireProse("words", words, LONGEST_WORDS, "");
        }
        agreed().ifPresent(agreed -> {
            if (!agreed.until().isAfter(now)) {
                throw ProblemException.badField("slot.until", "this slot is over already");
            }
            if (Duration.between(agreed.from(), agreed.until()).compareTo(LONGEST_SLOT) > 0) {
                throw ProblemException.badField("slot.until", "a slot lasts at most a week");
            }
            if (agreed.from().isAfter(now.plus(FURTHEST_SLOT))) {
                throw ProblemException.badField("slot.from", "a slot begins within a year");
            }
        });
    }

    /** @throws ProblemException 422 if it is half there, or ends before it begins */
    Optional<OperatorEntry.Slot> agreed() {
        return slot.map(asked -> {
            Instant from =
                    asked.from().orElseThrow(() -> ProblemException.badField("slot.from", "say when the slot begins"));
            Instant until =
                    asked.until().orElseThrow(() -> ProblemException.badField("slot.until", "say when the slot ends"));
            if (!until.isAfter(from)) {
                throw ProblemException.badField("slot.until", "a slot ends after it begins");
            }
            return new OperatorEntry.Slot(from, until);
        });
    }
}
