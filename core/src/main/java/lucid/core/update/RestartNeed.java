package lucid.core.update;

/** What must be restarted before an installed update takes effect. */
public enum RestartNeed {
    /** No source tells; not the same as {@link #NONE}. */
    UNKNOWN,
    NONE,
    SERVICE,
    HOST
}
