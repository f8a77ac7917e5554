package lucid.server.access;

import java.time.Instant;
import java.util.Optional;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** The secret address of one's own calendar of what is in force; shown once, and revoked when one wants. */
@RestController
@RequestMapping("/api/calendar-address")
class CalendarAddressController {

    private final AccessService access;
    private final SnapshotStore store;

    CalendarAddressController(AccessService access, SnapshotStore store) {
        this.access = access;
        this.store = store;
    }

    /** @param since when the address was made; empty if there is none */
    record CalendarSince(Optional<Instant> since) {}

    /** @param path with the secret in it, to be put behind the address of this server */
    record CalendarAddress(String path) {}

    @GetMapping
    CalendarSince since(@AuthenticationPrincipal Caller.Person person) {
        return new CalendarSince(access.calendarSince(person));
    }

    /** Makes an address; one that was made before opens nothing any more. */
    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    CalendarAddress make(@AuthenticationPrincipal Caller.Person person) {
        return store.write(snapshot -> {
            String secret = access.makeCalendar(person);
            store.record(AuditEntry.Kind.ACCESS, "", person, "Made the address of a calendar of what is in force.");
            return new SnapshotStore.Change<>(snapshot, new CalendarAddress("/api/calendar?key=" + secret));
        });
    }

    @DeleteMapping
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void revoke(@AuthenticationPrincipal Caller.Person person) {
        store.write(snapshot -> {
            if (!access.revokeCalendar(person)) {
                throw ProblemException.notFound("there is no address of a calendar");
            }
            store.record(AuditEntry.Kind.ACCESS, "", person, "Revoked the address of a calendar of what is in force.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }
}
