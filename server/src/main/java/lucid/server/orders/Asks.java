package lucid.server.orders;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import lucid.core.fleet.Host;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.stereotype.Component;

/** Hosts that somebody asked to report at once: their orders say so until they have. */
@Component
public class Asks {

    /**
     * @param by name of who asked
     * @param before the last report of the host before it was asked, by the host's own clock
     */
    public record Ask(Instant at, String by, Instant before) {

        /** True after the next report, whatever is wrong with the host's clock. */
        public boolean isAnsweredBy(Host host) {
            return host.lastReport().isAfter(before);
        }
    }

    /** Told after these hosts have been asked. */
    record Asked(RoaringBitmap hosts) {}

    private final AskMapper mapper;
    private final SnapshotStore store;
    private final ApplicationEventPublisher events;
    private final Clock clock;
    private final Map<Integer, Ask> asks = new ConcurrentHashMap<>();

    Asks(AskMapper mapper, SnapshotStore store, ApplicationEventPublisher events, Clock clock) {
        this.mapper = mapper;
        this.store = store;
        this.events = events;
        this.clock = clock;
        mapper.all().forEach(row -> asks.put(row.host(), new Ask(row.askedAt(), row.askedBy(), row.reportedBefore())));
    }

    /** When a host was last asked, and by whom. */
    public Optional<Ask> of(Host host) {
        return Optional.ofNullable(asks.get(host.number()));
    }

    /** When a host was asked that has not reported since. */
    Optional<Instant> open(Host host) {
        return of(host).filter(ask -> !ask.isAnsweredBy(host)).map(Ask::at);
    }

    /** Asks hosts to report at once; who waits for orders hears it now, others as they next ask. */
    public void ask(List<Host> hosts, Principal who) {
        Instant now = clock.instant().truncatedTo(ChronoUnit.MILLIS);
        RoaringBitmap numbers = new RoaringBitmap();
        hosts.forEach(host -> numbers.add(host.number()));
        store.write(snapshot -> {
            hosts.forEach(
                    host -> mapper.keep(new AskMapper.AskRow(host.number(), now, who.getName(), host.lastReport())));
            store.record(
                    AuditEntry.Kind.HOSTS,
                    hosts.size() == 1 ? hosts.get(0).name().value() : "",
                    who,
                    "Asked " + (hosts.size() == 1 ? "the host " + hosts.get(0).name() : hosts.size() + " hosts")
                            + " to report at once.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
        hosts.forEach(host -> asks.put(host.number(), new Ask(now, who.getName(), host.lastReport())));
        events.publishEvent(new Asked(numbers));
    }
}
