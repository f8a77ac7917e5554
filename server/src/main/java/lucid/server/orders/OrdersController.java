package lucid.server.orders;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalTime;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.HostName;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.WeekSpan;
import lucid.core.order.HostOrders;
import lucid.core.ruling.Effect;
import lucid.core.update.RestartNeed;
import lucid.core.update.UpdateId;
import lucid.server.access.Caller;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** What a host is told to do; a host asks for it as it checks in. */
@RestController
class OrdersController {

    private final Clock clock;

    OrdersController(Clock clock) {
        this.clock = clock;
    }

    /**
     * @param at when this was so
     * @param frozen stretches in which nothing may be installed or restarted, the earliest first
     */
    record OrdersView(
            HostName host, Instant at, HoursView hours, List<HostOrders.Frozen> frozen, List<OrderView> orders) {}

    /**
     * @param zone of the hours, as the IANA time zone database names it
     * @param busy as they are written in the format populations-1, as are {@code windows}
     */
    record HoursView(
            String zone,
            List<String> busy,
            List<String> windows,
            Optional<LocalTime> dueHour,
            StartMode start,
            boolean earlyRestart,
            long rhythmHours) {}

    /** @param allowanceHours after the return of a host that was away, until it is due */
    record OrderView(
            UpdateId update,
            String revision,
            Effect effect,
            Optional<Instant> until,
            Optional<Instant> due,
            long allowanceHours,
            boolean outsideWindows,
            RestartNeed restart,
            List<WantedView> products) {}

    record WantedView(String purl, String version) {}

    @GetMapping("/api/orders/{host}")
    OrdersView orders(@PathVariable HostName host, @AuthenticationPrincipal Caller asks, Snapshot snapshot) {
        // For a host there is no other.
        boolean mayAsk = asks.onlyHost().filter(own -> !own.equals(host)).isEmpty();
        Instant now = clock.instant();
        HostOrders told = snapshot.fleet()
                .host(host)
                .filter(one -> mayAsk)
                .map(one -> HostOrders.of(one, snapshot.carriages(), snapshot.decisions(), now))
                .orElseThrow(() -> ProblemException.notFound("there is no host " + host));
        return new OrdersView(
                host,
                now,
                new HoursView(
                        told.timing().zone().getId(),
                        told.timing().busy().stream().map(WeekSpan::toString).toList(),
                        told.timing().windows().stream().map(WeekSpan::toString).toList(),
                        told.timing().dueHour(),
                        told.timing().start(),
                        told.timing().earlyRestart(),
                        told.rhythm().toHours()),
                told.frozen(),
                told.orders().stream().map(OrdersController::view).toList());
    }

    private static OrderView view(HostOrders.Order order) {
        return new OrderView(
                order.update(),
                order.revision(),
                order.effect(),
                order.until(),
                order.due(),
                order.allowance().toHours(),
                order.outsideWindows(),
                order.restart(),
                order.products().stream()
                        .map(wanted -> new WantedView(wanted.product().purl(), wanted.version()))
                        .toList());
    }
}
