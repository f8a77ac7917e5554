package lucid.core.weighing;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import lucid.core.fleet.FailureClass;
import lucid.core.update.AttackVector;
import lucid.core.update.Rating;

/**
 * The settings of the weighing. Unit: points; one point is one tier-4 host lost.
 *
 * @param tiers what losing a host costs, for tiers 1 to 4, in points
 * @param openness how reachable a host is, by its trait {@code facing}, 0 to 1
 * @param likelihoods how likely a vulnerability without a score is exploited, by rating, 0 to 1
 * @param knownExploited the same where it is known to be exploited
 * @param vectors how easily it is reached, by attack vector, 0 to 1
 * @param bases base score that stands for a missing one, by rating, 0 to 10
 * @param hitShare how likely a vulnerable host is hit when exploitation goes on, 0 to 1
 * @param harms share of a host that is lost with a failure, by class, 0 to 1
 * @param namedIssue how likely an open known issue hits a host that it names
 * @param vagueIssue how likely one hits that names no hosts
 * @param cannotBeRemoved by what the harm grows where an update cannot be removed again, at least 1
 */
public record Weights(
        List<Double> tiers,
        Map<Facing, Double> openness,
        Map<Rating, Double> likelihoods,
        double knownExploited,
        Map<AttackVector, Double> vectors,
        Map<Rating, Double> bases,
        double hitShare,
        Map<FailureClass, Double> harms,
        double namedIssue,
        double vagueIssue,
        double cannotBeRemoved) {

    /** Values of the trait {@code facing}, from open to closed. */
    public enum Facing {
        PUBLIC,
        PARTNER,
        INTERNAL,
        ISOLATED;

        public static final String TRAIT = "facing";

        /** The value of the trait. */
        public String word() {
            return name().toLowerCase();
        }
    }

    private static final Rating[] RATED = {Rating.LOW, Rating.MEDIUM, Rating.HIGH, Rating.CRITICAL};

    public static final Weights USUAL = new Weights(
            List.of(8.0, 4.0, 2.0, 1.0),
            Map.of(Facing.PUBLIC, 1.0, Facing.PARTNER, 0.6, Facing.INTERNAL, 0.35, Facing.ISOLATED, 0.1),
            Map.of(Rating.CRITICAL, 0.10, Rating.HIGH, 0.05, Rating.MEDIUM, 0.02, Rating.LOW, 0.005),
            0.95,
            Map.of(
                    AttackVector.NETWORK,
                    1.0,
                    AttackVector.ADJACENT,
                    0.7,
                    AttackVector.LOCAL,
                    0.5,
                    AttackVector.PHYSICAL,
                    0.1),
            Map.of(Rating.CRITICAL, 9.5, Rating.HIGH, 8.0, Rating.MEDIUM, 5.5, Rating.LOW, 3.0),
            1.0,
            Map.of(FailureClass.REFUSED, 0.1, FailureClass.DEGRADED, 0.4, FailureClass.DOWN, 1.0),
            0.5,
            0.05,
            1.5);

    /** @throws IllegalArgumentException naming the weight that is missing or out of its range */
    public Weights {
        if (tiers == null || tiers.size() != 4) {
            throw new IllegalArgumentException(
                    "tiers: expected 4 weights, found " + (tiers == null ? "none" : tiers.size()));
        }
        tiers.forEach(weight -> require("tiers", weight, 0, 1000));
        requireAll("openness", openness, Facing.values(), 1);
        requireAll("likelihoods", likelihoods, RATED, 1);
        require("knownExploited", knownExploited, 0, 1);
        requireAll("vectors", vectors, AttackVector.values(), 1);
        requireAll("bases", bases, RATED, 10);
        require("hitShare", hitShare, 0, 1);
        requireAll("harms", harms, FailureClass.values(), 1);
        require("namedIssue", namedIssue, 0, 1);
        require("vagueIssue", vagueIssue, 0, 1);
        require("cannotBeRemoved", cannotBeRemoved, 1, 10);
        tiers = List.copyOf(tiers);
        openness = new EnumMap<>(openness);
        likelihoods = new EnumMap<>(likelihoods);
        vectors = new EnumMap<>(vectors);
        bases = new EnumMap<>(bases);
        harms = new EnumMap<>(harms);
    }

    private static <K> void requireAll(String name, Map<K, Double> weights, K[] keys, double most) {
        for (K key : keys) {
            require(name + " " + key.toString().toLowerCase(), weights == null ? null : weights.get(key), 0, most);
        }
    }

    private static void require(String name, Double weight, double least, double most) {
        if (weight == null || !(weight >= least && weight <= most)) {
            throw new IllegalArgumentException(
                    name + ": expected a number from " + least + " to " + most + ", found " + weight);
        }
    }

    /** @param tier 1 to 4; hosts in no population count as tier 4 */
    public double ofTier(int tier) {
        return tiers.get(tier - 1);
    }

    /** A vulnerability that nobody rated counts as Medium, one rated None as Low. */
    static Rating counted(Rating rating) {
        return rating == Rating.UNRATED ? Rating.MEDIUM : rating == Rating.NONE ? Rating.LOW : rating;
    }
}
