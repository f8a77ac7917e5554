package lucid.core.ruling;

import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Population;
import lucid.core.fleet.Trait;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * The hosts that are not as they should be, by how they differ; a host may differ in several ways.
 *
 * @param forced for each update under a standing force, the hosts that still lack it
 * @param overdue for each update that a standing rule offers, the hosts on which it is past due by that rule
 * @param restarts for each update that wants a restart of the host, those that have not had it
 */
public record Differences(
        Map<Way, RoaringBitmap> hosts,
        Map<Update, RoaringBitmap> forced,
        Map<Update, RoaringBitmap> overdue,
        Map<Update, RoaringBitmap> restarts) {

    /** What a host itself says when something on it, known here or not, waits for a restart. */
    private static final HostCondition ASKS_FOR_RESTART =
            new HostCondition.Comparison("restart_required", HostCondition.Operator.EQUAL, new Trait.Truth(true));

    private static final Duration PROBABLY_GONE = Duration.ofDays(180);

    /** How a host differs, the most pressing way first. */
    public enum Way {
        /** It lacks what a verdict forces. */
        LACKS_FORCED,
        /** It lacks what its population's rule offers, and the day on which that was due is past. */
        PAST_RULE_DUE,
        /** It heard its orders and says that its package system does something else, or it refuses newer ones. */
        NOT_OBEYING,
        /** Its last report is too old to tell its state. */
        UNKNOWN,
        /** Nothing came from it for 180 days: it is probably gone, and to be retired once somebody has made sure. */
        LONG_SILENT,
        /** An update, or the host itself, asks for a restart that it has not had. */
        RESTART_OUTSTANDING,
        /** It takes updates from elsewhere than its population should. */
        ANOTHER_SUPPLY,
        IN_NO_POPULATION
    }

    /** @param notObeying hosts that say so of themselves */
    public static Differences of(Carriages carriages, Decisions decisions, RoaringBitmap notObeying, Instant at) {
        Fleet fleet = carriages.fleet();
        Map<Update, RoaringBitmap> forced = forced(carriages, decisions, at);
        Map<Update, RoaringBitmap> overdue = overdue(carriages, decisions, at);
        Map<Update, RoaringBitmap> restarts = restarts(carriages, at);
        Map<Way, RoaringBitmap> hosts = new EnumMap<>(Way.class);
        hosts.put(Way.LACKS_FORCED, union(forced.values()));
        hosts.put(Way.PAST_RULE_DUE, union(overdue.values()));
        hosts.put(Way.NOT_OBEYING, RoaringBitmap.and(notObeying, fleet.all()));
        hosts.put(Way.UNKNOWN, fleet.unknownAt(at));
        hosts.put(Way.LONG_SILENT, fleet.silentSince(at.minus(PROBABLY_GONE)));
        hosts.put(
                Way.RESTART_OUTSTANDING,
                RoaringBitmap.or(union(restarts.values()), fleet.matching(ASKS_FOR_RESTART, fleet.all())));
        hosts.put(Way.ANOTHER_SUPPLY, fleet.onAnotherSupply(fleet.all()));
        hosts.put(Way.IN_NO_POPULATION, fleet.inNoPopulation());
        return new Differences(hosts, forced, overdue, restarts);
    }

    private static Map<Update, RoaringBitmap> forced(Carriages carriages, Decisions decisions, Instant at) {
        Map<Update, RoaringBitmap> forced = new HashMap<>();
        for (UpdateId id : decisions.verdicts().stream()
                .filter(v -> v.type() == VerdictType.FORCE && v.revokedAt().isEmpty())
                .map(Verdict::updateId)
                .collect(Collectors.toSet())) {
            carriages.catalogue().update(id).ifPresent(update -> {
                RoaringBitmap lacking = lackingThoughForced(update, carriages, decisions, at);
                if (!lacking.isEmpty()) {
                    forced.put(update, lacking);
                }
            });
        }
        return forced;
    }

    private static RoaringBitmap lackingThoughForced(
            Update update, Carriages carriages, Decisions decisions, Instant at) {
        return lacking(
                update,
                carriages.of(update, at).lacking(),
                carriages,
                decisions,
                at,
                match -> match.due().isPresent() && match.effect().isOffer() && isForced(match, decisions));
    }

    private static Map<Update, RoaringBitmap> overdue(Carriages carriages, Decisions decisions, Instant at) {
        Fleet fleet = carriages.fleet();
        Map<Update, RoaringBitmap> overdue = new HashMap<>();
        for (Update update : carriages.catalogue().updates()) {
            RoaringBitmap among = new RoaringBitmap();
            fleet.ladder().entries().stream()
                    .filter(entry -> mayBeOverdue(entry, update, at))
                    .forEach(entry -> among.or(fleet.members(entry.id())));
            // Most rules have no deadline: nobody asks further.
            if (!among.isEmpty()) {
                among.and(carriages.of(update, at).lacking());
                RoaringBitmap lacking = lacking(
                        update,
                        among,
                        carriages,
                        decisions,
                        at,
                        match -> !isForced(match, decisions)
                                && match.due().filter(due -> !due.isAfter(at)).isPresent());
                if (!lacking.isEmpty()) {
                    overdue.put(update, lacking);
                }
            }
        }
        return overdue;
    }

    /** What a verdict forces is due by that; whatever else is due is so by the rule. */
    private static boolean isForced(RuleMatch match, Decisions decisions) {
        return !match.isRule()
                && match.source()
                        .filter(DecisionNumber.OfVerdict.class::isInstance)
                        .map(DecisionNumber.OfVerdict.class::cast)
                        .flatMap(decisions::verdict)
                        .filter(verdict -> verdict.type() == VerdictType.FORCE)
                        .isPresent();
    }

    private static boolean mayBeOverdue(Population entry, Update update, Instant at) {
        return entry.rule().offersOf(update.kind(), update.rating()).stream().anyMatch(offer -> offer.deadline()
                .filter(deadline -> !update.firstRead().plus(deadline).isAfter(at))
                .isPresent());
    }

    private static RoaringBitmap lacking(
            Update update,
            RoaringBitmap among,
            Carriages carriages,
            Decisions decisions,
            Instant at,
            Predicate<RuleMatch> which) {
        RoaringBitmap lacking = new RoaringBitmap();
        Timeline.of(update, decisions, carriages.fleet(), carriages.catalogue()).groups(among, at).stream()
                .filter(group -> which.test(group.match()))
                .forEach(group -> lacking.or(group.hosts()));
        return lacking;
    }

    private static Map<Update, RoaringBitmap> restarts(Carriages carriages, Instant at) {
        Map<Update, RoaringBitmap> restarts = new HashMap<>();
        carriages.catalogue().updates().stream()
                .filter(update -> update.restart() == RestartNeed.HOST)
                .forEach(update -> {
                    RoaringBitmap outstanding = carriages.of(update, at).in(CarriageState.RESTART_OUTSTANDING);
                    if (!outstanding.isEmpty()) {
                        restarts.put(update, outstanding);
                    }
                });
        return restarts;
    }

    /** Every host that differs in any way. */
    public RoaringBitmap any() {
        return union(hosts.values());
    }

    private static RoaringBitmap union(Collection<RoaringBitmap> sets) {
        RoaringBitmap union = new RoaringBitmap();
        sets.forEach(union::or);
        return union;
    }

    /** The hosts that differ in one way, or in any. */
    public RoaringBitmap in(Optional<Way> way) {
        return way.map(w -> hosts.get(w).clone()).orElseGet(this::any);
    }
}
