package lucid.core.fleet;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a host says of itself at one instant: its whole inventory, not a change.
 *
 * @param at instant at which the host took the inventory
 * @param events what happened on it with updates, each at its own instant
 */
public record HostReport(
        String name,
        String platform,
        Instant at,
        Map<String, Trait> traits,
        List<InstalledProduct> products,
        Optional<String> supply,
        Optional<Instant> lastStart,
        List<Event> events) {

    /** An outcome as the host tells it; see {@link Outcome}. */
    public record Event(String updateId, Optional<String> revision, Outcome.What what, Instant at, Optional<String> code, Optional<FailureClass> failureClass) {
        public Outcome on(int host) {
            return new Outcome(host, updateId, revision, what, at, code, failureClass);
        }
    }

    /** The same report with other traits. */
    public HostReport with(Map<String, Trait> otherTraits) {
        return new HostReport(name, platform, at, otherTraits, products, supply, lastStart, events);
    }
}
