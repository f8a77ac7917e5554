package lucid.server.views;

import java.util.List;
import lucid.core.fleet.Fleet;
import lucid.core.order.WhyOverdue;
import lucid.server.views.Views.HostList;

/** Hosts that are past due, of all that are so for the same reason. */
public record OverdueHosts(WhyOverdue.Why why, HostList hosts) {

    /** By why, in the order of {@link WhyOverdue.Why}. */
    public static List<OverdueHosts> of(WhyOverdue overdue, Fleet fleet) {
        return overdue.hosts().entrySet().stream()
                .map(entry -> new OverdueHosts(entry.getKey(), HostList.of(fleet, entry.getValue())))
                .toList();
    }
}
