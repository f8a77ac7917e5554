package lucid.server.operators;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.docket.Docket;
import lucid.core.fleet.HostName;
import lucid.core.operators.OperatorEntries;
import lucid.core.operators.OperatorEntry;
import lucid.core.operators.OperatorWork;
import lucid.core.update.Update;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.snapshot.Topic;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;

/**
 * What operators are to install, and what they have said of it and not taken back. That stands beside the snapshot:
 * nothing that is decided hangs on it.
 */
@Component
public class Operators {

    /** Told after something was said of these hosts, or taken back. */
    public record Said(RoaringBitmap hosts) {}

    private static final int MOST_NAMED = 5;
    private static final DateTimeFormatter DAY_TIME = DateTimeFormatter.ofPattern("EEE d MMM HH:mm", Locale.ENGLISH);
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("HH:mm", Locale.ENGLISH);

    private final OperatorEntryMapper mapper;
    private final SnapshotStore store;
    private final ApplicationEventPublisher events;
    private final Clock clock;
    private volatile OperatorEntries said;

    Operators(OperatorEntryMapper mapper, SnapshotStore store, ApplicationEventPublisher events, Clock clock) {
        this.mapper = mapper;
        this.store = store;
        this.events = events;
        this.clock = clock;
        read();
    }

    private synchronized void read() {
        said = new OperatorEntries(mapper.standing().stream()
                .map(OperatorEntryMapper.EntryRow::entry)
                .toList());
    }

    /** What was said and not taken back. */
    public OperatorEntries said() {
        return said;
    }

    /** What there is to do on the hosts of a snapshot; content, which changes every day, is left out. */
    public List<OperatorWork> work(Snapshot snapshot) {
        return work(snapshot.catalogue().updates(), snapshot);
    }

    List<OperatorWork> work(Collection<Update> updates, Snapshot snapshot) {
        return OperatorWork.of(
                updates.stream().filter(update -> !Docket.isNoise(update)).toList(),
                snapshot.carriages(),
                snapshot.decisions(),
                said,
                clock.instant());
    }

    /** @param undo address to which a DELETE takes it back */
    record OperatorSaid(long number, String undo) {}

    /**
     * Keeps what was said of hosts that have the update to do.
     *
     * @param seen the snapshot that its author may see
     * @throws ProblemException 409 if the update has another revision by now, 422 naming the field
     */
    OperatorSaid say(OperatorEntryDraft draft, Optional<RequestKey> key, Principal who, Snapshot seen) {
        Instant now = clock.instant();
        draft.requireSensible(now);
        Update update = seen.update(draft.update());
        if (!update.revision().equals(draft.revision())) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "revision",
                    update.id() + " has come in revision " + update.revision() + " since; read it again");
        }
        Map<HostName, OperatorWork> toDo = new HashMap<>();
        RoaringBitmap hosts = new RoaringBitmap();
        work(List.of(update), seen).forEach(work -> work.hosts().forEach(one -> {
            toDo.put(one.host().name(), work);
            if (draft.hosts().contains(one.host().name())) {
                hosts.add(one.host().number());
            }
        }));
        List<HostName> other =
                draft.hosts().stream().filter(name -> !toDo.containsKey(name)).toList();
        if (!other.isEmpty()) {
            throw ProblemException.badField(
                    "hosts", "nobody is to install " + update.id() + " by hand on " + names(other) + " now");
        }
        ZoneId zone = toDo.get(draft.hosts().get(0)).population().zone();
        OperatorSaid answer = store.writeOnce(key, 0, OperatorSaid.class, snapshot -> {
            OperatorEntry entry = new OperatorEntry(
                    mapper.next(),
                    update.id(),
                    update.revision(),
                    hosts,
                    draft.agreed(),
                    draft.words(),
                    who.getName(),
                    now);
            mapper.add(OperatorEntryMapper.EntryRow.of(entry));
            store.record(AuditEntry.Kind.HOSTS, update.id().value(), who, sentence(entry, draft.hosts(), zone));
            return new SnapshotStore.Change<>(
                    snapshot, new OperatorSaid(entry.number(), "/api/operator-work/entries/" + entry.number()));
        });
        tell(hosts);
        return answer;
    }

    /**
     * As if it had not been said; what was said before counts again.
     *
     * @param seen the snapshot that whoever takes it back may see: of all its hosts
     * @throws ProblemException 404 if there is none, 409 if it was taken back before
     */
    void takeBack(long number, Principal who, Snapshot seen) {
        OperatorEntry entry = said.entry(number)
                .filter(one -> seen.fleet().all().contains(one.hosts()))
                .orElseThrow(() -> ProblemException.notFound("nothing stands that was said as number " + number));
        Instant now = clock.instant();
        store.write(snapshot -> {
            if (mapper.takeBack(number, now) == 0) {
                throw new ProblemException(HttpStatus.CONFLICT, "number", "it was taken back before");
            }
            store.record(
                    AuditEntry.Kind.TAKEN_BACK,
                    entry.updateId().value(),
                    who,
                    "Took back " + (entry.isDone() ? "that it is done" : "the slot") + " on "
                            + hosts(entry.hosts().getCardinality()) + ", as " + entry.author() + " had said.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
        tell(entry.hosts());
    }

    private void tell(RoaringBitmap hosts) {
        read();
        events.publishEvent(new Said(hosts));
        events.publishEvent(new SnapshotStore.Changed(Set.of(Topic.RECORD)));
    }

    private static String sentence(OperatorEntry entry, List<HostName> hosts, ZoneId zone) {
        return entry.slot()
                        .map(slot -> "Agreed to install it by hand on " + names(hosts) + ", " + words(slot, zone))
                        .orElseGet(() -> "Said that it was installed by hand on " + names(hosts))
                + (entry.words().isEmpty() ? "." : ": " + entry.words());
    }

    /** "Sun 13 Dec 02:00 to 05:00". */
    public static String words(OperatorEntry.Slot slot, ZoneId zone) {
        boolean sameDay = LocalDate.ofInstant(slot.from(), zone).equals(LocalDate.ofInstant(slot.until(), zone));
        return DAY_TIME.format(slot.from().atZone(zone)) + " to "
                + (sameDay ? TIME : DAY_TIME).format(slot.until().atZone(zone));
    }

    private static String hosts(int count) {
        return count == 1 ? "1 host" : count + " hosts";
    }

    private static String names(List<HostName> hosts) {
        return hosts.stream().limit(MOST_NAMED).map(HostName::value).collect(Collectors.joining(", "))
                + (hosts.size() > MOST_NAMED ? " and " + (hosts.size() - MOST_NAMED) + " more" : "");
    }
}
