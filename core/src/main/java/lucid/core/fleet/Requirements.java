package lucid.core.fleet;

import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lucid.core.update.Requirement;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which hosts cannot take an update, because they are known to lack what its notice requires. A host of which that is
 * not told is not held back for it: it may have it.
 */
public final class Requirements {

    private Requirements() {}

    /** What the host is known to lack of what an update requires, in the order of its notice. */
    public static List<Requirement> notMetBy(Host host, Update update) {
        return update.requires().stream()
                .filter(requirement -> isKnownToLack(host, requirement))
                .toList();
    }

    private static boolean isKnownToLack(Host host, Requirement requirement) {
        if (requirement instanceof Requirement.OfProduct required) {
            return host.products().stream()
                    .filter(installed -> installed.build().product().equals(required.product()))
                    .noneMatch(installed -> required.atLeast()
                            .filter(least -> required.product().ordering().compare(installed.version(), least) < 0)
                            .isEmpty());
        }
        if (requirement instanceof Requirement.OneOf required) {
            return host.traits().get(required.trait()) instanceof Trait.Text text
                    && !required.values().contains(text.value());
        }
        Requirement.AtLeast required = (Requirement.AtLeast) requirement;
        return host.traits().get(required.trait()) instanceof Trait.Number number
                && number.value().compareTo(BigDecimal.valueOf(required.least())) < 0;
    }

    /** The hosts among these that cannot take it. */
    public static RoaringBitmap cannotTake(Update update, RoaringBitmap among, Fleet fleet) {
        RoaringBitmap hosts = new RoaringBitmap();
        if (!update.requires().isEmpty()) {
            among.forEach((int host) -> {
                if (!notMetBy(fleet.host(host), update).isEmpty()) {
                    hosts.add(host);
                }
            });
        }
        return hosts;
    }

    /**
     * The hosts among these that cannot take it, by what they lack; one that lacks several stands under each.
     *
     * @return without what all of them have
     */
    public static Map<Requirement, RoaringBitmap> lacked(Update update, RoaringBitmap among, Fleet fleet) {
        Map<Requirement, RoaringBitmap> lacked = new LinkedHashMap<>();
        among.forEach((int host) -> notMetBy(fleet.host(host), update)
                .forEach(requirement -> lacked.computeIfAbsent(requirement, any -> new RoaringBitmap())
                        .add(host)));
        return lacked;
    }
}
