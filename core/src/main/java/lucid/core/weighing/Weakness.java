package lucid.core.weighing;

import java.util.Optional;
import lucid.core.update.AttackVector;
import lucid.core.update.Rating;

/**
 * What makes a weakness dangerous.
 *
 * @param rating where there is no score: what stands for it
 * @param probability of exploitation, where scored
 * @param base CVSS base score, where given
 */
public record Weakness(String id, boolean knownExploited, Optional<Double> probability, Rating rating, AttackVector vector, Optional<Double> base) {

    /** Probability that it is exploited: as known, else as scored, else by rating. */
    public double likelihood(Weights weights) {
        return knownExploited ? weights.knownExploited() : probability.orElseGet(() -> weights.likelihoods().get(Weights.counted(rating)));
    }

    /** The base score that counts, 0 to 10. */
    public double countedBase(Weights weights) {
        return base.orElseGet(() -> weights.bases().get(Weights.counted(rating)));
    }

    /** Share of a reachable host that is lost by leaving it open: likelihood × vector × base / 10. */
    public double risk(Weights weights) {
        return likelihood(weights) * weights.vectors().get(vector) * countedBase(weights) / 10;
    }

    Weakness with(double otherProbability) {
        return new Weakness(id, knownExploited, Optional.of(otherProbability), rating, vector, base);
    }

    Weakness with(boolean exploited) {
        return new Weakness(id, exploited, probability, rating, vector, base);
    }
}
