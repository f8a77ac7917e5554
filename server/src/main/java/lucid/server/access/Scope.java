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
    BACKUP,
    /** Read the counts that an outside monitor watches. */
    MONITOR,
    /** Read the calendar of what is in force; each is a person's own, and is gone when that person may not see that. */
    CALENDAR
}
