package lucid.core.ruling;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Spread;
import lucid.core.pilot.Pilot;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * A decision on one update for one population.
 *
 * @param end of a block: when it ends; of a deferral: when the offer begins; of a pilot: when it is to have answered,
 *     which ends it; of a force: when it is due, after which it still stands; where it is spread, that of the last part
 * @param goesOver what it knowingly overrides
 * @param delivery how it reaches its hosts
 * @param then whom it was for when it was handed down
 * @param revokedAt when it was taken back, if it was
 * @param pilot of a pilot: who tries it; shared with the verdicts of other populations that were handed down with it
 * @param lapsed when a force ended with its due day, as older ones did; newer ones stand until every host carries the
 *     update
 */
public record Verdict(
        DecisionNumber.OfVerdict number,
        Subject subject,
        VerdictType type,
        Instant end,
        Reason reason,
        Origin origin,
        Overrides goesOver,
        Delivery delivery,
        Moment then,
        Optional<Instant> revokedAt,
        Optional<Instant> lapsed,
        Optional<Pilot> pilot)
        implements Decision {

    /**
     * @throws IllegalArgumentException if a pilot has no sample, or another verdict has one; or it is delivered in a
     *     way that its type has no use for
     */
    public Verdict {
        boolean offersToAll = type == VerdictType.DEFER || type == VerdictType.FORCE;
        if (!offersToAll
                && (delivery.spread().isPresent() || delivery.byOperator().isPresent())) {
            throw new IllegalArgumentException("only what is deferred or forced is spread, or begun by an operator");
        }
        if (delivery.removes() && type != VerdictType.BLOCK) {
            throw new IllegalArgumentException("what is removed is blocked");
        }
        if (delivery.spread().filter(parts -> !parts.last().equals(end)).isPresent()) {
            throw new IllegalArgumentException("a verdict that is spread ends with its last part");
        }
        if (pilot.isPresent() != (type == VerdictType.PILOT)) {
            throw new IllegalArgumentException("a pilot has a sample, and no other verdict has one");
        }
    }

    /**
     * What it is about.
     *
     * @param revision of the update on which it was decided
     * @param populationId entry of the ladder that it is for
     * @param narrowing the part of the population that it is for; none: all of it
     */
    public record Subject(
            UpdateId updateId, String revision, PopulationId populationId, Optional<HostCondition> narrowing) {}

    /** Why: words from a small list, and the author's own. */
    public record Reason(Set<ReasonWord> listed, String words) {}

    /** @param approver who approved it, where somebody had to */
    public record Origin(String author, Instant createdAt, Optional<String> approver) {

        /** Nobody had to approve it. */
        public Origin(String author, Instant createdAt) {
            this(author, createdAt, Optional.empty());
        }
    }

    /**
     * How a verdict reaches its hosts.
     *
     * @param allowance of a force: how long a host that was away has after its return until it is due there; not
     *     negative
     * @param outsideWindows of a force: whether it does not wait for a window once it is due
     * @param spread of a deferral or a force: parts of its hosts, for which it ends or is due one after the other
     * @param byOperator of a deferral or a force: its hosts do not install it by themselves; a day by which it is due
     *     is then a request
     * @param removes of a block: whether hosts that carry it are to go back to an earlier version
     */
    public record Delivery(
            Duration allowance,
            boolean outsideWindows,
            Optional<Spread> spread,
            Optional<ByOperator> byOperator,
            boolean removes) {

        /** Due at once on a host that comes back, in windows only; all hosts alike, by themselves. */
        public static final Delivery USUAL = new Delivery(Duration.ZERO, false);

        public Delivery(Duration allowance, boolean outsideWindows) {
            this(allowance, outsideWindows, Optional.empty(), Optional.empty(), false);
        }

        public Delivery spreadOver(Spread parts) {
            return new Delivery(allowance, outsideWindows, Optional.of(parts), byOperator, removes);
        }

        public Delivery by(ByOperator operator) {
            return new Delivery(allowance, outsideWindows, spread, Optional.of(operator), removes);
        }

        public Delivery removing() {
            return new Delivery(allowance, outsideWindows, spread, byOperator, true);
        }
    }

    /**
     * What whoever runs the hosts is told.
     *
     * @param checklist what is to be done, step by step
     * @param order in which the hosts are to follow, as far as it matters; others in any order after these
     */
    public record ByOperator(List<String> checklist, List<HostName> order) {
        public ByOperator {
            checklist = List.copyOf(checklist);
            order = List.copyOf(order);
        }
    }

    /** Numbers of the verdicts, exceptions and freezes that it knowingly overrides. */
    public record Overrides(
            Set<DecisionNumber.OfVerdict> verdicts,
            Set<DecisionNumber.OfException> exceptions,
            Set<DecisionNumber.OfFreeze> freezes) {

        /** No freeze among them. */
        public Overrides(Set<DecisionNumber.OfVerdict> verdicts, Set<DecisionNumber.OfException> exceptions) {
            this(verdicts, exceptions, Set.of());
        }
    }

    /**
     * Whom a verdict was for at the moment at which it was handed down, as numbers of hosts.
     *
     * @param named every host that it named; empty where that was not kept
     * @param decided those of them that lacked the update and for which it was what holds
     */
    public record Moment(RoaringBitmap named, RoaringBitmap decided) {
        public static final Moment UNKNOWN = new Moment(new RoaringBitmap(), new RoaringBitmap());
    }

    /** A verdict without a sample, of which nobody keeps whom it named. */
    public Verdict(
            DecisionNumber.OfVerdict number,
            Subject subject,
            VerdictType type,
            Instant end,
            Reason reason,
            Origin origin,
            Overrides goesOver,
            Optional<Instant> revokedAt) {
        this(
                number,
                subject,
                type,
                end,
                reason,
                origin,
                goesOver,
                Delivery.USUAL,
                Moment.UNKNOWN,
                revokedAt,
                Optional.empty(),
                Optional.empty());
    }

    public UpdateId updateId() {
        return subject.updateId();
    }

    public String revision() {
        return subject.revision();
    }

    public PopulationId populationId() {
        return subject.populationId();
    }

    public Optional<HostCondition> narrowing() {
        return subject.narrowing();
    }

    public Set<ReasonWord> reasons() {
        return reason.listed();
    }

    public String words() {
        return reason.words();
    }

    public String author() {
        return origin.author();
    }

    @Override
    public Instant createdAt() {
        return origin.createdAt();
    }

    public Set<DecisionNumber.OfVerdict> overrides() {
        return goesOver.verdicts();
    }

    public Set<DecisionNumber.OfException> overriddenExceptions() {
        return goesOver.exceptions();
    }

    /** True if it is handed down, not taken back, and has something to say at {@code instant}. */
    public boolean standsAt(Instant instant) {
        return isMadeBy(instant)
                && lapsed.filter(l -> !l.isAfter(instant)).isEmpty()
                && (type != VerdictType.BLOCK && type != VerdictType.PILOT || instant.isBefore(end));
    }

    /** "Let it go now": a deferral whose offer began as it was given. */
    public boolean isLetGo() {
        return type == VerdictType.DEFER && !end.isAfter(createdAt());
    }

    /** When it ends, or is due, for a host: with its part where it is spread. */
    public Instant endFor(int host) {
        return delivery.spread().map(parts -> parts.at(host)).orElse(end);
    }

    /** The instants at which it ends, or is due, for some of its hosts. */
    public Stream<Instant> ends() {
        return delivery.spread()
                .map(parts -> parts.parts().stream().map(Spread.Part::at))
                .orElseGet(() -> Stream.of(end));
    }

    /** True while it holds the update back from the host. */
    boolean withholdsAt(Host host, Instant instant) {
        return standsAt(instant) && effectFor(host, instant) == Effect.WITHHELD;
    }

    /** True while it holds the update back from some host; a pilot does so from all but its sample. */
    public boolean withholdsAt(Instant instant) {
        return standsAt(instant) && type != VerdictType.FORCE && instant.isBefore(end);
    }

    @Override
    public boolean covers(Host host, Population entry) {
        return populationId().equals(entry.id()) && names(host);
    }

    public Verdict numbered(DecisionNumber.OfVerdict other) {
        return new Verdict(
                other, subject, type, end, reason, origin, goesOver, delivery, then, revokedAt, lapsed, pilot);
    }

    public Verdict with(Delivery other) {
        return new Verdict(number, subject, type, end, reason, origin, goesOver, other, then, revokedAt, lapsed, pilot);
    }

    /** With an end that comes for some hosts earlier than for others. */
    public Verdict spreadOver(Spread parts) {
        return new Verdict(
                number,
                subject,
                type,
                parts.last(),
                reason,
                origin,
                goesOver,
                delivery.spreadOver(parts),
                then,
                revokedAt,
                lapsed,
                pilot);
    }

    public Verdict at(Moment moment) {
        return new Verdict(
                number, subject, type, end, reason, origin, goesOver, delivery, moment, revokedAt, lapsed, pilot);
    }

    /** With this pilot: as it starts, or as what has become of it. */
    public Verdict with(Pilot other) {
        return new Verdict(
                number,
                subject,
                VerdictType.PILOT,
                end,
                reason,
                origin,
                goesOver,
                delivery,
                then,
                revokedAt,
                lapsed,
                Optional.of(other));
    }

    /** The same as "let it go now". */
    Verdict lettingGo() {
        return new Verdict(
                number,
                subject,
                VerdictType.DEFER,
                createdAt(),
                reason,
                origin,
                goesOver,
                delivery,
                then,
                revokedAt,
                lapsed,
                Optional.empty());
    }

    boolean names(Host host) {
        return narrowing().filter(condition -> !condition.test(host)).isEmpty();
    }

    /** What it answers for a host that it covers, while it stands. */
    Effect effectFor(Host host, Instant instant) {
        boolean offers =
                switch (type) {
                    case FORCE -> !instant.isBefore(beginsFor(host.number()));
                    case DEFER -> !instant.isBefore(endFor(host.number()));
                    case PILOT -> pilot.orElseThrow().offersTo(host.number(), instant);
                    case BLOCK -> false;
                };
        return !offers ? Effect.WITHHELD : delivery.byOperator().isPresent() ? Effect.BY_OPERATOR : Effect.OFFERED;
    }

    /** A force that is spread begins for each part when the one before is due: the first at once. */
    public Instant beginsFor(int host) {
        return delivery.spread().flatMap(parts -> parts.before(host)).orElse(createdAt());
    }

    public Verdict revoked(Instant instant) {
        return new Verdict(
                number,
                subject,
                type,
                end,
                reason,
                origin,
                goesOver,
                delivery,
                then,
                Optional.of(instant),
                lapsed,
                pilot);
    }
}
