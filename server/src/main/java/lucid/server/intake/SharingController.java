package lucid.server.intake;

import java.security.Principal;
import lucid.core.update.SharingLevel;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Up to which level documents may be shown here. */
@RestController
@RequestMapping("/api/sharing-level")
class SharingController {

    private final SharingLimit limit;
    private final SnapshotStore store;

    SharingController(SharingLimit limit, SnapshotStore store) {
        this.limit = limit;
        this.store = store;
    }

    record Allowed(SharingLevel level) {}

    @GetMapping
    Allowed allowed() {
        return new Allowed(limit.allowed());
    }

    /** What was held because of its level can be tried again from then on; what was taken before stays. */
    @PutMapping
    Allowed allow(@RequestBody Allowed allowed, Principal who) {
        if (allowed.level() == null) {
            throw ProblemException.badField("level", "choose a level");
        }
        store.write(snapshot -> {
            limit.allow(allowed.level());
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    who,
                    "Documents may be shown here up to TLP:" + allowed.level().word() + ".");
            return new SnapshotStore.Change<>(snapshot, true);
        });
        return allowed();
    }
}
