package lucid.server.access;

/** What a person may do. */
public enum Role {
    /** Reads everything. */
    READER,
    /** Service desk: who carries what; tells of failures. */
    DESK,
    /** Installs by hand: sees its own populations. */
    OPERATOR,
    /** Judges: verdicts, answers, exceptions, imports. */
    ANALYST,
    /** Reads everything; signs off what critical populations get. */
    APPROVER,
    /** People, tokens and imports, but no verdicts. */
    ADMINISTRATOR
}
