package lucid.core.carriage;

import lucid.core.fleet.TargetRelease;
import org.roaringbitmap.RoaringBitmap;

/**
 * Where the hosts of a population that have a platform stand to the release at which they are to stay.
 *
 * @param above they are named, and never lowered
 */
public record HostsByRelease(TargetRelease target, RoaringBitmap below, RoaringBitmap at, RoaringBitmap above) {

    /** @param members hosts of the population */
    public static HostsByRelease of(TargetRelease target, RoaringBitmap members, CarrierIndex installed) {
        HostsByRelease standing =
                new HostsByRelease(target, new RoaringBitmap(), new RoaringBitmap(), new RoaringBitmap());
        installed.versions(target.product()).forEach((version, hosts) -> {
            RoaringBitmap into =
                    switch (target.standing(version)) {
                        case BELOW -> standing.below;
                        case AT -> standing.at;
                        case ABOVE -> standing.above;
                    };
            into.or(RoaringBitmap.and(hosts, members));
        });
        return standing;
    }
}
