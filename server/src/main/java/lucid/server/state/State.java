package lucid.server.state;

import java.security.Principal;
import java.time.Clock;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;
import lucid.server.record.RecordEntry;
import lucid.server.record.RecordMapper;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * The current picture, and the only way to change it. A change is written to the database and the record in one transaction; only
 * after its commit does the next picture take the place of the last. One writer at a time; readers never wait.
 */
@Component
public class State {

    /** What a change makes: the next picture, and what to answer. */
    public record Written<T>(Picture next, T answer) {}

    private final ReentrantLock writing = new ReentrantLock();
    private final TransactionTemplate transaction;
    private final RecordMapper records;
    private final Clock clock;
    private volatile Picture current;

    State(TransactionTemplate transaction, RecordMapper records, Clock clock, Rebuild rebuild) {
        this.transaction = transaction;
        this.records = records;
        this.clock = clock;
        this.current = rebuild.fromStorage();
    }

    public Picture picture() {
        return current;
    }

    /** Carries out one change. If it throws, nothing of it is kept. */
    public <T> T write(Function<Picture, Written<T>> change) {
        writing.lock();
        try {
            Written<T> written = transaction.execute(status -> change.apply(current));
            current = written.next();
            return written.answer();
        } finally {
            writing.unlock();
        }
    }

    /** Appends a sentence to the record; within {@link #write} it belongs to the same transaction. */
    public void record(RecordEntry.Kind kind, String subject, Principal who, String sentence) {
        records.append(clock.instant(), who.getName(), kind, subject, sentence);
    }
}
