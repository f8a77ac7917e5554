package lucid.server.access;

/** What a machine's token may do. */
public enum Scope {
    /** Bring documents of every format. */
    IMPORT,
    /** Bring inventories of any host. */
    REPORT,
    /** Bring the inventory of one host, its own. */
    HOST,
    /** Get the own token of one host, once. */
    ENROL,
    /** Take backups and check the record. */
    BACKUP,
    /** Read the counts that an outside monitor watches. */
    MONITOR,
    /** Read the calendar of what is in force. */
    CALENDAR,
    /** Read when an operator agreed to install what. */
    SLOTS,
    /** Read the newest entries of the record. */
    FEED;

    boolean isOfOneHost() {
        return this == HOST || this == ENROL;
    }

    /** True if it is of a person's own address: it is gone when that person may not see what it opens. */
    boolean isPersonal() {
        return this == CALENDAR || this == SLOTS || this == FEED;
    }

    /** True if an address of that scope opens something as long as its person has that role. */
    boolean isFor(Role role) {
        return this == SLOTS ? role == Role.OPERATOR : role != Role.OPERATOR && role != Role.DESK;
    }
}
