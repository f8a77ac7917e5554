package lucid.core.fleet;

/** How an offered update begins on the hosts of a population. */
public enum StartMode {
    BY_ITSELF,
    /** Shown to whoever uses the host, who may start it; at due it begins by itself. */
    BY_PERSON,
    /** As the host is shut down, and at due. */
    AT_SHUTDOWN,
    /** Never by itself: a deadline is a request. */
    BY_OPERATOR
}
