package lucid.server.access;

import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Fleet;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.security.core.Authentication;

/**
 * Which populations a caller sees: an operator only its own, everybody else all and the hosts in none.
 *
 * @param own ids; empty: all
 */
public record Visibility(Optional<Set<String>> own) {

    public static Visibility of(Authentication caller) {
        return new Visibility(caller.getPrincipal() instanceof Caller.Person person && person.role() == Role.OPERATOR ? Optional.of(person.populations()) : Optional.empty());
    }

    public boolean seesAll() {
        return own.isEmpty();
    }

    public boolean sees(String populationId) {
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
