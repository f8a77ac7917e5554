package lucid.simulator.living;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * How a host is, which nobody is told.
 *
 * @param rhythm between two check-ins
 * @param latest by so much at most a check-in comes later than its rhythm says
 * @param idle true if its updater does not run: it reports and never installs
 * @param off hours of the week in which it is switched off
 * @param away from its first instant on, until a later one; none: it never comes back
 * @param homeDays days for which it stays in reach between two voyages, on average; 0: it makes none
 * @param charge per cent to which its battery is charged; 100 where it has none
 * @param paidLine whether its line is paid by what goes over it
 * @param faults what makes updates fail on it
 */
public record Nature(
        Duration rhythm,
        Duration latest,
        boolean idle,
        List<WeekHours.Span> off,
        Optional<Voyage> away,
        int homeDays,
        int charge,
        boolean paidLine,
        Faults faults) {

    /** @param back none: never */
    public record Voyage(Instant from, Optional<Instant> back) {}

    /** True if it keeps from downloading and installing, by what its population asks for. */
    boolean waits(Orders told) {
        return charge < told.leastBattery() || paidLine && !told.overPaidLine();
    }

    /** Why an update fails on the host. */
    public interface Faults {
        Optional<Fault> of(String update, String revision);
    }

    /** @param failureClass as the inventory format writes it; "down": nothing is ever heard of the host again */
    public record Fault(String code, String failureClass) {}
}
