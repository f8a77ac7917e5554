package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * A decision on one update for one population.
 *
 * @param revision revision of the update on which it was decided
 * @param narrowing the part of the population that it is for; none: all of it
 * @param populationId entry of the ladder that it is for
 * @param end of a block: when it ends; of a deferral: when the offer begins; of a force: when it is due, after which it
 *     still stands
 * @param overrides numbers of verdicts that it knowingly overrides
 * @param overriddenExceptions numbers of exceptions that it knowingly overrides
 * @param then whom it was for when it was handed down
 * @param revokedAt when it was taken back, if it was
 * @param lapsed when a force ended with its due day, as older ones did; newer ones stand until every host carries the
 *     update
 */
public record Verdict(
        DecisionNumber.OfVerdict number,
        UpdateId updateId,
        String revision,
        PopulationId populationId,
        Optional<HostCondition> narrowing,
        VerdictType type,
        Instant end,
        Set<ReasonWord> reasons,
        String words,
        String author,
        Instant createdAt,
        Set<DecisionNumber.OfVerdict> overrides,
        Set<DecisionNumber.OfException> overriddenExceptions,
        Moment then,
        Optional<Instant> revokedAt,
        Optional<Instant> lapsed)
        implements Decision {

    /**
     * Whom a verdict was for at the moment at which it was handed down, as numbers of hosts.
     *
     * @param named every host that it named; empty where that was not kept
     * @param decided those of them that lacked the update and for which it was what holds
     */
    public record Moment(RoaringBitmap named, RoaringBitmap decided) {
        public static final Moment UNKNOWN = new Moment(new RoaringBitmap(), new RoaringBitmap());
    }

    /** A verdict of which nobody keeps whom it named. */
    public Verdict(
            DecisionNumber.OfVerdict number,
            UpdateId updateId,
            String revision,
            PopulationId populationId,
            Optional<HostCondition> narrowing,
            VerdictType type,
            Instant end,
            Set<ReasonWord> reasons,
            String words,
            String author,
            Instant createdAt,
            Set<DecisionNumber.OfVerdict> overrides,
            Set<DecisionNumber.OfException> overriddenExceptions,
            Optional<Instant> revokedAt) {
        this(
                number,
                updateId,
                revision,
                populationId,
                narrowing,
                type,
                end,
                reasons,
                words,
                author,
                createdAt,
                overrides,
                overriddenExceptions,
                Moment.UNKNOWN,
                revokedAt,
                Optional.empty());
    }

    /** True if it is handed down, not taken back, and has something to say at {@code instant}. */
    public boolean standsAt(Instant instant) {
        return isMadeBy(instant)
                && lapsed.filter(l -> !l.isAfter(instant)).isEmpty()
                && (type != VerdictType.BLOCK || instant.isBefore(end));
    }

    /** "Let it go now": a deferral whose offer began as it was given. */
    public boolean isLetGo() {
        return type == VerdictType.DEFER && !end.isAfter(createdAt);
    }

    /** True while it holds the update back. */
    public boolean withholdsAt(Instant instant) {
        return standsAt(instant) && type != VerdictType.FORCE && instant.isBefore(end);
    }

    @Override
    public boolean covers(Host host, Population entry) {
        return populationId.equals(entry.id()) && names(host);
    }

    public Verdict numbered(DecisionNumber.OfVerdict other) {
        return new Verdict(
                other,
                updateId,
                revision,
                populationId,
                narrowing,
                type,
                end,
                reasons,
                words,
                author,
                createdAt,
                overrides,
                overriddenExceptions,
                then,
                revokedAt,
                lapsed);
    }

    public Verdict at(Moment moment) {
        return new Verdict(
                number,
                updateId,
                revision,
                populationId,
                narrowing,
                type,
                end,
                reasons,
                words,
                author,
                createdAt,
                overrides,
                overriddenExceptions,
                moment,
                revokedAt,
                lapsed);
    }

    boolean names(Host host) {
        return narrowing.filter(condition -> !condition.test(host)).isEmpty();
    }

    /** What it answers while it stands. */
    Effect effectAt(Instant instant) {
        return type == VerdictType.FORCE || type == VerdictType.DEFER && !instant.isBefore(end)
                ? Effect.OFFERED
                : Effect.WITHHELD;
    }

    public Verdict revoked(Instant instant) {
        return new Verdict(
                number,
                updateId,
                revision,
                populationId,
                narrowing,
                type,
                end,
                reasons,
                words,
                author,
                createdAt,
                overrides,
                overriddenExceptions,
                then,
                Optional.of(instant),
                lapsed);
    }
}
