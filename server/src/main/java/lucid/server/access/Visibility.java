package lucid.server.access;

import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.PopulationId;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.security.core.Authentication;

/**
 * Which populations a caller sees: an operator only its own, everybody else all and the hosts in none.
 *
 * @param own ids; empty: all
 */
public record Visibility(Optional<Set<PopulationId>> own) {

    public static Visibility of(Authentication caller) {
        boolean isOperator = caller.getPrincipal() instanceof Caller.Person person && person.role() == Role.OPERATOR;
        return new Visibility(
                isOperator ? Optional.of(ownOf((Caller.Person) caller.getPrincipal())) : Optional.empty());
    }

    private static Set<PopulationId> ownOf(Caller.Person operator) {
        return operator.populations().stream().map(PopulationId::new).collect(Collectors.toUnmodifiableSet());
    }

    public boolean seesAll() {
        return own.isEmpty();
    }

    public boolean sees(PopulationId populationId) {
        return own.filter(ids -> !ids.contains(populationId)).isEmpty();
    }

    /** The hosts that are seen. */
    public RoaringBitmap of(Fleet fleet) {
        if (seesAll()) {
            return fleet.all();
        }
        RoaringBitmap seen = new RoaringBitmap();
        fleet.ladder().populations().stream().filter(p -> sees(p.id())).forEach(p -> seen.or(fleet.members(p.id())));
        return seen;
    }
}
