package lucid.core.carriage;

/** How a host stands to an update ("state on hosts"). Each host is in exactly one state. */
public enum CarriageState {
    /** Every product that the update speaks of has the fix. */
    CARRIES,
    /** Some of those products have it, others lack it. */
    PARTLY,
    /** None of those products has it. */
    MISSING,
    /** The last report is too old to tell; the last known state is kept beside it. */
    UNKNOWN,
    /** The host has no product that the update speaks of, or is of another platform. */
    NOT_APPLICABLE;

    /** True if a host in this state wants the update. */
    public boolean lacks() {
        return this == PARTLY || this == MISSING;
    }
}
