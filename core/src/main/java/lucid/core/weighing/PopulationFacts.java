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
     * @param exposed every host that lacks it or waits for a restart, but for those under a not-affected note
     * @param endangered every host that lacks it
     * @param notAffected hosts under a note or a statement that tells they are not affected
     * @param restartOutstanding hosts that have it and wait for a restart
     * @param unknown of all of them, those whose last report is too old
     */
    public record CellHosts(
            List<Exposed> exposed, List<Endangered> endangered, int notAffected, int restartOutstanding, int unknown) {
        public CellHosts {
            exposed = List.copyOf(exposed);
            endangered = List.copyOf(endangered);
        }

        static final CellHosts NONE = new CellHosts(List.of(), List.of(), 0, 0, 0);

        public int lacking() {
            return endangered.stream().mapToInt(Endangered::hosts).sum();
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

    public int hosts() {
        return lacking()
                + cells.stream().mapToInt(CellHosts::restartOutstanding).sum();
    }
}
