package lucid.server.audit;

import java.io.IOException;
import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import javax.sql.DataSource;
import lucid.server.storage.AuditHead;
import lucid.server.storage.Settings;
import lucid.server.web.Digests;
import org.apache.ibatis.mapping.Environment;
import org.apache.ibatis.session.Configuration;
import org.apache.ibatis.session.SqlSession;
import org.apache.ibatis.session.SqlSessionFactoryBuilder;
import org.apache.ibatis.transaction.jdbc.JdbcTransactionFactory;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.security.core.Authentication;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import tools.jackson.databind.json.JsonMapper;

/**
 * The record as a hash chain: the hash of an entry is the SHA-256 of a JSON list of the hash before it (64 zeros for
 * the first), its number, instant, author, kind, subject and sentence. Who changes or removes an entry would have to
 * change every later one, and the last hash that somebody wrote down would no longer be found.
 */
@Component
public class AuditLog {

    private static final String START = "0".repeat(64);
    private static final int PAGE = 10_000;
    private static final int LONGEST_SENTENCE = 8_000;
    private static final JsonMapper JSON = new JsonMapper();

    private static final Logger LOG = LoggerFactory.getLogger(AuditLog.class);
    /** Clocks are set by so much in daily life; more is told. */
    private static final Duration CLOCK_SET = Duration.ofMinutes(1);

    private final AuditMapper mapper;
    private final AuditHead kept;
    private final Settings settings;
    private final Clock clock;
    /** What the transaction under way makes of the head; null outside of one. */
    private AuditHead.Head written;

    private boolean toldClock;

    AuditLog(AuditMapper mapper, AuditHead kept, Settings settings, Clock clock) {
        this.mapper = mapper;
        this.kept = kept;
        this.settings = settings;
        this.clock = clock;
    }

    /**
     * Counts a write, so that it is missed if the database falls back, also when it makes no entry. The first thing in
     * each transaction of {@link lucid.server.snapshot.SnapshotStore#write}.
     */
    public void begin() {
        long writes = settings.find(Settings.WRITES).map(Long::parseLong).orElse(0L) + 1;
        settings.keep(Settings.WRITES, String.valueOf(writes));
        written = mapper.last()
                .map(last -> new AuditHead.Head(last.number(), last.hash(), writes))
                .orElseGet(() -> new AuditHead.Head(0, START, writes));
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
     * Appends a sentence. Only within {@link lucid.server.snapshot.SnapshotStore#write}, which lets one writer in at a
     * time. Entries are in the order of their instants also when the clock went back: then they bear the instant of the
     * entry before them, and one of them says so.
     */
    public void append(AuditEntry.Kind kind, String subject, Principal who, String sentence) {
        Optional<AuditEntry> last = mapper.last();
        Instant now = clock.instant();
        Duration back = last.map(entry -> Duration.between(now, entry.at()))
                .filter(gap -> !gap.isNegative())
                .orElse(Duration.ZERO);
        if (back.compareTo(CLOCK_SET) <= 0) {
            toldClock = false;
        } else if (!toldClock) {
            toldClock = true;
            LOG.warn("The clock of this machine is {} minutes behind the last entry of the record", back.toMinutes());
            last = Optional.of(
                    append(
                            last,
                            now,
                            AuditEntry.Kind.CLOCK,
                            "",
                            "Lucid Verdict",
                            "The server's clock went back to " + now + ", which is " + back.toMinutes()
                                    + " minutes before the last entry; until it has caught up, entries bear that entry's instant."));
        }
        append(last, now, kind, subject, nameOf(who), sentence);
    }

    /** As {@link #append(AuditEntry.Kind, String, Principal, String)}, of a decision that can be taken back. */
    public void append(AuditEntry.Kind kind, String subject, Principal who, String sentence, AuditEntry.About about) {
        append(kind, subject, who, sentence);
        mapper.appendAbout(written.number(), about);
    }

    /** By which the record knows who did something; the framework wraps who signed in. */
    public static String nameOf(Principal who) {
        Object author = who instanceof Authentication signedIn ? signedIn.getPrincipal() : who;
        return author instanceof RecordAuthor known ? known.recordName() : who.getName();
    }

    private AuditEntry append(
            Optional<AuditEntry> last,
            Instant now,
            AuditEntry.Kind kind,
            String subject,
            String author,
            String sentence) {
        Instant at =
                last.map(AuditEntry::at).filter(before -> before.isAfter(now)).orElse(now);
        String kept =
                sentence.length() <= LONGEST_SENTENCE ? sentence : sentence.substring(0, LONGEST_SENTENCE - 1) + "…";
        AuditEntry bare =
                new AuditEntry(last.map(AuditEntry::number).orElse(0L) + 1, at, author, kind, subject, kept, "");
        AuditEntry entry = new AuditEntry(
                bare.number(),
                at,
                author,
                kind,
                subject,
                kept,
                hash(last.map(AuditEntry::hash).orElse(START), bare));
        mapper.append(entry);
        written = new AuditHead.Head(entry.number(), entry.hash(), written.writes());
        return entry;
    }

    /** When the first entry was made; empty while there is none. */
    public Optional<Instant> begun() {
        return mapper.after(0, 1).stream().map(AuditEntry::at).findFirst();
    }

    /** What was recorded of an update from an instant on, the earliest first; at most so many. */
    public List<AuditEntry> since(String subject, Instant from, int most) {
        return mapper.page(new AuditMapper.Question(subject, null, null, from, null, null), null, most).stream()
                .sorted(Comparator.comparing(AuditEntry::number))
                .toList();
    }

    /** What was recorded of anything from an instant on, the earliest first; of more than so many the newest. */
    public List<AuditEntry> since(Instant from, int most) {
        return mapper.page(new AuditMapper.Question(null, null, null, from, null, null), null, most).stream()
                .sorted(Comparator.comparing(AuditEntry::number))
                .toList();
    }

    /** A head that cannot be kept is behind, which is no loss: the next one takes its place. */
    private void keep(AuditHead.Head head) {
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
    public static Verification verify(DataSource source) {
        Configuration configuration =
                new Configuration(new Environment("verify", new JdbcTransactionFactory(), source));
        configuration.setArgNameBasedConstructorAutoMapping(true);
        configuration.addMapper(AuditMapper.class);
        try (SqlSession session =
                new SqlSessionFactoryBuilder().build(configuration).openSession()) {
            return verify(session.getMapper(AuditMapper.class));
        }
    }

    private static Verification verify(AuditMapper mapper) {
        String hash = START;
        long number = 0;
        for (List<AuditEntry> page = mapper.after(0, PAGE); !page.isEmpty(); page = mapper.after(number, PAGE)) {
            for (AuditEntry entry : page) {
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
    private static boolean follows(String before, AuditEntry e) {
        boolean whole = Stream.of(e.at(), e.author(), e.kind(), e.subject(), e.sentence(), e.hash())
                .noneMatch(Objects::isNull);
        return whole && e.hash().equals(hash(before, e));
    }

    private static String hash(String before, AuditEntry e) {
        return Digests.sha256(JSON.writeValueAsString(
                List.of(before, e.number(), e.at().toString(), e.author(), e.kind(), e.subject(), e.sentence())));
    }
}
