package lucid.core.fleet;

import java.time.Instant;
import java.util.Optional;
import lucid.core.update.UpdateId;

/**
 * What happened with one update on one host.
 *
 * @param host number of the host
 * @param revision of the update, where told
 * @param code of a failure, where told
 * @param failureClass of a failure, where told
 * @param before the product of the update that the host had when it tried, where known: afterwards only those that
 *     failed still show it
 */
public record Outcome(
        int host,
        UpdateId updateId,
        Optional<String> revision,
        What what,
        Instant at,
        Optional<String> code,
        Optional<FailureClass> failureClass,
        Optional<InstalledProduct> before) {

    /** As a host tells it. */
    public Outcome(
            int host,
            UpdateId updateId,
            Optional<String> revision,
            What what,
            Instant at,
            Optional<String> code,
            Optional<FailureClass> failureClass) {
        this(host, updateId, revision, what, at, code, failureClass, Optional.empty());
    }

    public Outcome with(Optional<InstalledProduct> had) {
        return new Outcome(host, updateId, revision, what, at, code, failureClass, had);
    }

    public enum What {
        OFFERED,
        DOWNLOADED,
        INSTALLED,
        FAILED,
        REMOVED,
        RESTARTED;

        /** True for what tells whether the update is on the host; the others only lead up to it or follow. */
        boolean tellsState() {
            return this == INSTALLED || this == FAILED || this == REMOVED;
        }
    }
}
