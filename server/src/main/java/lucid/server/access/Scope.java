package lucid.server.access;

/** What a machine's token may do. */
public enum Scope {
    /** Bring documents of every format. */
    IMPORT,
    /** Bring host inventories only. */
    REPORT
}
