package lucid.server.exceptions;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ExceptionGrant;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.ByItself;
import lucid.server.clock.ClockMoved;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Ends exceptions that wait for something once that has happened: a successor is released, a known issue is fixed. What
 * ends with its day does so by itself; that is written into the record here.
 */
@Component
class ExceptionCare {

    private static final Logger LOG = LoggerFactory.getLogger(ExceptionCare.class);

    private final SnapshotStore store;
    private final ExceptionMapper mapper;
    private final Clock clock;
    private Snapshot seen;

    ExceptionCare(SnapshotStore store, ExceptionMapper mapper, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.clock = clock;
    }

    @EventListener
    void onMoved(ClockMoved moved) {
        look();
        tellLapsed();
    }

    @Scheduled(fixedDelay = 30_000)
    synchronized void tellLapsed() {
        if (mapper.lapsedUntold(clock.instant()).isEmpty()) {
            return;
        }
        try {
            store.write(snapshot -> {
                Instant now = clock.instant();
                mapper.lapsedUntold(now).stream()
                        .flatMap(number ->
                                snapshot.decisions().exception(new DecisionNumber.OfException(number)).stream())
                        .forEach(exception -> {
                            mapper.toldLapse(exception.number().value());
                            store.record(
                                    AuditEntry.Kind.EXCEPTION,
                                    ExceptionWords.subject(exception),
                                    ByItself.AUTHOR,
                                    "The exception on " + ExceptionMapper.wordsOf(exception.scope()) + " where "
                                            + exception.hosts() + " lapsed"
                                            + ExceptionWords.since(exception, snapshot, now)
                                            + "; owner " + exception.owner() + ".");
                        });
                return new SnapshotStore.Change<>(snapshot, true);
            });
        } catch (ProblemException e) {
            LOG.warn("That an exception lapsed could not be written, and is tried again: {}", e.getMessage());
        }
    }

    @Scheduled(fixedDelay = 1_000)
    synchronized void look() {
        Snapshot snapshot = store.snapshot();
        if (snapshot == seen) {
            return;
        }
        try {
            if (!toEnd(snapshot, clock.instant()).isEmpty()) {
                store.write(now -> end(now, clock.instant()));
            }
            seen = snapshot;
        } catch (ProblemException e) {
            LOG.warn("That an exception ends could not be written, and is tried again: {}", e.getMessage());
        }
    }

    private static List<ExceptionGrant> toEnd(Snapshot snapshot, Instant now) {
        return snapshot.decisions().exceptions().stream()
                .filter(exception ->
                        exception.standsAt(now) && exception.isToEnd(snapshot.catalogue(), snapshot.evidence()))
                .toList();
    }

    private SnapshotStore.Change<Boolean> end(Snapshot snapshot, Instant now) {
        List<ExceptionGrant> over = toEnd(snapshot, now);
        over.forEach(exception -> {
            mapper.endEarly(exception.number().value(), now);
            store.record(
                    AuditEntry.Kind.EXCEPTION,
                    ExceptionWords.subject(exception),
                    ByItself.AUTHOR,
                    "The exception on " + ExceptionMapper.wordsOf(exception.scope()) + " where " + exception.hosts()
                            + " ended before its day: "
                            + switch (exception.endsWhen().orElseThrow().type()) {
                                case SUCCESSOR -> "a successor is released";
                                case ISSUE_FIXED ->
                                    "the known issue "
                                            + exception.endsWhen().orElseThrow().issue() + " is fixed";
                            }
                            + "; owner " + exception.owner() + ".");
        });
        return new SnapshotStore.Change<>(
                snapshot.with(snapshot.decisions()
                        .withAll(over.stream().map(one -> one.ended(now)).toList())),
                true);
    }
}
