package lucid.core.evidence;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.PopulationId;
import org.apache.commons.statistics.distribution.HypergeometricDistribution;
import org.roaringbitmap.RoaringBitmap;

/**
 * Whether silence after an install means that hosts are down. Machines are switched off, and lines fail: silence counts
 * against an update only where hosts that tried it fell silent more often than hosts of their population that did not
 * (one-sided exact test of a 2 × 2 table, R. A. Fisher, "The logic of inductive inference", Journal of the Royal
 * Statistical Society 98(1), 1935). Where nobody of the population is left that did not try it, they are compared with
 * the rest of the fleet.
 */
public final class Silence {

    private static final double HIGHEST_P = 0.05;

    /**
     * Hosts that an update's silent hosts are compared with.
     *
     * @param population none: all hosts
     * @param from hosts that were silent by then are left out: they fell silent before
     */
    public record Compared(Optional<PopulationId> population, Instant from) {

        /** True if a host that did not try it counts otherwise in a later fleet. */
        public boolean differs(int number, Fleet earlier, Instant then, Fleet later, Instant now) {
            return !standing(number, earlier, then).equals(standing(number, later, now));
        }

        private String standing(int number, Fleet fleet, Instant at) {
            if (!fleet.knows(number)
                    || fleet.isRetired(number)
                    || population
                            .filter(id -> !id.equals(
                                    fleet.ladder().entryOf(fleet.host(number)).id()))
                            .isPresent()) {
                return "elsewhere";
            }
            long silent = fleet.silentFrom(number);
            return silent <= from.toEpochMilli() ? "before" : silent <= at.toEpochMilli() ? "silent" : "heard";
        }
    }

    static final Silence NONE = new Silence(Map.of(), Optional.empty(), List.of());

    private final Map<Integer, Instant> down;
    private final Optional<Instant> nextChange;
    private final List<Compared> compared;

    private Silence(Map<Integer, Instant> down, Optional<Instant> nextChange, List<Compared> compared) {
        this.down = down;
        this.nextChange = nextChange;
        this.compared = compared;
    }

    /**
     * @param since hosts that installed an update and were not heard of long enough since, with their last sign of life
     * @param tried all hosts that tried it
     */
    static Silence of(Map<Integer, Instant> since, RoaringBitmap tried, Fleet fleet, Instant now) {
        Map<Integer, Instant> down = new HashMap<>();
        List<Compared> compared = new ArrayList<>();
        List<Instant> changes = new ArrayList<>();
        Map<PopulationId, Map<Integer, Instant>> silent = new LinkedHashMap<>();
        new TreeMap<>(since).forEach((number, instant) -> {
            Host host = fleet.host(number);
            Instant from = host.silentAfterInstall(instant, fleet.rhythmOf(host));
            if (from.isAfter(now)) {
                changes.add(from);
            } else {
                silent.computeIfAbsent(fleet.ladder().entryOf(host).id(), id -> new TreeMap<>())
                        .put(number, from);
            }
        });
        silent.forEach((population, hosts) -> {
            Instant first = hosts.keySet().stream()
                    .map(since::get)
                    .min(Comparator.naturalOrder())
                    .orElseThrow();
            RoaringBitmap members = fleet.members(population);
            int triedHere = RoaringBitmap.andCardinality(members, tried);
            members.andNot(tried);
            Untried untried = Untried.of(members, fleet, first, now);
            Compared with = new Compared(Optional.of(population), first);
            if (untried.hosts() == 0) {
                untried = Untried.of(RoaringBitmap.andNot(fleet.all(), tried), fleet, first, now);
                // Somebody of the population who did not try it would be the one to compare with.
                compared.add(new Compared(Optional.empty(), first));
            }
            compared.add(with);
            untried.next().ifPresent(changes::add);
            double p = HypergeometricDistribution.of(
                            triedHere + untried.hosts(), hosts.size() + untried.silent(), triedHere)
                    .survivalProbability(hosts.size() - 1);
            if (p <= HIGHEST_P) {
                down.putAll(hosts);
            }
        });
        return new Silence(down, changes.stream().min(Comparator.naturalOrder()), List.copyOf(compared));
    }

    /**
     * @param hosts that were still heard of at the beginning
     * @param silent of them, those that are silent now
     * @param next when the next of them falls silent
     */
    private record Untried(int hosts, int silent, Optional<Instant> next) {
        static Untried of(RoaringBitmap members, Fleet fleet, Instant from, Instant now) {
            int hosts = 0;
            int silent = 0;
            long next = Long.MAX_VALUE;
            for (int number : members) {
                long silentFrom = fleet.silentFrom(number);
                if (silentFrom > from.toEpochMilli()) {
                    hosts++;
                    if (silentFrom <= now.toEpochMilli()) {
                        silent++;
                    } else {
                        next = Math.min(next, silentFrom);
                    }
                }
            }
            return new Untried(
                    hosts, silent, next == Long.MAX_VALUE ? Optional.empty() : Optional.of(Instant.ofEpochMilli(next)));
        }
    }

    /** Since when a host counts as down; none if its silence says nothing. */
    Optional<Instant> down(int number) {
        return Optional.ofNullable(down.get(number));
    }

    /** The first instant at which some silence may count otherwise although nothing is told. */
    Optional<Instant> nextChange() {
        return nextChange;
    }

    List<Compared> compared() {
        return compared;
    }
}
