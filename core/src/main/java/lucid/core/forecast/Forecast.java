package lucid.core.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.function.Function;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;

/**
 * What an offer will do on the hosts of one population: when they hear of it, when it falls due, when they install and
 * restart.
 *
 * <p>A host hears of it at its first check-in. It installs at the first moment that its population allows; once it is
 * due, busy hours give way, windows do not. Due is the first instant, after the deadline and the time for a host that
 * was away, at which the host is there and has been back for that time; then the hour applies at which things fall due.
 */
public final class Forecast {

    /**
     * A due hour may fall into an absence, after which it is sought again; an absence a day is more than any host has.
     */
    private static final int MOST_ABSENCES = 400;

    private final Timing timing;
    private final Hours hours;
    private final Plan plan;

    /**
     * What is decided.
     *
     * @param offered when the ruling offers it
     * @param deadline when it is to be in effect; none: never due
     * @param allowance how long a host that was away has after its return
     * @param restart true if it takes effect only after a restart
     * @param outsideWindows true if it does not wait for a window once it is due
     * @param byOperator true if it begins on no host by itself, whatever its population says
     */
    public record Plan(
            Instant offered,
            Optional<Instant> deadline,
            Duration allowance,
            boolean restart,
            boolean outsideWindows,
            boolean byOperator) {

        public Plan(
                Instant offered,
                Optional<Instant> deadline,
                Duration allowance,
                boolean restart,
                boolean outsideWindows) {
            this(offered, deadline, allowance, restart, outsideWindows, false);
        }

        /** How it begins on hosts of a population with such a timing. */
        StartMode start(Timing timing) {
            return byOperator ? StartMode.BY_OPERATOR : timing.start();
        }
    }

    /** @param hours of the population, from the offer on */
    public Forecast(Timing timing, Hours hours, Plan plan) {
        this.timing = timing;
        this.hours = hours;
        this.plan = plan;
    }

    public HostForecast of(Presence presence) {
        Optional<Instant> seen = presence.checkIn(plan.offered());
        if (seen.isEmpty()) {
            return new HostForecast(
                    plan.offered(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    false,
                    false);
        }
        Optional<Instant> due = due(seen.get(), presence);
        Optional<Instant> installed =
                switch (plan.start(timing)) {
                    case BY_ITSELF -> asSoonAsAllowed(seen.get(), due, presence);
                    case BY_PERSON, AT_SHUTDOWN -> due.flatMap(at -> whenDue(later(at, seen.get()), presence));
                    case BY_OPERATOR -> Optional.empty();
                };
        Optional<Instant> restarted = plan.restart()
                ? installed.flatMap(from -> timing.earlyRestart()
                        ? asSoonAsAllowed(from, due, presence)
                        : due.flatMap(at -> whenDue(later(at, from), presence)))
                : Optional.empty();
        Optional<Instant> inEffect = plan.restart() ? restarted : installed;
        boolean byOperator = plan.start(timing) == StartMode.BY_OPERATOR;
        return new HostForecast(
                plan.offered(),
                seen,
                due,
                installed,
                restarted,
                installed.filter(hours::isBusy).isPresent()
                        || restarted.filter(hours::isBusy).isPresent(),
                due.isPresent()
                        && !byOperator
                        && inEffect.filter(at -> !at.isAfter(due.get())).isEmpty());
    }

    /**
     * When it may be in effect at the earliest, of what was foreseen: where a person begins, as the host hears of it;
     * where a restart waits until it is due, as it is installed, since a person may start the host anew. None: nobody
     * can tell.
     */
    public Optional<Instant> earliest(HostForecast foreseen) {
        return switch (plan.start(timing)) {
            case BY_OPERATOR -> Optional.empty();
            case BY_PERSON, AT_SHUTDOWN -> foreseen.seen();
            case BY_ITSELF -> plan.restart() && timing.earlyRestart() ? foreseen.restarted() : foreseen.installed();
        };
    }

    private Optional<Instant> due(Instant seen, Presence presence) {
        Optional<Instant> at = plan.deadline()
                .map(deadline -> later(deadline, seen.plus(plan.allowance())))
                .flatMap(from -> presence.thereFor(from, plan.allowance()));
        for (int absence = 0; absence < MOST_ABSENCES; absence++) {
            Optional<Instant> hour = at.map(timing::atDueHour);
            Optional<Instant> there = hour.flatMap(from -> presence.thereFor(from, plan.allowance()));
            if (there.equals(hour)) {
                return hour;
            }
            at = there;
        }
        return Optional.empty();
    }

    /** The first allowed moment; once it is due, the first that is allowed then. */
    private Optional<Instant> asSoonAsAllowed(Instant from, Optional<Instant> due, Presence presence) {
        Optional<Instant> before = there(from, presence, hours::allowed);
        Optional<Instant> forced = due.flatMap(at -> whenDue(later(at, from), presence));
        return before.isPresent()
                        && forced.filter(at -> at.isBefore(before.get())).isEmpty()
                ? before
                : forced;
    }

    private Optional<Instant> whenDue(Instant from, Presence presence) {
        return there(from, presence, plan.outsideWindows() ? Optional::of : hours::allowedWhenDue);
    }

    /** The first instant that is allowed and at which the host is there. */
    private static Optional<Instant> there(
            Instant from, Presence presence, Function<Instant, Optional<Instant>> allowed) {
        Optional<Instant> at = allowed.apply(from);
        for (int absence = 0; absence < MOST_ABSENCES; absence++) {
            Optional<Instant> there = at.flatMap(presence::there);
            if (there.equals(at)) {
                return at;
            }
            at = there.flatMap(allowed);
        }
        return Optional.empty();
    }

    private static Instant later(Instant a, Instant b) {
        return a.isAfter(b) ? a : b;
    }
}
