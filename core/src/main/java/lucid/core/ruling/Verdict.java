package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Host;
import lucid.core.fleet.Predicate;
import org.roaringbitmap.RoaringBitmap;

/**
 * A decision on one update for one population.
 *
 * @param revision revision of the update on which it was decided
 * @param narrowing the part of the population that it is for; none: all of it
 * @param end of a block: when it ends; of a deferral: when the offer begins; of a force: when it is due
 * @param overrides numbers of verdicts that it knowingly overrides
 * @param overriddenExceptions numbers of exceptions that it knowingly overrides
 * @param named numbers of the hosts that it named when it was handed down; empty where that was not kept
 * @param takenBack when it was taken back, if it was
 */
public record Verdict(
        long number,
        String updateId,
        String revision,
        String populationId,
        Optional<Predicate> narrowing,
        VerdictType type,
        Instant end,
        Set<ReasonWord> reasons,
        String words,
        String author,
        Instant handedDown,
        Set<Long> overrides,
        Set<Long> overriddenExceptions,
        RoaringBitmap named,
        Optional<Instant> takenBack) {

    /** A verdict of which nobody keeps whom it named. */
    public Verdict(long number, String updateId, String revision, String populationId, Optional<Predicate> narrowing, VerdictType type, Instant end, Set<ReasonWord> reasons,
            String words, String author, Instant handedDown, Set<Long> overrides, Set<Long> overriddenExceptions, Optional<Instant> takenBack) {
        this(number, updateId, revision, populationId, narrowing, type, end, reasons, words, author, handedDown, overrides, overriddenExceptions, new RoaringBitmap(), takenBack);
    }

    /** True if it is handed down, not taken back, and has something to say at {@code instant}. */
    public boolean standsAt(Instant instant) {
        return !handedDown.isAfter(instant)
                && takenBack.filter(t -> !t.isAfter(instant)).isEmpty()
                && (type == VerdictType.DEFER || instant.isBefore(end));
    }

    public Verdict naming(RoaringBitmap hosts) {
        return new Verdict(number, updateId, revision, populationId, narrowing, type, end, reasons, words, author, handedDown, overrides, overriddenExceptions, hosts, takenBack);
    }

    boolean names(Host host) {
        return narrowing.filter(predicate -> !predicate.test(host)).isEmpty();
    }

    /** What it answers while it stands. */
    Answer answerAt(Instant instant) {
        return type == VerdictType.FORCE || type == VerdictType.DEFER && !instant.isBefore(end) ? Answer.OFFERED : Answer.WITHHELD;
    }

    public Verdict takenBackAt(Instant instant) {
        return new Verdict(number, updateId, revision, populationId, narrowing, type, end, reasons, words, author, handedDown,
                overrides, overriddenExceptions, named, Optional.of(instant));
    }
}
