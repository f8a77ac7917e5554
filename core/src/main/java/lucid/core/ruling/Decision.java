package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;

/**
 * What a person decided about an update for some hosts: a {@link Verdict}, an exception, a freeze, the fleet's caution,
 * or that it is left to the rule.
 */
public sealed interface Decision permits Verdict, ExceptionGrant, Acknowledgement, Freeze, Caution {

    DecisionNumber number();

    /** When it was made. */
    Instant createdAt();

    Optional<Instant> revokedAt();

    /**
     * True for the hosts that it is for, whatever they carry.
     *
     * @param entry the entry of the ladder to which the host belongs
     */
    boolean covers(Host host, Population entry);

    /** True from when it was made until it was taken back. */
    default boolean isMadeBy(Instant instant) {
        return !createdAt().isAfter(instant)
                && revokedAt().filter(t -> !t.isAfter(instant)).isEmpty();
    }
}
