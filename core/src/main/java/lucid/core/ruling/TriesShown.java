package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;
import lucid.core.fleet.PopulationId;
import lucid.core.update.UpdateId;

/**
 * What the tries of one population's hosts have shown of an update, where the rule of another waits for that.
 *
 * @param metAt since when they show that it fails seldom enough
 * @param failedAt since when they show that it does not
 */
public record TriesShown(
        UpdateId updateId, PopulationId population, Optional<Instant> metAt, Optional<Instant> failedAt) {

    public static TriesShown nothing(UpdateId updateId, PopulationId population) {
        return new TriesShown(updateId, population, Optional.empty(), Optional.empty());
    }

    public TriesShown met(Instant at) {
        return new TriesShown(updateId, population, Optional.of(at), failedAt);
    }

    public TriesShown failed(Instant at) {
        return new TriesShown(updateId, population, metAt, Optional.of(at));
    }
}
