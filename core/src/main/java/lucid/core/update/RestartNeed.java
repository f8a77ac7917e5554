package lucid.core.update;

/** What must be restarted before an installed update takes effect. */
public enum RestartNeed {
    NONE,
    SERVICE,
    HOST
}
