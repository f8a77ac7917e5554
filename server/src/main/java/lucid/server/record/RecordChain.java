package lucid.server.record;

import java.security.Principal;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import lucid.server.web.Digests;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * The record as a hash chain: the hash of an entry is the SHA-256 of a JSON list of the hash before it (64 zeros for the first), its number,
 * instant, author, kind, subject and sentence. Who changes or removes an entry would have to change every later one, and the last hash that
 * somebody wrote down would no longer be found.
 */
@Component
public class RecordChain {

    private static final String START = "0".repeat(64);
    private static final int PAGE = 10_000;
    private static final JsonMapper JSON = new JsonMapper();

    private final RecordMapper mapper;
    private final Clock clock;

    public RecordChain(RecordMapper mapper, Clock clock) {
        this.mapper = mapper;
        this.clock = clock;
    }

    /** Appends a sentence. Only within {@link lucid.server.state.State#write}, which lets one writer in at a time. */
    public void append(RecordEntry.Kind kind, String subject, Principal who, String sentence) {
        Optional<RecordEntry> last = mapper.last();
        RecordEntry entry = new RecordEntry(last.map(RecordEntry::number).orElse(0L) + 1, clock.instant(), who.getName(), kind, subject, sentence, "");
        String hash = hash(last.map(RecordEntry::hash).orElse(START), entry);
        mapper.append(new RecordEntry(entry.number(), entry.at(), entry.author(), kind, subject, sentence, hash));
    }

    /**
     * Whether the chain is whole.
     *
     * @param broken number of the first entry that does not follow from the one before it
     * @param lastHash of the last entry that was checked; worth writing down somewhere else
     */
    public record Verification(long entries, Optional<Long> broken, String lastHash) {}

    public Verification verify() {
        String hash = START;
        long number = 0;
        for (List<RecordEntry> page = mapper.after(0, PAGE); !page.isEmpty(); page = mapper.after(number, PAGE)) {
            for (RecordEntry entry : page) {
                if (entry.number() != number + 1 || !entry.hash().equals(hash(hash, entry))) {
                    return new Verification(number, Optional.of(number + 1), hash);
                }
                hash = entry.hash();
                number = entry.number();
            }
        }
        return new Verification(number, Optional.empty(), hash);
    }

    private static String hash(String before, RecordEntry e) {
        return Digests.sha256(JSON.writeValueAsString(List.of(before, e.number(), e.at().toString(), e.author(), e.kind(), e.subject(), e.sentence())));
    }
}
