package lucid.core.pilot;

import java.util.HashSet;
import java.util.Set;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.gate.Gate;
import lucid.core.gate.PilotGate;
import org.roaringbitmap.RoaringBitmap;

/**
 * What all tries of a population's hosts show of an update, in a pilot or not, for the rules that wait for them.
 *
 * @param hosts to which it applies: a few hosts are not asked for more than they can show
 * @param tried hosts that tried, whether they have answered or not
 */
public record PopulationTries(int hosts, int tried, int clean, int failed, int down) {

    /** @param members hosts of the population to which the update applies */
    public static PopulationTries of(RoaringBitmap members, TriedHosts tries) {
        int clean = 0;
        int failed = 0;
        int down = 0;
        Set<Integer> tried = new HashSet<>(tries.waiting());
        tried.removeIf(host -> !members.contains(host));
        for (TriedHosts.Try one : tries.tries()) {
            if (members.contains(one.host())) {
                tried.add(one.host());
                clean += one.failed() ? 0 : 1;
                failed += one.failed() ? 1 : 0;
                down += one.failure()
                                .filter(failure -> failure.failureClass() == FailureClass.DOWN)
                                .isPresent()
                        ? 1
                        : 0;
            }
        }
        return new PopulationTries(members.getCardinality(), tried.size(), clean, failed, down);
    }

    private PilotGate gate() {
        return new PilotGate(Gate.USUAL_LIMIT, Math.max(1, hosts));
    }

    public boolean areEnough() {
        return hosts > 0 && gate().isMet(clean, failed) && !haveFailed();
    }

    public boolean haveFailed() {
        return hosts > 0 && gate().isFailed(tried, failed, down);
    }
}
