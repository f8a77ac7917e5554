package lucid.core.fleet;

import java.time.Duration;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import lucid.core.update.Update;

/**
 * A named part of the fleet that is judged as one.
 *
 * @param includes names of hosts that belong to it whatever the condition says
 * @param excludes names of hosts that do not, whatever the condition says
 * @param tier what an outage of one host costs: 1 (costliest to lose) to 4
 * @param protectedHosts names of hosts that are never drawn into a sample
 * @param supply from where its hosts should take updates; none: nobody says
 * @param timing when its hosts report, and when they may be disturbed
 * @param staysAt releases of platforms that it is held at, at most one of each platform
 */
public record Population(
        PopulationId id,
        String name,
        HostCondition condition,
        Set<HostName> includes,
        Set<HostName> excludes,
        int tier,
        String owner,
        Set<HostName> protectedHosts,
        Optional<String> supply,
        Timing timing,
        List<TargetRelease> staysAt,
        StandingRule rule) {

    /**
     * @throws IllegalArgumentException if the tier is not 1 to 4, a host is both included and excluded, or it stays at
     *     two releases of one platform
     */
    public Population {
        staysAt = List.copyOf(staysAt);
        if (staysAt.stream().map(TargetRelease::product).distinct().count() < staysAt.size()) {
            throw new IllegalArgumentException(id + " stays at two releases of one platform");
        }
        if (tier < 1 || tier > 4) {
            throw new IllegalArgumentException("the tier of " + id + " must be 1 to 4, not " + tier);
        }
        includes.stream().filter(excludes::contains).sorted().findFirst().ifPresent(host -> {
            throw new IllegalArgumentException(id + " both includes and excludes " + host);
        });
    }

    /** Held at no release. */
    public Population(
            PopulationId id,
            String name,
            HostCondition condition,
            Set<HostName> includes,
            Set<HostName> excludes,
            int tier,
            String owner,
            Set<HostName> protectedHosts,
            Optional<String> supply,
            Timing timing,
            StandingRule rule) {
        this(id, name, condition, includes, excludes, tier, owner, protectedHosts, supply, timing, List.of(), rule);
    }

    public ZoneId zone() {
        return timing.zone();
    }

    /** How often its hosts report; none: {@link Host#DEFAULT_RHYTHM}. */
    public Optional<Duration> rhythm() {
        return timing.rhythm();
    }

    /** The release that it stays at and that keeps it from this upgrade, if one does. */
    public Optional<TargetRelease> heldBelow(Update update) {
        return staysAt.stream().filter(target -> target.forbids(update)).findFirst();
    }

    /**
     * True if the host tells that it is set to another source than it should be, or has packages that came from another
     * one.
     */
    public boolean isOnAnotherSupply(Host host) {
        return supply.isPresent()
                && (host.supply().filter(real -> !real.equals(supply.get())).isPresent()
                        || !cameFromElsewhere(host).isEmpty());
    }

    /** How many of a host's packages came from each source that is none of those that it should use. */
    public Map<String, Integer> cameFromElsewhere(Host host) {
        Map<String, Integer> elsewhere = new TreeMap<>();
        supply.map(expected -> Set.of(expected.split(" "))).ifPresent(expected -> host.lists()
                .ifPresent(lists -> lists.cameFrom().forEach((source, count) -> {
                    if (!expected.contains(source)) {
                        elsewhere.put(source, count);
                    }
                })));
        return elsewhere;
    }

    public boolean matches(Host host) {
        return includes.contains(host.name()) || !excludes.contains(host.name()) && condition.test(host);
    }
}
