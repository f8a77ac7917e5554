package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;

/** What a person decided about an update for some hosts: a {@link Verdict}, an exception, or that it is left to the rule. */
public sealed interface Decision permits Verdict, ExceptionGrant, RuleAnswer {

    /** Its own among those of its kind; later ones are higher. */
    long number();

    /** When it was made. */
    Instant decided();

    Optional<Instant> takenBack();

    /**
     * True for the hosts that it is for, whatever they carry.
     *
     * @param entry the entry of the ladder to which the host belongs
     */
    boolean covers(Host host, Population entry);

    /** True from when it was made until it was taken back. */
    default boolean isMadeBy(Instant instant) {
        return !decided().isAfter(instant) && takenBack().filter(t -> !t.isAfter(instant)).isEmpty();
    }
}
