package lucid.server.freezes;

import java.util.stream.Collectors;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.ruling.Freeze;

/** How the record speaks of a freeze. */
final class FreezeWords {

    private FreezeWords() {}

    static String populations(Freeze freeze, Fleet fleet) {
        return freeze.isOfAll()
                ? "all populations"
                : fleet.ladder().entries().stream()
                        .filter(entry -> freeze.covers(entry.id()))
                        .map(Population::name)
                        .collect(Collectors.joining(", "));
    }
}
