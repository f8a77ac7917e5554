package lucid.server.audit;

import java.time.Instant;

/**
 * One sentence of the record: what was decided, imported or changed, by whom and when.
 *
 * @param subject identifier of the update that it is about, empty if none
 * @param hash of this entry and the hash of the one before; see {@link AuditLog}
 */
public record AuditEntry(
        long number, Instant at, String author, Kind kind, String subject, String sentence, String hash) {

    /**
     * Which decision an entry is about.
     *
     * @param kind as in an undo address
     */
    public record About(String kind, long decision) {}

    public enum Kind {
        VERDICT,
        ANSWER,
        EXCEPTION,
        TAKEN_BACK,
        IMPORT,
        POPULATIONS,
        EVIDENCE,
        WEIGHTS,
        HOSTS,
        ACCESS,
        CLOCK
    }
}
