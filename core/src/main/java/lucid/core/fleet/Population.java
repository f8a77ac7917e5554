package lucid.core.fleet;

import java.time.Duration;
import java.time.ZoneId;
import java.util.Optional;
import java.util.Set;

/**
 * A named part of the fleet that is judged as one.
 *
 * @param includes names of hosts that belong to it whatever the condition says
 * @param excludes names of hosts that do not, whatever the condition says
 * @param tier what an outage of one host costs: 1 (costliest to lose) to 4
 * @param protectedHosts names of hosts that are never drawn into a sample
 * @param supply from where its hosts should take updates; none: nobody says
 * @param timing when its hosts report, and when they may be disturbed
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
        StandingRule rule) {

    /** @throws IllegalArgumentException if the tier is not 1 to 4 or a host is both included and excluded */
    public Population {
        if (tier < 1 || tier > 4) {
            throw new IllegalArgumentException("the tier of " + id + " must be 1 to 4, not " + tier);
        }
        includes.stream().filter(excludes::contains).sorted().findFirst().ifPresent(host -> {
            throw new IllegalArgumentException(id + " both includes and excludes " + host);
        });
    }

    public ZoneId zone() {
        return timing.zone();
    }

    /** How often its hosts report; none: {@link Host#DEFAULT_RHYTHM}. */
    public Optional<Duration> rhythm() {
        return timing.rhythm();
    }

    /** True if the host tells that it takes updates from elsewhere than it should. */
    public boolean isOnAnotherSupply(Host host) {
        return supply.isPresent()
                && host.supply().filter(real -> !real.equals(supply.get())).isPresent();
    }

    public boolean matches(Host host) {
        return includes.contains(host.name()) || !excludes.contains(host.name()) && condition.test(host);
    }
}
