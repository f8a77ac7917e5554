package lucid.core.docket;

import java.time.Instant;

/** One fact that makes a case need judgement ("why now"). */
public record Cue(Type type, Instant raised) {

    /** The facts that raise a cue; more come with the evidence that they need. All go when a verdict or answer is given after them. */
    public enum Type {
        /** First read, and hosts lack it. */
        NEW,
        /** A revision with other fixes came after it was answered. */
        REVISED_FIXES,
        /** A revision came after it was answered, in which only words changed. */
        REVISED_TEXT,
        /** Its vendor has taken it back after it was answered, or before anybody judged it. */
        WITHDRAWN
    }
}
