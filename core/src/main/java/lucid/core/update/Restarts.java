package lucid.core.update;

import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * What must be restarted before an update takes effect, of all its products or of single ones. Of several words on one
 * product the strongest counts; of what nobody tells it is unknown, which is not none.
 *
 * @param ofAll what is said of the update, whatever the product; none: nothing
 * @param ofProducts what is said of single products
 */
public record Restarts(Optional<RestartNeed> ofAll, Map<ProductBuild, RestartNeed> ofProducts) {

    public static final Restarts NOT_TOLD = ofAll(Optional.empty());

    public Restarts {
        ofProducts = Map.copyOf(ofProducts);
    }

    public static Restarts ofAll(Optional<RestartNeed> need) {
        return new Restarts(need, Map.of());
    }

    /** What several sources tell. */
    public static Restarts together(List<Restarts> told) {
        Map<ProductBuild, RestartNeed> ofProducts = new HashMap<>();
        told.forEach(one -> one.ofProducts.forEach((build, need) -> ofProducts.merge(build, need, Restarts::stronger)));
        return new Restarts(
                told.stream().flatMap(one -> one.ofAll.stream()).max(Comparator.naturalOrder()), ofProducts);
    }

    private static RestartNeed stronger(RestartNeed a, RestartNeed b) {
        return a.compareTo(b) >= 0 ? a : b;
    }

    /** Of that product. */
    public RestartNeed of(ProductBuild build) {
        return Stream.concat(ofAll.stream(), Optional.ofNullable(ofProducts.get(build)).stream())
                .max(Comparator.naturalOrder())
                .orElse(RestartNeed.UNKNOWN);
    }

    /** The strongest of all products. */
    public RestartNeed strongest() {
        return Stream.concat(ofAll.stream(), ofProducts.values().stream())
                .max(Comparator.naturalOrder())
                .orElse(RestartNeed.UNKNOWN);
    }
}
