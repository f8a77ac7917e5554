package lucid.server.days;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Optional;
import lucid.server.audit.AuditLog;
import lucid.server.clock.ClockMoved;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.Views;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Counts and keeps each day once it has ended. */
@Component
class DayCare {

    private static final Logger LOG = LoggerFactory.getLogger(DayCare.class);

    private final SnapshotStore store;
    private final KeptDays days;
    private final AuditLog record;
    private final Clock clock;
    private LocalDate kept;

    DayCare(SnapshotStore store, KeptDays days, AuditLog record, Clock clock) {
        this.record = record;
        this.store = store;
        this.days = days;
        this.clock = clock;
    }

    @EventListener
    void onMoved(ClockMoved moved) {
        look();
    }

    @Scheduled(fixedDelay = 5_000)
    synchronized void look() {
        Instant now = clock.instant();
        LocalDate ended = LocalDate.ofInstant(now, ZoneOffset.UTC).minusDays(1);
        Snapshot snapshot = store.snapshot();
        if (ended.equals(kept) || snapshot.fleet().all().isEmpty()) {
            return;
        }
        try {
            Optional<LocalDate> last = days.last();
            Instant end = Views.endOfDay(ended, ZoneOffset.UTC);
            if (last.isPresent() ? last.get().isBefore(ended) : wasKnownAt(end, snapshot)) {
                // Counting takes a while with a large fleet; the writer is kept waiting for the rows only.
                KeptDays.Count count = days.count(snapshot, ended, end, now);
                store.write(present -> {
                    days.keep(count);
                    return new SnapshotStore.Change<>(present, true);
                });
            }
            kept = ended;
        } catch (ProblemException e) {
            LOG.warn("{} could not be kept, and is tried again: {}", ended, e.getMessage());
        }
    }

    /**
     * What the first hosts report today, or what older reports are brought today, says nothing of what was known
     * before.
     */
    private boolean wasKnownAt(Instant end, Snapshot snapshot) {
        return record.begun().filter(begun -> begun.isBefore(end)).isPresent()
                && snapshot.fleet().hosts(snapshot.fleet().all()).anyMatch(host -> host.lastReport()
                        .isBefore(end));
    }
}
