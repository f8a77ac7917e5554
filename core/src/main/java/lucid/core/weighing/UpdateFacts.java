package lucid.core.weighing;

import java.util.List;
import lucid.core.evidence.BaselineRates;
import lucid.core.update.Kind;

/**
 * What is the same for all populations.
 *
 * @param vulnerabilities that it closes; empty if it has no security content
 * @param removable false if it can no longer be removed once it is on a host
 * @param cells those of causes in their order, then the one of all other hosts
 * @param usual what is usual of updates of its kind
 */
public record UpdateFacts(
        Kind kind,
        List<VulnerabilityRisk> vulnerabilities,
        boolean removable,
        List<CellTries> cells,
        BaselineRates.Baseline usual) {

    public UpdateFacts {
        vulnerabilities = List.copyOf(vulnerabilities);
        cells = List.copyOf(cells);
    }

    int tried() {
        return cells.stream().mapToInt(CellTries::tried).sum();
    }

    int failed() {
        return cells.stream().mapToInt(CellTries::failed).sum();
    }

    UpdateFacts withCells(List<CellTries> others) {
        return new UpdateFacts(kind, vulnerabilities, removable, others, usual);
    }

    /** With vulnerabilities as they are not. */
    public UpdateFacts withVulnerabilities(List<VulnerabilityRisk> others) {
        return new UpdateFacts(kind, others, removable, cells, usual);
    }
}
