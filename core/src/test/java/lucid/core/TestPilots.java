package lucid.core;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.gate.Gate;
import lucid.core.gate.PilotGate;
import lucid.core.pilot.Pilot;
import lucid.core.pilot.PilotNumber;
import lucid.core.pilot.Sampling;

/** Pilots for tests. */
public final class TestPilots {

    private TestPilots() {}

    /** The usual pilot on these hosts. */
    public static Pilot of(List<Integer> hosts, Instant now) {
        return of(hosts, now, Set.of());
    }

    public static Pilot of(List<Integer> hosts, Instant now, Set<String> departments) {
        return Pilot.starting(
                new PilotNumber(1),
                new Pilot.Terms(
                        new PilotGate(Gate.USUAL_LIMIT, hosts.size()),
                        Pilot.USUAL_SOAK,
                        Sampling.USUAL_TRAITS,
                        "seed",
                        false,
                        departments,
                        Optional.empty()),
                hosts,
                now);
    }
}
