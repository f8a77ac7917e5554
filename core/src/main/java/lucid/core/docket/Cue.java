package lucid.core.docket;

import java.time.Instant;

/** One fact that makes a case need judgement ("why now"). */
public record Cue(Type type, Instant raised) {

    /** The facts that raise a cue; more come with the evidence that they need. */
    public enum Type {
        /** First read, and hosts lack it; gone when a verdict or answer is given. */
        NEW
    }
}
