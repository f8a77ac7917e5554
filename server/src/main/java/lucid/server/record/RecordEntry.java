package lucid.server.record;

import java.time.Instant;

/**
 * One sentence of the record: what was decided, imported or changed, by whom and when.
 *
 * @param subject identifier of the update that it is about, empty if none
 */
public record RecordEntry(long number, Instant at, String author, Kind kind, String subject, String sentence) {

    public enum Kind { VERDICT, ANSWER, EXCEPTION, TAKEN_BACK, IMPORT, POPULATIONS, ACCESS, CLOCK }
}
