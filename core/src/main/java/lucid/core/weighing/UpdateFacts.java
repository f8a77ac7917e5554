package lucid.core.weighing;

import java.util.List;
import lucid.core.update.Kind;

/**
 * What is the same for all populations.
 *
 * @param vulnerabilities that it closes; empty if it has no security content
 * @param removable false if it can no longer be removed once it is on a host
 * @param withdrawn true if its vendor took it back
 * @param cells for each part of its products those of causes in their order, then the one of all other hosts
 * @param usual what is usual of updates of its kind
 */
public record UpdateFacts(
        Kind kind,
        List<VulnerabilityRisk> vulnerabilities,
        boolean removable,
        boolean withdrawn,
        List<CellTries> cells,
        BaselineRates.Baseline usual) {

    public UpdateFacts {
        vulnerabilities = List.copyOf(vulnerabilities);
        cells = List.copyOf(cells);
    }

    UpdateFacts withCells(List<CellTries> others) {
        return new UpdateFacts(kind, vulnerabilities, removable, withdrawn, others, usual);
    }

    /** With vulnerabilities as they are not. */
    public UpdateFacts withVulnerabilities(List<VulnerabilityRisk> others) {
        return new UpdateFacts(kind, others, removable, withdrawn, cells, usual);
    }
}
