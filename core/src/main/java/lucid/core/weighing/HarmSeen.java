package lucid.core.weighing;

/** Why harm counts as in evidence. */
public enum HarmSeen {
    /** An open known issue touches a host that lacks it. */
    KNOWN_ISSUE,
    /** Two failures or more, and most likely more than twice as often as usual. */
    FAILURES_ABOVE_USUAL,
    /** A host went down, and it was not one of very many. */
    HOSTS_DOWN,
    /** Reports from elsewhere tell of several hosts that went down, and too few here tried it without failure. */
    HOSTS_DOWN_ELSEWHERE
}
