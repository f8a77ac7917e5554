package lucid.server.clock;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicReference;
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
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/**
 * What time it is for the server; in the demo it can be moved forward. Where somebody plays the hosts of the demo, the
 * clock goes step by step and waits at each until they have lived through it; else it jumps.
 */
@RestController
@RequestMapping("/api/clock")
class ClockController {

    private static final Duration DAY = Duration.ofDays(1);
    private static final Duration WEEK = Duration.ofDays(7);
    /** A player that was not heard of for so long, by the system's clock, plays no more. */
    private static final Duration PLAYER_GONE = Duration.ofMinutes(1);
    /** While the clock goes on, whoever looks on is told no more often, by the system's clock. */
    private static final Duration BETWEEN_NEWS = Duration.ofSeconds(2);

    private final MovableClock clock;
    private final SnapshotStore store;
    private final Disk disk;
    private final ApplicationEventPublisher events;
    private final boolean movable;
    private final AtomicReference<Optional<Journey>> journey = new AtomicReference<>(Optional.empty());
    /** By the system's clock. */
    private volatile Instant playerSeen = Instant.MIN;

    private volatile Instant lastNews = Instant.MIN;

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

    /** From where to where the clock goes on, step by step. */
    record Journey(Instant from, Instant to) {
        Duration step() {
            Duration whole = Duration.between(from, to);
            return Duration.ofHours(whole.compareTo(DAY) <= 0 ? 1 : whole.compareTo(WEEK) <= 0 ? 4 : 12);
        }
    }

    /**
     * @param movable true in the demo
     * @param refusal why nothing is written now, if so
     * @param journey if it goes on step by step now
     */
    record ClockReading(Instant now, boolean movable, Optional<String> refusal, Optional<Journey> journey) {}

    /** @param hours from 1 to 8784 */
    record Advance(int hours) {}

    @GetMapping
    ClockReading read() {
        return new ClockReading(clock.instant(), movable, disk.refusal(), journey.get());
    }

    @PostMapping("/advances")
    ClockReading advance(@RequestBody Advance advance, Authentication who) {
        requireMovable();
        if (advance.hours() < 1 || advance.hours() > 8784) {
            throw ProblemException.badField("hours", "the clock moves forward by 1 to 8784 hours");
        }
        Duration by = Duration.ofHours(advance.hours());
        // The player of the demo's history moves it 90 times; only what a person does belongs into the record.
        if (who.getPrincipal() instanceof Caller.Person) {
            store.write(snapshot -> {
                store.record(
                        AuditEntry.Kind.CLOCK,
                        "",
                        who,
                        "The demo's clock was moved forward by " + advance.hours()
                                + (advance.hours() == 1 ? " hour." : " hours."));
                return new SnapshotStore.Change<>(snapshot, true);
            });
            if (isPlayed()) {
                Instant now = clock.instant();
                journey.updateAndGet(under -> Optional.of(new Journey(
                        under.map(Journey::from).orElse(now),
                        under.map(Journey::to).orElse(now).plus(by))));
                events.publishEvent(new SnapshotStore.Changed(Set.of(Topic.RECORD)));
                return read();
            }
        }
        move(by);
        journey.set(Optional.empty());
        tell();
        return read();
    }

    /** Lets the clock stand where it is now. */
    @DeleteMapping("/advances")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void stop() {
        requireMovable();
        journey.set(Optional.empty());
        tell();
    }

    /**
     * Whoever plays the hosts has played them up to now, and asks for the next step, if one is wanted. It has come to
     * where it was wanted only once the hosts have lived through the last step too.
     */
    @PostMapping("/steps")
    ClockReading step() {
        requireMovable();
        playerSeen = Instant.now();
        journey.get().ifPresent(under -> {
            Duration left = Duration.between(clock.instant(), under.to());
            boolean there = left.isNegative() || left.isZero();
            if (there) {
                // Unless somebody wants it to go on further meanwhile.
                journey.updateAndGet(now -> now.filter(wanted -> !wanted.equals(under)));
            } else {
                // Some seconds pass by themselves while a step is played.
                move(left.compareTo(under.step().plusMinutes(1)) <= 0 ? left : under.step());
            }
            if (there || Duration.between(lastNews, Instant.now()).compareTo(BETWEEN_NEWS) > 0) {
                tell();
            }
        });
        return read();
    }

    private void requireMovable() {
        if (!movable) {
            throw new ProblemException(HttpStatus.CONFLICT, "hours", "the clock can be moved in the demo only");
        }
    }

    private boolean isPlayed() {
        return Duration.between(playerSeen, Instant.now()).compareTo(PLAYER_GONE) < 0;
    }

    private void move(Duration by) {
        store.write(snapshot -> {
            clock.advance(by);
            return new SnapshotStore.Change<>(snapshot, true);
        });
        events.publishEvent(new ClockMoved());
    }

    /** Time changes everything. */
    private void tell() {
        lastNews = Instant.now();
        events.publishEvent(new SnapshotStore.Changed(Topic.ALL));
    }
}
