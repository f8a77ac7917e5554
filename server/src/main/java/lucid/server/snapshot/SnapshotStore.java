package lucid.server.snapshot;

import java.security.Principal;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.AuditLog;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * The current snapshot, and the only way to change it. A change is written to the database and the record in one
 * transaction; only after its commit does the next snapshot take the place of the last. One writer at a time; readers
 * never wait.
 */
@Component
public class SnapshotStore {

    /** What a change makes: the next snapshot, and what to answer. */
    public record Change<T>(Snapshot next, T answer) {}

    /** Something was written; told after its commit. */
    public record Changed(Set<Topic> topics) {}

    private static final Logger LOG = LoggerFactory.getLogger(SnapshotStore.class);

    private final ReentrantLock writing = new ReentrantLock();
    private final TransactionTemplate transaction;
    private final AuditLog record;
    private final Disk disk;
    private final AnsweredRequests answered;
    private final ApplicationEventPublisher events;
    private volatile Snapshot current;

    SnapshotStore(
            TransactionTemplate transaction,
            AuditLog record,
            Disk disk,
            AnsweredRequests answered,
            ApplicationEventPublisher events,
            SnapshotLoader loader) {
        this.transaction = transaction;
        this.record = record;
        this.disk = disk;
        this.answered = answered;
        this.events = events;
        this.current = loader.fromStorage();
    }

    public Snapshot snapshot() {
        return current;
    }

    /**
     * Carries out one change. If it throws, nothing of it is kept.
     *
     * @throws lucid.server.web.ProblemException 507 if there is no room left to write
     */
    public <T> T write(Function<Snapshot, Change<T>> change) {
        return write(0, change);
    }

    private <T> T write(long bytes, Function<Snapshot, Change<T>> change) {
        writing.lock();
        WriteTurn turn = new WriteTurn();
        turn.begin();
        try {
            disk.requireRoom(bytes);
            Change<T> written = transaction.execute(status -> {
                record.begin();
                return change.apply(current);
            });
            Snapshot before = current;
            current = written.next();
            tell(Topic.between(before, current));
            return written.answer();
        } catch (RuntimeException e) {
            throw disk.explained(e);
        } finally {
            turn.commit();
            writing.unlock();
        }
    }

    /** It is committed, whatever becomes of those who hear of it. */
    private void tell(Set<Topic> topics) {
        try {
            events.publishEvent(new Changed(topics));
        } catch (RuntimeException e) {
            LOG.error("Something that was written was not told to everybody", e);
        }
    }

    /**
     * As {@link #write}, but the same request again gets the answer of the first time and changes nothing.
     *
     * @param request empty if its sender named no key
     * @param bytes length of a document that is to be kept, else 0
     * @throws lucid.server.web.ProblemException 422 if the key was used for another request
     */
    public <T> T writeOnce(
            Optional<RequestKey> request, long bytes, Class<T> type, Function<Snapshot, Change<T>> change) {
        if (request.isEmpty()) {
            return write(bytes, change);
        }
        return write(bytes, snapshot -> {
            Optional<T> known = answered.find(request.get(), type);
            if (known.isPresent()) {
                return new Change<>(snapshot, known.get());
            }
            Change<T> written = change.apply(snapshot);
            answered.keep(request.get(), written.answer());
            return written;
        });
    }

    /** What the same request was answered, if it was carried out before. */
    public <T> Optional<T> answered(RequestKey request, Class<T> type) {
        return answered.find(request, type);
    }

    /** Appends a sentence to the record, in the transaction of {@link #write}. */
    public void record(AuditEntry.Kind kind, String subject, Principal who, String sentence) {
        record.append(kind, subject, who, sentence);
    }

    /** As {@link #record(AuditEntry.Kind, String, Principal, String)}, of a decision that can be taken back. */
    public void record(AuditEntry.Kind kind, String subject, Principal who, String sentence, AuditEntry.About about) {
        record.append(kind, subject, who, sentence, about);
    }
}
