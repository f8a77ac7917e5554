package lucid.server.intake;

/** How a document fared. */
public enum IntakeOutcome {
    ACCEPTED,
    /** The same content was taken before; nothing changed. */
    DUPLICATE,
    /** A newer revision had been taken before; nothing changed. */
    STALE,
    REJECTED,
    /** It counts once a person has looked at it. */
    WAITING
}
