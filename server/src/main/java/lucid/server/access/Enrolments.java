package lucid.server.access;

import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.HostName;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import org.springframework.stereotype.Component;

/** Takes in hosts: a token that is good for this once becomes the host's own. */
@Component
public class Enrolments {

    private final AccessService access;
    private final AccessMapper mapper;
    private final SnapshotStore store;

    Enrolments(AccessService access, AccessMapper mapper, SnapshotStore store) {
        this.access = access;
        this.mapper = mapper;
        this.store = store;
    }

    /** @param token the host's own, which cannot be read again */
    public record Enrolled(HostName host, String token) {}

    /**
     * Gives the host of a token for enrolment its own, of the same name; what it had before is void.
     *
     * @throws IllegalArgumentException if the caller has no such token
     */
    public Enrolled enrol(Caller caller) {
        if (!(caller instanceof Caller.Machine machine) || machine.scope() != Scope.ENROL) {
            throw new IllegalArgumentException("only a token for enrolment enrols a host");
        }
        HostName host = machine.onlyHost().orElseThrow();
        return store.write(snapshot -> {
            mapper.revokeToken(machine.tokenName());
            String token = access.addToken(
                    machine.tokenName(), Scope.HOST, Optional.of(host.value()), Optional.empty(), Set.of());
            store.record(AuditEntry.Kind.ACCESS, host.value(), caller, "The host " + host + " was enrolled.");
            return new SnapshotStore.Change<>(snapshot, new Enrolled(host, token));
        });
    }
}
