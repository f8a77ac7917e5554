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
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/**
 * Secret addresses of one's own, by which another program reads one thing and nothing else; shown once, and revoked
 * when one wants.
 */
@RestController
@RequestMapping("/api/addresses/{use}")
class AddressController {

    private final AccessService access;
    private final SnapshotStore store;

    AddressController(AccessService access, SnapshotStore store) {
        this.access = access;
        this.store = store;
    }

    enum Use {
        CALENDAR(Scope.CALENDAR, "/api/calendar", "a calendar of what is in force"),
        SLOTS(Scope.SLOTS, "/api/operator-work/calendar", "a calendar of agreed slots"),
        FEED(Scope.FEED, "/api/record/feed", "a feed of the record");

        private final Scope scope;
        private final String path;
        private final String words;

        Use(Scope scope, String path, String words) {
            this.scope = scope;
            this.path = path;
            this.words = words;
        }
    }

    /** @param since when the address was made; empty if there is none */
    record AddressSince(Optional<Instant> since) {}

    /** @param path with the secret in it, to be put behind the address of this server */
    record Address(String path) {}

    @GetMapping
    AddressSince since(@PathVariable Use use, @AuthenticationPrincipal Caller.Person person) {
        return new AddressSince(access.addressSince(person, use.scope));
    }

    /** Makes an address; one that was made before opens nothing any more. */
    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Address make(@PathVariable Use use, @AuthenticationPrincipal Caller.Person person) {
        return store.write(snapshot -> {
            String secret = access.makeAddress(person, use.scope);
            store.record(AuditEntry.Kind.ACCESS, "", person, "Made the address of " + use.words + ".");
            return new SnapshotStore.Change<>(snapshot, new Address(use.path + "?key=" + secret));
        });
    }

    @DeleteMapping
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void revoke(@PathVariable Use use, @AuthenticationPrincipal Caller.Person person) {
        store.write(snapshot -> {
            if (!access.revokeAddress(person, use.scope)) {
                throw ProblemException.notFound("there is no address of " + use.words);
            }
            store.record(AuditEntry.Kind.ACCESS, "", person, "Revoked the address of " + use.words + ".");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }
}
