package lucid.server.views;

import java.time.Instant;
import java.util.List;
import lucid.core.fleet.Fleet;
import lucid.core.forecast.GroupForecast;
import lucid.server.views.Views.HostList;

/**
 * What a decision is foreseen to do, by what stands out.
 *
 * @param inBusyHours installed or restarted in busy hours, because it is due
 * @param late in effect only after it is due, or not at all
 * @param dueLater due only after the deadline, because they are away or were not long back
 * @param silent nobody knows when they come back
 * @param byOthers a person or an operator begins
 * @param notForeseen no moment is allowed, or no restart comes by itself
 * @param curve how many have it in effect at the end of each day
 */
public record ForecastView(
        HostList inBusyHours,
        HostList late,
        HostList dueLater,
        HostList silent,
        HostList byOthers,
        HostList notForeseen,
        List<PointView> curve) {

    public record PointView(Instant at, int hosts) {}

    public static ForecastView of(GroupForecast forecast, Fleet fleet) {
        return new ForecastView(
                HostList.of(fleet, forecast.inBusyHours()),
                HostList.of(fleet, forecast.late()),
                HostList.of(fleet, forecast.dueLater()),
                HostList.of(fleet, forecast.silent()),
                HostList.of(fleet, forecast.byOthers()),
                HostList.of(fleet, forecast.notForeseen()),
                forecast.curve().stream()
                        .map(point -> new PointView(point.at(), point.hosts()))
                        .toList());
    }
}
