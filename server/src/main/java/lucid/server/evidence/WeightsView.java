package lucid.server.evidence;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lucid.core.weighing.Weights;

/** What differs between two settings of the weights, in words. */
final class WeightsView {

    private WeightsView() {}

    static List<String> differences(Weights before, Weights after) {
        Map<String, Double> from = flat(before);
        List<String> differences = new ArrayList<>();
        flat(after).forEach((name, value) -> {
            if (!value.equals(from.get(name))) {
                differences.add(name + " from " + from.get(name) + " to " + value);
            }
        });
        return differences;
    }

    private static Map<String, Double> flat(Weights weights) {
        Map<String, Double> flat = new TreeMap<>();
        for (int tier = 1; tier <= 4; tier++) {
            flat.put("tier " + tier, weights.ofTier(tier));
        }
        weights.openness().forEach((facing, value) -> flat.put("openness of " + facing.word(), value));
        weights.likelihoods()
                .forEach((rating, value) ->
                        flat.put("likelihood of " + rating.name().toLowerCase(), value));
        flat.put("likelihood of known exploited", weights.knownExploited());
        weights.vectors()
                .forEach((vector, value) -> flat.put("vector " + vector.name().toLowerCase(), value));
        weights.bases()
                .forEach((rating, value) -> flat.put("base of " + rating.name().toLowerCase(), value));
        flat.put("hit share", weights.hitShare());
        weights.harms()
                .forEach(
                        (failure, value) -> flat.put("harm of " + failure.name().toLowerCase(), value));
        flat.put("named issue", weights.namedIssue());
        flat.put("vague issue", weights.vagueIssue());
        flat.put("cannot be removed", weights.cannotBeRemoved());
        return flat;
    }
}
