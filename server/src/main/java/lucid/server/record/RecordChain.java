package lucid.server.record;

import java.io.IOException;
import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.server.storage.RecordHead;
import lucid.server.storage.Settings;
import lucid.server.web.Digests;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.security.core.Authentication;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
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
    private static final int LONGEST_SENTENCE = 8_000;
    private static final JsonMapper JSON = new JsonMapper();

    private static final Logger LOG = LoggerFactory.getLogger(RecordChain.class);
    /** Clocks are set by so much in daily life; more is told. */
    private static final Duration CLOCK_SET = Duration.ofMinutes(1);

    private final RecordMapper mapper;
    private final RecordHead kept;
    private final Settings settings;
    private final Clock clock;
    /** What the transaction under way makes of the head; null outside of one. */
    private RecordHead.Head written;
    private boolean toldClock;

    RecordChain(RecordMapper mapper, RecordHead kept, Settings settings, Clock clock) {
        this.mapper = mapper;
        this.kept = kept;
        this.settings = settings;
        this.clock = clock;
    }

    /** Counts a write, so that it is missed if the database falls back, also when it makes no entry. The first thing in each transaction of {@link lucid.server.state.State#write}. */
    public void begin() {
        long writes = settings.find(Settings.WRITES).map(Long::parseLong).orElse(0L) + 1;
        settings.keep(Settings.WRITES, String.valueOf(writes));
        written = mapper.last().map(last -> new RecordHead.Head(last.number(), last.hash(), writes)).orElseGet(() -> new RecordHead.Head(0, START, writes));
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCompletion(int status) {
                if (status == STATUS_COMMITTED) {
                    keep(written);
                }
                written = null;
            }
        });
    }

    /**
     * Appends a sentence. Only within {@link lucid.server.state.State#write}, which lets one writer in at a time. Entries are in the order of their instants also
     * when the clock went back: then they bear the instant of the entry before them, and one of them says so.
     */
    public void append(RecordEntry.Kind kind, String subject, Principal who, String sentence) {
        Optional<RecordEntry> last = mapper.last();
        Instant now = clock.instant();
        Duration back = last.map(entry -> Duration.between(now, entry.at())).filter(gap -> !gap.isNegative()).orElse(Duration.ZERO);
        if (back.compareTo(CLOCK_SET) <= 0) {
            toldClock = false;
        } else if (!toldClock) {
            toldClock = true;
            LOG.warn("The clock of this machine is {} minutes behind the last entry of the record", back.toMinutes());
            last = Optional.of(append(last, now, RecordEntry.Kind.CLOCK, "", "Lucid Verdict", "The server's clock went back to " + now + ", which is " + back.toMinutes()
                    + " minutes before the last entry; until it has caught up, entries bear that entry's instant."));
        }
        append(last, now, kind, subject, name(who), sentence);
    }

    /** The framework wraps who signed in. */
    private static String name(Principal who) {
        Object author = who instanceof Authentication signedIn ? signedIn.getPrincipal() : who;
        return author instanceof RecordAuthor known ? known.recordName() : who.getName();
    }

    private RecordEntry append(Optional<RecordEntry> last, Instant now, RecordEntry.Kind kind, String subject, String author, String sentence) {
        Instant at = last.map(RecordEntry::at).filter(before -> before.isAfter(now)).orElse(now);
        String kept = sentence.length() <= LONGEST_SENTENCE ? sentence : sentence.substring(0, LONGEST_SENTENCE - 1) + "…";
        RecordEntry bare = new RecordEntry(last.map(RecordEntry::number).orElse(0L) + 1, at, author, kind, subject, kept, "");
        RecordEntry entry = new RecordEntry(bare.number(), at, author, kind, subject, kept, hash(last.map(RecordEntry::hash).orElse(START), bare));
        mapper.append(entry);
        written = new RecordHead.Head(entry.number(), entry.hash(), written.writes());
        return entry;
    }

    /** A head that cannot be kept is behind, which is no loss: the next one takes its place. */
    private void keep(RecordHead.Head head) {
        try {
            kept.keep(head);
        } catch (IOException e) {
            LOG.warn("How far the record goes could not be kept beside the database: {}", e.getMessage());
        }
    }

    /**
     * Whether the chain is whole.
     *
     * @param broken number of the first entry that does not follow from the one before it
     * @param lastHash of the last entry that was checked; worth writing down somewhere else
     */
    public record Verification(long entries, Optional<Long> broken, String lastHash) {}

    public Verification verify() {
        return verify(mapper);
    }

    /** As {@link #verify()}, of a database that no server runs on. */
    public static Verification verify(RecordMapper mapper) {
        String hash = START;
        long number = 0;
        for (List<RecordEntry> page = mapper.after(0, PAGE); !page.isEmpty(); page = mapper.after(number, PAGE)) {
            for (RecordEntry entry : page) {
                if (entry.number() != number + 1 || !follows(hash, entry)) {
                    return new Verification(number, Optional.of(number + 1), hash);
                }
                hash = entry.hash();
                number = entry.number();
            }
        }
        return new Verification(number, Optional.empty(), hash);
    }

    /** Of a damaged file a part of an entry may be gone. */
    private static boolean follows(String before, RecordEntry e) {
        boolean whole = Stream.of(e.at(), e.author(), e.kind(), e.subject(), e.sentence(), e.hash()).noneMatch(Objects::isNull);
        return whole && e.hash().equals(hash(before, e));
    }

    private static String hash(String before, RecordEntry e) {
        return Digests.sha256(JSON.writeValueAsString(List.of(before, e.number(), e.at().toString(), e.author(), e.kind(), e.subject(), e.sentence())));
    }
}
