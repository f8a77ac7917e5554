package lucid.core.weighing;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.FailureClass;

/**
 * The hosts of one population that lack an update, counted by all that makes a difference.
 *
 * @param tier 1 to 4
 * @param cells in the order of {@link UpdateFacts#cells}
 */
public record PopulationFacts(int tier, List<CellHosts> cells) {

    /**
     * @param lacking hosts that lack it
     * @param nothingToInstall of the lacking, those for which no version with the fix is known
     * @param exposed every host that lacks it or waits for a restart, but for those under a not-affected note
     * @param endangered every host on which it would be installed, but for those under a not-affected note
     * @param notAffected hosts under a note or a statement that tells they are not affected
     * @param restartOutstanding hosts that have it and wait for a restart
     * @param unknown of all of them, those whose last report is too old
     */
    public record CellHosts(
            int lacking,
            int nothingToInstall,
            List<Exposed> exposed,
            List<Endangered> endangered,
            int notAffected,
            int restartOutstanding,
            int unknown) {
        public CellHosts {
            exposed = List.copyOf(exposed);
            endangered = List.copyOf(endangered);
        }

        static final CellHosts NONE = new CellHosts(0, 0, List.of(), List.of(), 0, 0, 0);

        public int hosts() {
            return lacking + restartOutstanding;
        }
    }

    /**
     * @param unknown of these hosts, those whose last report is too old
     * @param vulnerabilities those that matter on these hosts, by their place in {@link UpdateFacts#vulnerabilities}
     */
    public record Exposed(int hosts, int unknown, Weights.Facing facing, Set<Integer> vulnerabilities) {}

    /**
     * @param named the worst open known issue that names these hosts
     * @param vague the worst one that names no hosts
     */
    public record Endangered(int hosts, Optional<FailureClass> named, Optional<FailureClass> vague) {}

    public PopulationFacts {
        cells = List.copyOf(cells);
    }

    public int lacking() {
        return cells.stream().mapToInt(CellHosts::lacking).sum();
    }

    public int nothingToInstall() {
        return cells.stream().mapToInt(CellHosts::nothingToInstall).sum();
    }

    public int hosts() {
        return cells.stream().mapToInt(CellHosts::hosts).sum();
    }
}
