package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.fleet.Predicate;
import org.roaringbitmap.RoaringBitmap;

/**
 * A decision on one update for one population.
 *
 * @param revision revision of the update on which it was decided
 * @param narrowing the part of the population that it is for; none: all of it
 * @param populationId entry of the ladder that it is for
 * @param end of a block: when it ends; of a deferral: when the offer begins; of a force: when it is due, after which it still stands
 * @param overrides numbers of verdicts that it knowingly overrides
 * @param overriddenExceptions numbers of exceptions that it knowingly overrides
 * @param named numbers of the hosts that it named when it was handed down; empty where that was not kept
 * @param takenBack when it was taken back, if it was
 * @param lapsed when a force ended with its due day, as older ones did; newer ones stand until every host carries the update
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
        Optional<Instant> takenBack,
        Optional<Instant> lapsed) implements Decision {

    /** A verdict of which nobody keeps whom it named. */
    public Verdict(long number, String updateId, String revision, String populationId, Optional<Predicate> narrowing, VerdictType type, Instant end, Set<ReasonWord> reasons,
            String words, String author, Instant handedDown, Set<Long> overrides, Set<Long> overriddenExceptions, Optional<Instant> takenBack) {
        this(number, updateId, revision, populationId, narrowing, type, end, reasons, words, author, handedDown, overrides, overriddenExceptions, new RoaringBitmap(), takenBack, Optional.empty());
    }

    @Override
    public Instant decided() {
        return handedDown;
    }

    /** True if it is handed down, not taken back, and has something to say at {@code instant}. */
    public boolean standsAt(Instant instant) {
        return isMadeBy(instant) && lapsed.filter(l -> !l.isAfter(instant)).isEmpty() && (type != VerdictType.BLOCK || instant.isBefore(end));
    }

    /** "Let it go now": a deferral whose offer began as it was given. */
    public boolean isLetGo() {
        return type == VerdictType.DEFER && !end.isAfter(handedDown);
    }

    /** True while it holds the update back. */
    public boolean withholdsAt(Instant instant) {
        return standsAt(instant) && type != VerdictType.FORCE && instant.isBefore(end);
    }

    @Override
    public boolean covers(Host host, Population entry) {
        return populationId.equals(entry.id()) && names(host);
    }

    public Verdict naming(RoaringBitmap hosts) {
        return new Verdict(number, updateId, revision, populationId, narrowing, type, end, reasons, words, author, handedDown, overrides, overriddenExceptions, hosts, takenBack, lapsed);
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
                overrides, overriddenExceptions, named, Optional.of(instant), lapsed);
    }
}
