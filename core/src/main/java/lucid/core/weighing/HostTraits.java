package lucid.core.weighing;

import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.Trait;
import lucid.core.weighing.Weights.Facing;

/**
 * The traits of a host, from those that somebody imported in a table and those that the host reports itself. A host can
 * be in the hands of an attacker, so that its word never makes it less exposed than the table says: where both speak,
 * the table counts. Two things the host may say against it: a number, which it measures now, and that it faces
 * something more open.
 */
public final class HostTraits {

    private HostTraits() {}

    /** @return by name; of those that only one side knows, that side's */
    public static Map<String, Trait> joined(Map<String, Trait> imported, Map<String, Trait> reported) {
        Map<String, Trait> all = new HashMap<>(reported);
        imported.forEach((name, trait) -> all.merge(name, trait, (own, told) -> counts(name, told, own)));
        return all;
    }

    private static Trait counts(String name, Trait told, Trait own) {
        if (told.type() == Trait.Type.NUMBER && own.type() == Trait.Type.NUMBER) {
            return own;
        }
        if (name.equals(Facing.TRAIT)) {
            Optional<Facing> reportedFacing = facing(told);
            Optional<Facing> ownFacing = facing(own);
            return ownFacing.isPresent()
                            && reportedFacing
                                    .filter(facing -> facing.compareTo(ownFacing.get()) <= 0)
                                    .isEmpty()
                    ? own
                    : told;
        }
        return told;
    }

    private static Optional<Facing> facing(Trait trait) {
        try {
            return Optional.of(Facing.valueOf(trait.toString().toUpperCase(Locale.ROOT)));
        } catch (IllegalArgumentException e) {
            return Optional.empty();
        }
    }
}
