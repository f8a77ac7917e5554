package lucid.core.ruling;

/** What a ruling says. */
public enum Effect {
    NOTHING_TO_DO,
    WITHHELD,
    OFFERED,
    /** Offered and in sight, never installed by itself: whoever runs the host begins. */
    BY_OPERATOR,
    /** On a host that carries it: an earlier version is to take its place. */
    REMOVE;

    /** True if it may come to the host, by itself or by a person. */
    public boolean isOffer() {
        return this == OFFERED || this == BY_OPERATOR;
    }
}
