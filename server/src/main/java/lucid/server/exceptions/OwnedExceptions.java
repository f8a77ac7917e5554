package lucid.server.exceptions;

import java.security.Principal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ExceptionGrant;
import lucid.server.access.KnownPeople;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.responsibilities.Responsibility;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import org.springframework.stereotype.Component;

/** Exceptions have an owner, who answers for them. */
@Component
class OwnedExceptions implements Responsibility {

    private final SnapshotStore store;
    private final ExceptionMapper mapper;

    OwnedExceptions(SnapshotStore store, ExceptionMapper mapper) {
        this.store = store;
        this.mapper = mapper;
    }

    @Override
    public List<Held> of(Snapshot snapshot, String person, Instant now) {
        return owned(snapshot, person, now).stream()
                .map(exception -> new Held(
                        "Exception no. " + exception.number() + " on " + ExceptionMapper.wordsOf(exception.scope())
                                + " where " + exception.hosts() + ", until "
                                + ExceptionWords.lastDay(exception.until(), exception.hosts(), snapshot.fleet()),
                        "/exceptions?at=" + exception.number()))
                .toList();
    }

    @Override
    public HandedOver handOver(Snapshot snapshot, String from, String to, Principal who, Instant now) {
        Snapshot next = snapshot;
        List<Long> handed = new ArrayList<>();
        for (ExceptionGrant exception : owned(snapshot, from, now)) {
            DecisionNumber.OfException number = next.decisions().nextException();
            ExceptionGrant after = exception.handedTo(number, to, now);
            mapper.takeBack(exception.number().value(), now);
            mapper.add(ExceptionMapper.Row.of(after));
            next = next.with(next.decisions().withAll(List.of(exception.revoked(now), after)));
            handed.add(number.value());
            store.record(
                    AuditEntry.Kind.EXCEPTION,
                    ExceptionWords.subject(after),
                    who,
                    "Handed the exception on " + ExceptionMapper.wordsOf(after.scope()) + " where " + after.hosts()
                            + " over from " + exception.owner() + " to " + to + ".",
                    Revocable.Kind.RENEWAL.about(number.value()));
        }
        return new HandedOver(next, Revocable.Kind.RENEWAL, handed);
    }

    private static List<ExceptionGrant> owned(Snapshot snapshot, String person, Instant now) {
        return snapshot.decisions().exceptions().stream()
                .filter(exception -> exception.standsAt(now) && KnownPeople.areSame(exception.owner(), person))
                .toList();
    }
}
