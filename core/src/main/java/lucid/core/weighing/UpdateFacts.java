package lucid.core.weighing;

import java.util.List;
import lucid.core.evidence.UsualRates;
import lucid.core.update.Kind;

/**
 * What is the same for all populations.
 *
 * @param weaknesses that it closes; empty if it has no security content
 * @param removable false if it can no longer be removed once it is on a host
 * @param cells those of causes in their order, then the one of all other hosts
 * @param usual what is usual of updates of its kind
 */
public record UpdateFacts(Kind kind, List<Weakness> weaknesses, boolean removable, List<CellTries> cells, UsualRates.Usual usual) {

    public UpdateFacts {
        weaknesses = List.copyOf(weaknesses);
        cells = List.copyOf(cells);
    }

    int tried() {
        return cells.stream().mapToInt(CellTries::tried).sum();
    }

    int failed() {
        return cells.stream().mapToInt(CellTries::failed).sum();
    }

    UpdateFacts withCells(List<CellTries> others) {
        return new UpdateFacts(kind, weaknesses, removable, others, usual);
    }

    /** With weaknesses as they are not. */
    public UpdateFacts withWeaknesses(List<Weakness> others) {
        return new UpdateFacts(kind, others, removable, cells, usual);
    }
}
