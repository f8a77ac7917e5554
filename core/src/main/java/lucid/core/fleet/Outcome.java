package lucid.core.fleet;

import java.time.Instant;
import java.util.Optional;

/**
 * What happened with one update on one host.
 *
 * @param host number of the host
 * @param revision of the update, where told
 * @param code of a failure, where told
 * @param failureClass of a failure, where told
 */
public record Outcome(int host, String updateId, Optional<String> revision, What what, Instant at, Optional<String> code, Optional<FailureClass> failureClass) {

    public enum What {
        OFFERED, DOWNLOADED, INSTALLED, FAILED, REMOVED, RESTARTED;

        /** True for what tells whether the update is on the host; the others only lead up to it or follow. */
        boolean tellsState() {
            return this == INSTALLED || this == FAILED || this == REMOVED;
        }
    }
}
