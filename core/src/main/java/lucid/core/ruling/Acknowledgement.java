package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * "Leave to the rule": an answer, not a verdict. Nothing speaks against the update; the standing rules of its
 * populations go on.
 *
 * @param populations entries of the ladder for which it is given; empty: for all, as older answers were
 * @param lookAgain when the case comes back where the rule never offers it; none: such hosts are not answered
 * @param lackedThen hosts that lacked the update when it was given, of all populations; none: nobody kept it
 */
public record Acknowledgement(
        DecisionNumber.OfAcknowledgement number,
        UpdateId updateId,
        Set<PopulationId> populations,
        Optional<Instant> lookAgain,
        String author,
        Instant createdAt,
        Optional<Instant> revokedAt,
        Optional<RoaringBitmap> lackedThen)
        implements Decision {

    public Acknowledgement {
        populations = Set.copyOf(populations);
    }

    /** One of which nobody keeps who lacked the update. */
    public Acknowledgement(
            DecisionNumber.OfAcknowledgement number,
            UpdateId updateId,
            Set<PopulationId> populations,
            Optional<Instant> lookAgain,
            String author,
            Instant createdAt,
            Optional<Instant> revokedAt) {
        this(number, updateId, populations, lookAgain, author, createdAt, revokedAt, Optional.empty());
    }

    /** One for all populations, without a day to look again. */
    public Acknowledgement(
            DecisionNumber.OfAcknowledgement number,
            UpdateId updateId,
            String author,
            Instant createdAt,
            Optional<Instant> revokedAt) {
        this(number, updateId, Set.of(), Optional.empty(), author, createdAt, revokedAt);
    }

    @Override
    public boolean covers(Host host, Population entry) {
        return covers(entry.id());
    }

    public boolean covers(PopulationId population) {
        return populations.isEmpty() || populations.contains(population);
    }

    public Acknowledgement revoked(Instant instant) {
        return new Acknowledgement(
                number, updateId, populations, lookAgain, author, createdAt, Optional.of(instant), lackedThen);
    }
}
