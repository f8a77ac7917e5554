package lucid.core.fleet;

/** How bad a failure is for a host. */
public enum FailureClass {
    /** It did not install; the host is unharmed. */
    REFUSED,
    /** Installed; something works worse. */
    DEGRADED,
    /** Host or service unusable, or data lost. */
    DOWN
}
