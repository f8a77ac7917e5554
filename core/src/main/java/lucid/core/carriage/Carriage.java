package lucid.core.carriage;

import java.util.EnumMap;
import java.util.Map;
import org.roaringbitmap.RoaringBitmap;

/**
 * The state of every host for one update at one instant. {@code carries}, {@code partly} and {@code missing} are the last known states,
 * whether or not they are still fresh.
 *
 * @param all every host
 * @param stale hosts whose last report is too old to tell
 */
public record Carriage(RoaringBitmap all, RoaringBitmap carries, RoaringBitmap partly, RoaringBitmap missing, RoaringBitmap stale) {

    /** The hosts in a state. */
    public RoaringBitmap in(CarriageState state) {
        return switch (state) {
            case CARRIES -> RoaringBitmap.andNot(carries, stale);
            case PARTLY -> RoaringBitmap.andNot(partly, stale);
            case MISSING -> RoaringBitmap.andNot(missing, stale);
            case UNKNOWN -> RoaringBitmap.and(applicable(), stale);
            case NOT_APPLICABLE -> RoaringBitmap.andNot(all, applicable());
        };
    }

    /** How many of {@code among} are in each state; the counts add up to the size of {@code among}. */
    public Map<CarriageState, Integer> counts(RoaringBitmap among) {
        Map<CarriageState, Integer> counts = new EnumMap<>(CarriageState.class);
        for (CarriageState state : CarriageState.values()) {
            counts.put(state, RoaringBitmap.andCardinality(in(state), among));
        }
        return counts;
    }

    /** Hosts of which the update speaks. */
    public RoaringBitmap applicable() {
        return RoaringBitmap.or(carries, lacking());
    }

    /** Hosts that lack it in part or whole, by their last known state. */
    public RoaringBitmap lacking() {
        return RoaringBitmap.or(partly, missing);
    }

    public CarriageState of(int host) {
        CarriageState known = lastKnown(host);
        return known != CarriageState.NOT_APPLICABLE && stale.contains(host) ? CarriageState.UNKNOWN : known;
    }

    /** The state of the last report, however old; never {@link CarriageState#UNKNOWN}. */
    public CarriageState lastKnown(int host) {
        if (carries.contains(host)) {
            return CarriageState.CARRIES;
        }
        if (partly.contains(host)) {
            return CarriageState.PARTLY;
        }
        return missing.contains(host) ? CarriageState.MISSING : CarriageState.NOT_APPLICABLE;
    }
}
