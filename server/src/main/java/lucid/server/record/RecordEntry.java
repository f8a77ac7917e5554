package lucid.server.record;

import java.time.Instant;

/**
 * One sentence of the record: what was decided, imported or changed, by whom and when.
 *
 * @param subject identifier of the update that it is about, empty if none
 * @param hash of this entry and the hash of the one before; see {@link RecordChain}
 */
public record RecordEntry(long number, Instant at, String author, Kind kind, String subject, String sentence, String hash) {

    public enum Kind { VERDICT, ANSWER, EXCEPTION, TAKEN_BACK, IMPORT, POPULATIONS, EVIDENCE, WEIGHTS, ACCESS, CLOCK }
}
