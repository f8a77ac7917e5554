package lucid.core.exceptions;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.BaselineRates;
import lucid.core.weighing.Weigher;
import lucid.core.weighing.WeighingInput;
import lucid.core.weighing.Weights;
import org.roaringbitmap.RoaringBitmap;

/**
 * What exceptions cost, and what their ends bring, on one set of facts. Of a chain of renewals only the last is told:
 * the others were closed when it was made.
 */
public final class ExceptionAccounts {

    /** So long before its day an exception counts as ending. */
    public static final Duration ENDING = Duration.ofDays(14);

    public enum State {
        ACTIVE,
        ENDING,
        LAPSED,
        CLOSED
    }

    /**
     * One update under an exception.
     *
     * @param hosts that lack it and for which the exception is, or was, in force; a host that lacks a successor too is
     *     told with that one alone, which closes what this closes
     * @param exposure of these hosts, in points
     * @param then what is in force for them when the exception has ended; for one that has, what is now
     */
    public record OfUpdate(Update update, RoaringBitmap hosts, double exposure, List<RulingGroup> then) {}

    /**
     * @param since when the first of its chain was made
     * @param named hosts that its condition names, whatever they carry
     * @param updates the most exposed first; empty for one that was taken back
     * @param hostDaysSoFar for how long hosts of today lacked an update under it, summed
     * @param hostDaysToCome for how long they will, if nothing else ends that before its day
     * @param exploitedSince vulnerabilities open under it that were listed as exploited after it was made, or renewed
     * @param mostlyExcepted populations of whose hosts more than half are under exceptions on one update
     * @param overriding forces that stand and go over it
     */
    public record Account(
            ExceptionGrant exception,
            State state,
            Instant since,
            RoaringBitmap named,
            List<OfUpdate> updates,
            double hostDaysSoFar,
            double hostDaysToCome,
            List<KnownExploited> exploitedSince,
            List<PopulationId> mostlyExcepted,
            List<Verdict> overriding) {

        /** Hosts that lack an update and for which it is, or was, in force. */
        public RoaringBitmap hosts() {
            RoaringBitmap hosts = new RoaringBitmap();
            updates.forEach(of -> hosts.or(of.hosts()));
            return hosts;
        }

        public double exposure() {
            return updates.stream().mapToDouble(OfUpdate::exposure).sum();
        }
    }

    private final Carriages carriages;
    private final Decisions decisions;
    private final Evidence evidence;
    private final Weights weights;
    private final Instant now;
    private final Map<UpdateId, Timeline> timelines = new HashMap<>();
    private final Map<UpdateId, WeighingInput> inputs = new HashMap<>();

    public ExceptionAccounts(
            Carriages carriages, Decisions decisions, Evidence evidence, Weights weights, Instant now) {
        this.carriages = carriages;
        this.decisions = decisions;
        this.evidence = evidence;
        this.weights = weights;
        this.now = now;
    }

    /**
     * The last exception of every chain, what ends first in front; what has ended or was taken back behind, newest
     * first.
     */
    public List<ExceptionGrant> chains() {
        Set<DecisionNumber> goneOnFrom = new HashSet<>();
        decisions.exceptions().forEach(exception -> goneOnFrom.addAll(exception.before()));
        List<ExceptionGrant> standing = new ArrayList<>();
        List<ExceptionGrant> over = new ArrayList<>();
        decisions.exceptions().stream()
                .filter(exception -> !goneOnFrom.contains(exception.number())
                        && !exception.createdAt().isAfter(now))
                .forEach(exception -> (exception.standsAt(now) ? standing : over).add(exception));
        standing.sort(Comparator.comparing(ExceptionGrant::end).thenComparing(ExceptionGrant::number));
        over.sort(Comparator.comparing(ExceptionAccounts::overSince).reversed());
        return Stream.concat(standing.stream(), over.stream()).toList();
    }

    /** When it was taken back, else when it lapsed. */
    public static Instant overSince(ExceptionGrant exception) {
        return exception.revokedAt().filter(at -> at.isBefore(exception.end())).orElse(exception.end());
    }

    private State state(ExceptionGrant exception) {
        if (exception.revokedAt().isPresent()) {
            return State.CLOSED;
        }
        if (!exception.standsAt(now)) {
            return State.LAPSED;
        }
        return exception.end().isAfter(now.plus(ENDING)) ? State.ACTIVE : State.ENDING;
    }

    public Account of(ExceptionGrant exception) {
        State state = state(exception);
        RoaringBitmap named =
                carriages.fleet().matching(exception.hosts(), carriages.fleet().all());
        List<OfUpdate> updates = state == State.CLOSED ? List.of() : updates(exception, named);
        Instant since = decisions
                .exception(exception.first())
                .map(ExceptionGrant::createdAt)
                .orElse(exception.createdAt());
        return new Account(
                exception,
                state,
                since,
                named,
                updates,
                updates.stream()
                        .mapToDouble(of -> of.hosts().getCardinality()
                                * days(later(since, of.update().firstRead()), earlier(now, exception.end())))
                        .sum(),
                updates.stream()
                        .mapToDouble(of -> of.hosts().getCardinality() * days(now, exception.end()))
                        .sum(),
                exploitedSince(updates, exception),
                mostlyExcepted(updates, state),
                overriding(exception, decisions, now));
    }

    /** Forces that stand and name a standing exception as what they go over, the newest first. */
    public static List<Verdict> overriding(ExceptionGrant exception, Decisions decisions, Instant now) {
        return exception.standsAt(now)
                ? decisions.verdicts().stream()
                        .filter(verdict -> verdict.type() == VerdictType.FORCE
                                && verdict.standsAt(now)
                                && exception.isNamedIn(verdict.overriddenExceptions()))
                        .sorted(Comparator.comparing(Verdict::number).reversed())
                        .toList()
                : List.of();
    }

    private List<OfUpdate> updates(ExceptionGrant exception, RoaringBitmap named) {
        boolean stands = exception.standsAt(now);
        Instant whileItStood = stands ? now : exception.end().minusMillis(1);
        Map<UpdateId, RoaringBitmap> held = new HashMap<>();
        List<Update> covered = carriages.catalogue().updates().stream()
                .filter(update -> exception.scope().covers(update))
                .toList();
        for (Update update : covered) {
            RoaringBitmap lacking =
                    RoaringBitmap.and(named, carriages.of(update, now).lacking());
            if (!lacking.isEmpty()) {
                RoaringBitmap hosts = new RoaringBitmap();
                timeline(update).groups(lacking, whileItStood).stream()
                        .filter(group -> group.match()
                                .source()
                                .filter(exception.number()::equals)
                                .isPresent())
                        .forEach(group -> hosts.or(group.hosts()));
                held.put(update.id(), hosts);
            }
        }
        List<OfUpdate> updates = new ArrayList<>();
        for (Update update : covered) {
            RoaringBitmap hosts =
                    held.getOrDefault(update.id(), new RoaringBitmap()).clone();
            carriages.catalogue().successorsOf(update.id()).stream()
                    .flatMap(successor -> Stream.ofNullable(held.get(successor.id())))
                    .forEach(hosts::andNot);
            if (!hosts.isEmpty()) {
                updates.add(new OfUpdate(
                        update,
                        hosts,
                        exposure(update, hosts),
                        timeline(update).groups(hosts, stands ? exception.end() : now)));
            }
        }
        updates.sort(Comparator.comparingDouble(OfUpdate::exposure).reversed().thenComparing(of -> of.update()
                .id()));
        return updates;
    }

    private Timeline timeline(Update update) {
        return timelines.computeIfAbsent(
                update.id(), id -> Timeline.of(update, decisions, carriages.fleet(), carriages.catalogue()));
    }

    /** Of waiting (model: exposure), for these hosts alone. */
    private double exposure(Update update, RoaringBitmap hosts) {
        WeighingInput input = inputs.computeIfAbsent(update.id(), id -> input(update));
        Weigher weigher = new Weigher(weights, input.update());
        return carriages.fleet().ladder().entries().stream()
                .mapToDouble(entry -> exposure(weigher, input, entry, hosts))
                .sum();
    }

    private double exposure(Weigher weigher, WeighingInput input, Population entry, RoaringBitmap hosts) {
        RoaringBitmap here = RoaringBitmap.and(hosts, carriages.fleet().members(entry.id()));
        return here.isEmpty()
                ? 0
                : weigher.weigh(input.population(entry.tier(), here), false).exposure();
    }

    /** What installs did before costs something else than waiting does: it is left out. */
    private WeighingInput input(Update update) {
        Carriage carriage = carriages.of(update, now);
        return new WeighingInput(
                update,
                WeighingInput.Contained.in(update, carriages.catalogue(), earlier -> carriages
                        .of(earlier, now)
                        .lacking()),
                carriage,
                carriages,
                evidence,
                TriedHosts.of(update, carriages.outcomes(), evidence, carriages.fleet(), now),
                List.of(),
                List.of(),
                BaselineRates.of(Map.of(), now).of(update),
                now);
    }

    private List<KnownExploited> exploitedSince(List<OfUpdate> updates, ExceptionGrant exception) {
        return updates.stream()
                .flatMap(of -> Stream.concat(
                        Stream.of(of.update()),
                        carriages.catalogue().containedIn(of.update().id()).stream()))
                .flatMap(update -> update.vulnerabilities().stream())
                .map(Vulnerability::id)
                .distinct()
                .flatMap(id -> Stream.ofNullable(evidence.exploited().get(id)))
                .filter(listed -> listed.read().isAfter(exception.createdAt()))
                .sorted(Comparator.comparing(KnownExploited::cve))
                .toList();
    }

    private List<PopulationId> mostlyExcepted(List<OfUpdate> updates, State state) {
        if (state != State.ACTIVE && state != State.ENDING) {
            return List.of();
        }
        Set<PopulationId> mostly = new LinkedHashSet<>();
        for (OfUpdate of : updates) {
            for (Population entry : carriages.fleet().ladder().entries()) {
                RoaringBitmap members = carriages.fleet().members(entry.id());
                if (RoaringBitmap.intersects(members, of.hosts())) {
                    int excepted = timeline(of.update()).groups(members, now).stream()
                            .filter(group -> group.match().clause() == RuleMatch.Clause.EXCEPTION)
                            .mapToInt(group -> group.hosts().getCardinality())
                            .sum();
                    if (2 * excepted > members.getCardinality()) {
                        mostly.add(entry.id());
                    }
                }
            }
        }
        return List.copyOf(mostly);
    }

    private static Instant later(Instant a, Instant b) {
        return Collections.max(List.of(a, b));
    }

    private static Instant earlier(Instant a, Instant b) {
        return Collections.min(List.of(a, b));
    }

    private static double days(Instant from, Instant to) {
        return Math.max(
                0,
                Duration.between(from, to).toMillis()
                        / (double) Duration.ofDays(1).toMillis());
    }
}
