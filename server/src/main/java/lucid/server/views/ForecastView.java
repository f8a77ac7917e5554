package lucid.server.views;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
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
 * @param peak the hour in which most hosts of one site download it
 * @param curve how many have it in effect at the end of each day
 * @param earliest how many may have it by then where persons begin as soon as they can; none where that is the same
 */
public record ForecastView(
        HostList inBusyHours,
        HostList late,
        HostList dueLater,
        HostList silent,
        HostList byOthers,
        HostList notForeseen,
        Optional<PeakView> peak,
        List<PointView> curve,
        List<PointView> earliest) {

    /** @param site none where its hosts have none; @param bytes that they download in that hour, where known */
    public record PeakView(Optional<String> site, Instant hour, int hosts, Optional<Long> bytes) {}

    public record PointView(Instant at, int hosts) {}

    /** @param size of the download of one host in bytes, where known */
    public static ForecastView of(GroupForecast forecast, Optional<Long> size, Fleet fleet) {
        return new ForecastView(
                HostList.of(fleet, forecast.inBusyHours()),
                HostList.of(fleet, forecast.late()),
                HostList.of(fleet, forecast.dueLater()),
                HostList.of(fleet, forecast.silent()),
                HostList.of(fleet, forecast.byOthers()),
                HostList.of(fleet, forecast.notForeseen()),
                forecast.peak()
                        .map(peak -> new PeakView(
                                Optional.of(peak.site()).filter(site -> !site.isEmpty()),
                                peak.hour(),
                                peak.hosts(),
                                size.map(bytes -> bytes * peak.hosts()))),
                points(forecast.curve()),
                forecast.earliest().equals(forecast.curve()) ? List.of() : points(forecast.earliest()));
    }

    private static List<PointView> points(List<GroupForecast.Point> curve) {
        return curve.stream()
                .map(point -> new PointView(point.at(), point.hosts()))
                .toList();
    }
}
