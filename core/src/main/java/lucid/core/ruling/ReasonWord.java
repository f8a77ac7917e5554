package lucid.core.ruling;

/** The small list of reasons for a verdict, beside its free words. */
public enum ReasonWord {
    EXPLOITED,
    EXPOSED,
    ROUTINE,
    COMPATIBILITY,
    NO_DOWNTIME,
    UNTESTED,
    KNOWN_ISSUE,
    FAILURES_SEEN,
    NOT_AFFECTED_HERE;

    public String words() {
        return name().toLowerCase().replace('_', ' ');
    }
}
