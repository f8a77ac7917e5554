package lucid.server.views;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Spread;
import lucid.core.ruling.Verdict;
import lucid.server.views.Views.HostList;
import org.roaringbitmap.RoaringBitmap;

/**
 * How a verdict reaches its hosts.
 *
 * @param ends when it ends or is due, for its parts one after the other
 * @param byOperator what whoever runs the hosts is told, where they begin
 * @param allowanceDays of a force: how long a host that was away has after its return, in days
 * @param outsideWindows of a force: whether it does not wait for a window once it is due
 * @param removes whether hosts that carry the update are to go back to an earlier version
 */
public record DeliveryView(
        List<Instant> ends,
        Optional<OperatorView> byOperator,
        long allowanceDays,
        boolean outsideWindows,
        boolean removes) {

    /** @param order in which hosts are to follow, as far as it matters */
    public record OperatorView(List<String> checklist, List<HostName> order) {}

    /** @param at when it ends or is due for these hosts */
    public record PartView(Instant at, HostList hosts) {

        /** The parts of these hosts; none where it is not spread. */
        public static List<PartView> all(Optional<Spread> spread, RoaringBitmap hosts, Fleet fleet) {
            return all(spread.map(parts -> parts.of(hosts)).orElse(List.of()), fleet);
        }

        public static List<PartView> all(List<Spread.Part> parts, Fleet fleet) {
            return parts.stream()
                    .map(part -> new PartView(part.at(), HostList.of(fleet, part.hosts())))
                    .toList();
        }
    }

    public static DeliveryView of(Verdict verdict) {
        return new DeliveryView(
                verdict.delivery()
                        .spread()
                        .map(parts -> verdict.ends())
                        .orElseGet(Stream::empty)
                        .toList(),
                verdict.delivery().byOperator().map(told -> new OperatorView(told.checklist(), told.order())),
                verdict.delivery().allowance().toDays(),
                verdict.delivery().outsideWindows(),
                verdict.delivery().removes());
    }
}
