package lucid.core.carriage;

/**
 * How a host stands to an update ("state on hosts"). Each host is in exactly one state; the first that applies counts.
 */
public enum CarriageState {
    /** Every product that the update speaks of has the fix, or the host carries a successor. */
    CARRIES,
    /** As {@link #CARRIES}, but the host must still be restarted before the fix works. */
    RESTART_OUTSTANDING,
    /**
     * The host said that it installed the update, but has not reported its versions since ("installed, not
     * re-checked").
     */
    CLAIMED,
    /** Some of those products have it, others lack it. */
    PARTLY,
    /** Lacked, and the last attempt failed; or it was removed or failed after the last report. */
    FAILED,
    /** None of those products has it. */
    MISSING,
    /** The last report is too old to tell; the last known state is kept beside it. */
    UNKNOWN,
    /** The host has no product that the update speaks of, or is of another platform. */
    NOT_APPLICABLE;

    /** True if a host in this state wants the update to be installed. */
    public boolean lacks() {
        return this == PARTLY || this == FAILED || this == MISSING;
    }
}
