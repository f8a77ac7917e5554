package lucid.server.clock;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import lucid.server.access.Caller;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.Disk;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.snapshot.Topic;
import lucid.server.web.ProblemException;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What time it is for the server; in the demo it can be moved forward. */
@RestController
@RequestMapping("/api/clock")
class ClockController {

    private final MovableClock clock;
    private final SnapshotStore store;
    private final Disk disk;
    private final ApplicationEventPublisher events;
    private final boolean movable;

    ClockController(
            MovableClock clock,
            SnapshotStore store,
            Disk disk,
            ApplicationEventPublisher events,
            @Value("${lucid.demo:false}") boolean movable) {
        this.clock = clock;
        this.disk = disk;
        this.store = store;
        this.events = events;
        this.movable = movable;
    }

    /**
     * @param movable true in the demo
     * @param refusal why nothing is written now, if so
     */
    record ClockReading(Instant now, boolean movable, Optional<String> refusal) {}

    /** @param hours from 1 to 8784 */
    record Advance(int hours) {}

    @GetMapping
    ClockReading read() {
        return new ClockReading(clock.instant(), movable, disk.refusal());
    }

    @PostMapping("/advances")
    ClockReading advance(@RequestBody Advance advance, Authentication who) {
        if (!movable) {
            throw new ProblemException(HttpStatus.CONFLICT, "hours", "the clock can be moved in the demo only");
        }
        if (advance.hours() < 1 || advance.hours() > 8784) {
            throw ProblemException.badField("hours", "the clock moves forward by 1 to 8784 hours");
        }
        // The player of the demo's history moves it 90 times; only what a person does belongs into the record.
        store.write(snapshot -> {
            if (who.getPrincipal() instanceof Caller.Person) {
                store.record(
                        AuditEntry.Kind.CLOCK,
                        "",
                        who,
                        "The demo's clock was moved forward by " + advance.hours()
                                + (advance.hours() == 1 ? " hour." : " hours."));
            }
            clock.advance(Duration.ofHours(advance.hours()));
            return new SnapshotStore.Change<>(snapshot, true);
        });
        events.publishEvent(new ClockMoved());
        // Time changes everything.
        events.publishEvent(new SnapshotStore.Changed(Topic.ALL));
        return read();
    }
}
