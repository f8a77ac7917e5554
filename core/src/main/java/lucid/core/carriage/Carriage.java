package lucid.core.carriage;

import java.util.EnumMap;
import java.util.Map;
import org.roaringbitmap.RoaringBitmap;

/**
 * The state of every host for one update at one instant.
 *
 * <p>The last known states, {@code carries} to {@code missing}, come from the last reports whether or not these are
 * still fresh, and share no host. What was told since the last report lies over them.
 *
 * <p>Sets that are handed out are shared: they are read, never changed.
 */
public final class Carriage {

    private final RoaringBitmap all;
    private final RoaringBitmap carries;
    private final RoaringBitmap restartOutstanding;
    private final RoaringBitmap partly;
    private final RoaringBitmap failed;
    private final RoaringBitmap missing;
    private final RoaringBitmap viaSuccessor;
    private final RoaringBitmap reportedInstalled;
    private final RoaringBitmap reportedFailed;
    private final RoaringBitmap silentAfterInstall;
    private final RoaringBitmap stale;
    private final RoaringBitmap applicable;
    private final RoaringBitmap lacking;

    Carriage(
            RoaringBitmap all,
            RoaringBitmap carries,
            RoaringBitmap restartOutstanding,
            RoaringBitmap partly,
            RoaringBitmap failed,
            RoaringBitmap missing,
            RoaringBitmap viaSuccessor,
            RoaringBitmap reportedInstalled,
            RoaringBitmap reportedFailed,
            RoaringBitmap silentAfterInstall,
            RoaringBitmap stale) {
        this.all = all;
        this.carries = carries;
        this.restartOutstanding = restartOutstanding;
        this.partly = partly;
        this.failed = failed;
        this.missing = missing;
        this.viaSuccessor = viaSuccessor;
        this.reportedInstalled = reportedInstalled;
        this.reportedFailed = reportedFailed;
        this.silentAfterInstall = silentAfterInstall;
        this.stale = stale;
        this.applicable = RoaringBitmap.or(carries, restartOutstanding, partly, failed, missing);
        RoaringBitmap wanting = RoaringBitmap.or(partly, missing, failed);
        wanting.andNot(reportedInstalled);
        wanting.or(reportedFailed);
        this.lacking = wanting;
    }

    /** The hosts in a state. */
    public RoaringBitmap in(CarriageState state) {
        return switch (state) {
            case CARRIES -> fresh(carries);
            case RESTART_OUTSTANDING -> fresh(restartOutstanding);
            case CLAIMED -> reportedInstalled.clone();
            case PARTLY -> fresh(partly);
            case FAILED -> RoaringBitmap.or(fresh(failed), reportedFailed);
            case MISSING -> fresh(missing);
            case UNKNOWN -> unknown();
            case NOT_APPLICABLE -> RoaringBitmap.andNot(all, applicable());
        };
    }

    private RoaringBitmap fresh(RoaringBitmap known) {
        RoaringBitmap fresh = RoaringBitmap.andNot(known, stale);
        fresh.andNot(reportedInstalled);
        fresh.andNot(reportedFailed);
        fresh.andNot(silentAfterInstall);
        return fresh;
    }

    private RoaringBitmap unknown() {
        RoaringBitmap unknown = RoaringBitmap.and(applicable(), stale);
        unknown.andNot(reportedInstalled);
        unknown.andNot(reportedFailed);
        unknown.or(silentAfterInstall);
        return unknown;
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
        return applicable;
    }

    /** Hosts that want it installed, by their last known state and what they told since. */
    public RoaringBitmap lacking() {
        return lacking;
    }

    /** Of those that carry it and of the restarts, hosts that do so only through a successor. */
    public RoaringBitmap viaSuccessor() {
        return viaSuccessor;
    }

    /** Hosts that have it and wait for a restart, by their last known state. */
    public RoaringBitmap restartOutstanding() {
        return restartOutstanding;
    }

    /** Hosts whose last report is too old to tell. */
    public RoaringBitmap stale() {
        return stale;
    }

    /** Hosts that have it or told that they have: all of which it speaks but the lacking ones. */
    public RoaringBitmap having() {
        return RoaringBitmap.andNot(applicable(), lacking());
    }

    public CarriageState of(int host) {
        CarriageState known = lastKnown(host);
        if (silentAfterInstall.contains(host)) {
            return CarriageState.UNKNOWN;
        }
        boolean told = reportedInstalled.contains(host) || reportedFailed.contains(host);
        return known != CarriageState.NOT_APPLICABLE && !told && stale.contains(host) ? CarriageState.UNKNOWN : known;
    }

    /** The state of the last report, however old, or what was told since; never {@link CarriageState#UNKNOWN}. */
    public CarriageState lastKnown(int host) {
        if (reportedInstalled.contains(host)) {
            return CarriageState.CLAIMED;
        }
        if (failed.contains(host) || reportedFailed.contains(host)) {
            return CarriageState.FAILED;
        }
        if (carries.contains(host)) {
            return CarriageState.CARRIES;
        }
        if (restartOutstanding.contains(host)) {
            return CarriageState.RESTART_OUTSTANDING;
        }
        if (partly.contains(host)) {
            return CarriageState.PARTLY;
        }
        return missing.contains(host) ? CarriageState.MISSING : CarriageState.NOT_APPLICABLE;
    }
}
