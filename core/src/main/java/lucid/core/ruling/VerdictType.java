package lucid.core.ruling;

/** What a verdict decides. */
public enum VerdictType {
    /** Withheld until its end. */
    BLOCK,
    /** Withheld until its end, which is an offer. With an end that is already there: "let it go now". */
    DEFER,
    /** Offered to the hosts of a sample, withheld from the others until its answer day. */
    PILOT,
    /** Offered at once and due at its end. */
    FORCE;

    public String word() {
        return name().toLowerCase();
    }
}
