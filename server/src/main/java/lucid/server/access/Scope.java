package lucid.server.access;

/** What a machine's token may do. */
public enum Scope {
    /** Bring documents of every format. */
    IMPORT,
    /** Bring inventories of any host. */
    REPORT,
    /** Bring the inventory of one host, its own. */
    HOST,
    /** Take backups and check the record. */
    BACKUP
}
