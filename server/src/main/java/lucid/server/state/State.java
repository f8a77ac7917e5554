package lucid.server.state;

import java.security.Principal;
import java.util.Optional;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;
import lucid.server.record.RecordChain;
import lucid.server.record.RecordEntry;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;
import tools.jackson.core.type.TypeReference;

/**
 * The current picture, and the only way to change it. A change is written to the database and the record in one transaction; only
 * after its commit does the next picture take the place of the last. One writer at a time; readers never wait.
 */
@Component
public class State {

    /** What a change makes: the next picture, and what to answer. */
    public record Written<T>(Picture next, T answer) {}

    /** Something was written; told after its commit. */
    public record Changed() {}

    private final ReentrantLock writing = new ReentrantLock();
    private final TransactionTemplate transaction;
    private final RecordChain record;
    private final Disk disk;
    private final AnsweredRequests answered;
    private final ApplicationEventPublisher events;
    private volatile Picture current;

    State(TransactionTemplate transaction, RecordChain record, Disk disk, AnsweredRequests answered, ApplicationEventPublisher events, Rebuild rebuild) {
        this.transaction = transaction;
        this.record = record;
        this.disk = disk;
        this.answered = answered;
        this.events = events;
        this.current = rebuild.fromStorage();
    }

    public Picture picture() {
        return current;
    }

    /**
     * Carries out one change. If it throws, nothing of it is kept.
     *
     * @throws lucid.server.web.ProblemException 507 if there is no room left to write
     */
    public <T> T write(Function<Picture, Written<T>> change) {
        return write(0, change);
    }

    private <T> T write(long bytes, Function<Picture, Written<T>> change) {
        writing.lock();
        try {
            disk.requireRoom(bytes);
            Written<T> written = transaction.execute(status -> {
                record.begin();
                return change.apply(current);
            });
            current = written.next();
            events.publishEvent(new Changed());
            return written.answer();
        } catch (RuntimeException e) {
            throw disk.explained(e);
        } finally {
            writing.unlock();
        }
    }

    /**
     * As {@link #write}, but the same request again gets the answer of the first time and changes nothing.
     *
     * @param request empty if its sender named no key
     * @param bytes length of a document that is to be kept, else 0
     * @throws lucid.server.web.ProblemException 422 if the key was used for another request
     */
    public <T> T writeOnce(Optional<RequestKey> request, long bytes, TypeReference<T> type, Function<Picture, Written<T>> change) {
        if (request.isEmpty()) {
            return write(bytes, change);
        }
        return write(bytes, picture -> {
            Optional<T> known = answered.find(request.get(), type);
            if (known.isPresent()) {
                return new Written<>(picture, known.get());
            }
            Written<T> written = change.apply(picture);
            answered.keep(request.get(), written.answer());
            return written;
        });
    }

    /** Appends a sentence to the record, in the transaction of {@link #write}. */
    public void record(RecordEntry.Kind kind, String subject, Principal who, String sentence) {
        record.append(kind, subject, who, sentence);
    }
}
