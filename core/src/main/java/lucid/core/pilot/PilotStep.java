package lucid.core.pilot;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.Fleet;
import org.roaringbitmap.RoaringBitmap;

/**
 * What follows by itself from how a pilot goes. Each step is carried out once and told: a gate that fails withholds the
 * update from everybody, one that is met brings what was prepared, and a host that leaves or does not try is replaced
 * by the next.
 */
public sealed interface PilotStep {

    /** How long a sampled host may take to try before another takes its place. */
    Duration UNTIL_REPLACED = Duration.ofDays(7);

    Pilot after();

    record Failed(Pilot after) implements PilotStep {}

    /** What was prepared for it holds from now on. */
    record Met(Pilot after, Pilot.Then then) implements PilotStep {}

    /**
     * @param by the host that takes its place; none where no other can be drawn
     * @param left whether it is no longer among the hosts that the pilot is for; else it has not tried in time
     */
    record Replaced(Pilot after, int host, Optional<Integer> by, boolean left) implements PilotStep {}

    /**
     * The steps that are due now, in their order; the last holds the pilot as it is then.
     *
     * @param named hosts that the pilot is for, whatever they carry
     */
    static List<PilotStep> due(
            Pilot pilot, Progress progress, RoaringBitmap named, Candidates candidates, Fleet fleet, Instant now) {
        if (pilot.failedAt().isPresent() || pilot.metAt().isPresent()) {
            return List.of();
        }
        if (progress.state() == Progress.State.MET) {
            return pilot.terms().then().stream()
                    .<PilotStep>map(then -> new Met(pilot.met(now), then))
                    .toList();
        }
        if (progress.state() == Progress.State.FAILED) {
            return List.of(new Failed(pilot.failed(now)));
        }
        List<PilotStep> steps = new ArrayList<>();
        if (progress.state() == Progress.State.SOAKING) {
            Pilot current = pilot;
            for (int place = 0; place < pilot.places().size(); place++) {
                Pilot.Place one = pilot.places().get(place);
                boolean waiting = one.isOpen() && progress.hosts().get(place).state() == Progress.HostState.NOT_TRIED;
                boolean left = !named.contains(one.host());
                boolean late = !one.since().plus(UNTIL_REPLACED).isAfter(now);
                if (waiting && (left || late)) {
                    Optional<Integer> next = next(current, candidates, fleet);
                    if (left || next.isPresent()) {
                        current = current.without(one.host(), now);
                        current = next.isPresent() ? current.extended(List.of(next.get()), now) : current;
                        steps.add(new Replaced(current, one.host(), next, left));
                    }
                }
            }
        }
        return List.copyOf(steps);
    }

    private static Optional<Integer> next(Pilot pilot, Candidates candidates, Fleet fleet) {
        return Sampling.drawMore(
                        candidates,
                        pilot.everSampled(),
                        1,
                        pilot.terms().traits(),
                        pilot.terms().seed(),
                        fleet)
                .hosts()
                .stream()
                .findFirst();
    }
}
