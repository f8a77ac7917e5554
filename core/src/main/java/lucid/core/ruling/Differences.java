package lucid.core.ruling;

import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Trait;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * The hosts that are not as they should be, by how they differ; a host may differ in several ways.
 *
 * @param forced for each update under a standing force, the hosts that still lack it
 * @param restarts for each update that wants a restart of the host, those that have not had it
 */
public record Differences(
        Map<Way, RoaringBitmap> hosts, Map<Update, RoaringBitmap> forced, Map<Update, RoaringBitmap> restarts) {

    /** What a host itself says when something on it, known here or not, waits for a restart. */
    private static final HostCondition ASKS_FOR_RESTART =
            new HostCondition.Comparison("restart_required", HostCondition.Operator.EQUAL, new Trait.Truth(true));

    private static final Duration PROBABLY_GONE = Duration.ofDays(180);

    /** How a host differs, the most pressing way first. */
    public enum Way {
        /** It lacks what a verdict forces. */
        LACKS_FORCED,
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

    public static Differences of(Carriages carriages, Decisions decisions, Instant at) {
        Fleet fleet = carriages.fleet();
        Map<Update, RoaringBitmap> forced = forced(carriages, decisions, at);
        Map<Update, RoaringBitmap> restarts = restarts(carriages, at);
        Map<Way, RoaringBitmap> hosts = new EnumMap<>(Way.class);
        hosts.put(Way.LACKS_FORCED, union(forced.values()));
        hosts.put(Way.UNKNOWN, fleet.unknownAt(at));
        hosts.put(Way.LONG_SILENT, fleet.silentSince(at.minus(PROBABLY_GONE)));
        hosts.put(
                Way.RESTART_OUTSTANDING,
                RoaringBitmap.or(union(restarts.values()), fleet.matching(ASKS_FOR_RESTART, fleet.all())));
        hosts.put(Way.ANOTHER_SUPPLY, fleet.onAnotherSupply(fleet.all()));
        hosts.put(Way.IN_NO_POPULATION, fleet.inNoPopulation());
        return new Differences(hosts, forced, restarts);
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
        RoaringBitmap lacking = new RoaringBitmap();
        Timeline.of(update, decisions, carriages.fleet(), carriages.catalogue())
                .groups(carriages.of(update, at).lacking(), at)
                .stream()
                .filter(group -> group.match().due().isPresent()
                        && group.match().effect().isOffer())
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
