package lucid.server.access;

/** What a person may do; each may read everything. */
public enum Role {
    READER,
    /** Judges: verdicts, answers, exceptions, imports. */
    ANALYST,
    /** People, tokens and imports, but no verdicts. */
    ADMINISTRATOR
}
