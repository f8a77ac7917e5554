package lucid.core.forecast;

import java.time.Instant;
import java.util.Optional;

/**
 * What an offer will do on one host, as far as anybody can tell.
 *
 * @param offered when the ruling offers it
 * @param seen when the host hears of it and downloads; none: it is away, and nobody knows until when
 * @param due none: never, or it is away
 * @param installed none: not foreseen, because a person or an operator begins, no window comes, or it is away
 * @param restarted none: not needed, or not foreseen
 * @param inBusyHours true if it is foreseen to be installed or restarted in busy hours, because it is due
 * @param late true if it is foreseen to be in effect only after it is due, or not at all
 */
public record HostForecast(
        Instant offered,
        Optional<Instant> seen,
        Optional<Instant> due,
        Optional<Instant> installed,
        Optional<Instant> restarted,
        boolean inBusyHours,
        boolean late) {}
