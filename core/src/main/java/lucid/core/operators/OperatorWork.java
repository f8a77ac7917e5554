package lucid.core.operators;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Population;
import lucid.core.fleet.StartMode;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * One update that the operator of a population is to install on its hosts: what is offered there and begins on none of
 * them by itself, because a verdict, an exception or the population says so.
 *
 * @param match what says so; of one that comes in parts, the part that is due first
 * @param verdict the verdict that says so; none where an exception or the population does
 * @param hosts those that lack it and are offered it, in the order in which they are to follow
 * @param concerned how many hosts of the population the update speaks of, also those that have it
 */
public record OperatorWork(
        Update update,
        Population population,
        RuleMatch match,
        Optional<Verdict> verdict,
        List<HostWork> hosts,
        int concerned) {

    private static final Verdict.ByOperator NOTHING_TOLD = new Verdict.ByOperator(List.of(), List.of());

    /** How far an operator is with one host, as far as that is known. */
    public enum Standing {
        /** Nobody has said when. */
        NO_SLOT,
        AGREED,
        /** The agreed hours are over, and nobody has said that it is done. */
        SLOT_PAST,
        /** The operator said so; the host has not reported since. */
        SAID_DONE,
        /** The operator said that it is done, and what the host reported later lacks it. */
        STILL_LACKS
    }

    /**
     * @param due by when it is asked for on this host; past it is late
     * @param entry what the operator last said
     */
    public record HostWork(Host host, Optional<Instant> due, Standing standing, Optional<OperatorEntry> entry) {

        private static HostWork of(Host host, Optional<Instant> due, Optional<OperatorEntry> entry, Instant now) {
            return new HostWork(
                    host, due, entry.map(said -> standing(said, host, now)).orElse(Standing.NO_SLOT), entry);
        }

        private static Standing standing(OperatorEntry said, Host host, Instant now) {
            return said.slot()
                    .map(slot -> now.isBefore(slot.until()) ? Standing.AGREED : Standing.SLOT_PAST)
                    .orElseGet(() -> host.lastReport().isAfter(said.at()) ? Standing.STILL_LACKS : Standing.SAID_DONE);
        }

        public boolean isLate(Instant now) {
            return due.filter(asked -> !asked.isAfter(now)).isPresent();
        }
    }

    /** What whoever runs the hosts is told. */
    public Verdict.ByOperator told() {
        return verdict.flatMap(one -> one.delivery().byOperator()).orElse(NOTHING_TOLD);
    }

    /** When the first of the hosts is due. */
    public Optional<Instant> due() {
        return hosts.stream().flatMap(host -> host.due().stream()).min(Comparator.naturalOrder());
    }

    /** Hosts of which somebody should hear: late, past their slot, or lacking what was said to be done. */
    public List<HostWork> amiss(Instant now) {
        return hosts.stream()
                .filter(host -> host.isLate(now)
                        || host.standing() == Standing.SLOT_PAST
                        || host.standing() == Standing.STILL_LACKS)
                .toList();
    }

    /** What is due first comes first; then the worse rating, then the newer. */
    private static final Comparator<OperatorWork> ORDER = Comparator.comparing(
                    (OperatorWork work) -> work.due().orElse(Instant.MAX))
            .thenComparing(
                    Comparator.comparing((OperatorWork work) -> work.update().rating())
                            .reversed())
            .thenComparing(
                    Comparator.comparing((OperatorWork work) -> work.update().published())
                            .reversed())
            .thenComparing(work -> work.update().id())
            .thenComparing(work -> work.population().id());

    /**
     * All of it, for these hosts and updates, what is due first in front. What only a rule leaves to operators folds
     * under a successor that they are to install on the same host: that brings it.
     */
    public static List<OperatorWork> of(
            Collection<Update> updates, Carriages carriages, Decisions decisions, OperatorEntries said, Instant now) {
        List<Population> all = carriages.fleet().ladder().populations();
        List<Population> byHand = all.stream()
                .filter(entry -> entry.timing().start() == StartMode.BY_OPERATOR)
                .toList();
        // Thousands of updates are left to them by nobody but these populations: of other hosts nothing is asked.
        Carriages ofByHand = byHand.isEmpty()
                ? carriages
                : carriages.only(byHand.stream().map(Population::id).collect(Collectors.toSet()));
        Set<Update> asked = Set.copyOf(updates);
        List<OperatorWork> unfolded = updates.stream()
                .flatMap(update ->
                        Stream.concat(Stream.of(update), carriages.catalogue().successorsOf(update.id()).stream()))
                .distinct()
                .flatMap(update -> isHandedOver(update, decisions)
                        ? of(update, all, carriages, decisions, said, now)
                        : of(update, byHand, ofByHand, decisions, said, now))
                .toList();
        Map<UpdateId, RoaringBitmap> toDo = new HashMap<>();
        unfolded.forEach(work -> work.hosts()
                .forEach(one -> toDo.computeIfAbsent(work.update().id(), id -> new RoaringBitmap())
                        .add(one.host().number())));
        return unfolded.stream()
                .filter(work -> asked.contains(work.update()))
                .flatMap(work -> work.match().isRule()
                        ? work.without(
                                carriages.catalogue().successorsOf(work.update().id()).stream()
                                        .flatMap(successor -> Optional.ofNullable(toDo.get(successor.id())).stream())
                                        .toList())
                        : Stream.of(work))
                .sorted(ORDER)
                .toList();
    }

    private Stream<OperatorWork> without(List<RoaringBitmap> brought) {
        List<HostWork> left = hosts.stream()
                .filter(one ->
                        brought.stream().noneMatch(by -> by.contains(one.host().number())))
                .toList();
        return left.isEmpty()
                ? Stream.empty()
                : Stream.of(new OperatorWork(update, population, match, verdict, left, concerned));
    }

    /** True if somebody decided that operators are to begin it, also if that is not in force. */
    private static boolean isHandedOver(Update update, Decisions decisions) {
        return decisions.verdictsOn(update.id()).stream()
                        .anyMatch(verdict -> verdict.delivery().byOperator().isPresent())
                || decisions.exceptionsOn(update).stream()
                        .anyMatch(exception -> exception.effect() == Effect.BY_OPERATOR);
    }

    private static Stream<OperatorWork> of(
            Update update,
            List<Population> entries,
            Carriages carriages,
            Decisions decisions,
            OperatorEntries said,
            Instant now) {
        if (entries.isEmpty()) {
            return Stream.empty();
        }
        Carriage carriage = carriages.of(update, now);
        RoaringBitmap lacking = carriage.lacking();
        if (lacking.isEmpty()) {
            return Stream.empty();
        }
        Timeline timeline = Timeline.of(update, decisions, carriages.fleet(), carriages.catalogue());
        return entries.stream().flatMap(entry -> {
            RoaringBitmap members = carriages.fleet().members(entry.id());
            int concerned = RoaringBitmap.andCardinality(carriage.applicable(), members);
            return bySource(timeline.groups(entry, RoaringBitmap.and(lacking, members), now), entry)
                    .map(groups -> of(update, entry, groups, concerned, carriages.fleet(), decisions, said, now));
        });
    }

    /** The parts of one verdict are one thing to do. */
    private static Stream<List<RulingGroup>> bySource(List<RulingGroup> groups, Population entry) {
        record Source(RuleMatch.Clause clause, Optional<DecisionNumber> number) {}
        Map<Source, List<RulingGroup>> bySource = new LinkedHashMap<>();
        groups.stream()
                .filter(group -> isByOperator(group.match(), entry))
                .sorted(Comparator.comparing(group -> group.match().due().orElse(Instant.MAX)))
                .forEach(group -> bySource.computeIfAbsent(
                                new Source(group.match().clause(), group.match().source()), any -> new ArrayList<>())
                        .add(group));
        return bySource.values().stream();
    }

    private static boolean isByOperator(RuleMatch match, Population entry) {
        return match.effect() == Effect.BY_OPERATOR
                || match.effect() == Effect.OFFERED && entry.timing().start() == StartMode.BY_OPERATOR;
    }

    /** @param groups with one source, what is due first in front */
    private static OperatorWork of(
            Update update,
            Population entry,
            List<RulingGroup> groups,
            int concerned,
            Fleet fleet,
            Decisions decisions,
            OperatorEntries said,
            Instant now) {
        RuleMatch first = groups.get(0).match();
        Optional<Verdict> verdict = first.source()
                .filter(DecisionNumber.OfVerdict.class::isInstance)
                .map(DecisionNumber.OfVerdict.class::cast)
                .flatMap(decisions::verdict);
        List<HostName> order = verdict.flatMap(one -> one.delivery().byOperator())
                .map(Verdict.ByOperator::order)
                .orElse(List.of());
        return new OperatorWork(
                update,
                entry,
                first,
                verdict,
                groups.stream()
                        .flatMap(group -> fleet.hosts(group.hosts())
                                .map(host ->
                                        HostWork.of(host, group.match().due(), said.of(update, host.number()), now)))
                        .sorted(inOrder(order))
                        .toList(),
                concerned);
    }

    /** As the verdict names them; the others after these, by name. */
    private static Comparator<HostWork> inOrder(List<HostName> named) {
        return Comparator.comparing((HostWork one) -> {
                    int place = named.indexOf(one.host().name());
                    return place < 0 ? named.size() : place;
                })
                .thenComparing(one -> one.host().name());
    }
}
