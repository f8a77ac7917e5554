package lucid.server.orders;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalTime;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import lucid.core.fleet.HostName;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;
import lucid.core.fleet.WeekSpan;
import lucid.core.forecast.Hours;
import lucid.core.operators.OperatorEntry;
import lucid.core.order.HostOrders;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.RuleMatch;
import lucid.core.update.Product;
import lucid.core.update.RestartNeed;
import lucid.core.update.UpdateId;
import org.springframework.web.util.UriUtils;

/**
 * What a host is told, as it is signed; the schema is {@code orders-1}.
 *
 * @param serial grows with every change: the instant of issue in milliseconds since 1970
 * @param expires after which it is to be asked for anew; until then the server says when it has changed
 * @param frozen stretches in which nothing may be installed or restarted, the earliest first
 * @param reportAsked when somebody asked it to report at once, if it has not since
 */
@JsonInclude(JsonInclude.Include.NON_ABSENT)
record OrdersDocument(
        String format,
        HostName host,
        long serial,
        Instant issued,
        Instant expires,
        HoursView hours,
        List<HostOrders.Frozen> frozen,
        Optional<Instant> reportAsked,
        List<OrderView> orders) {

    private static final String FORMAT = "orders-1";

    /** More stretches than a week of hours has. */
    private static final int MOST_STRETCHES = 64;

    /**
     * @param zone of the hours, as the IANA time zone database names it
     * @param busy as they are written in the format populations-1, as are {@code windows}
     * @param leastBattery per cent of charge under which nothing is installed on battery
     * @param overPaidLine false: nothing is downloaded over a line that is paid by what goes over it
     * @param open the stretches until the orders expire in which what is due may begin; none if it may at any time
     */
    @JsonInclude(JsonInclude.Include.NON_ABSENT)
    record HoursView(
            String zone,
            List<String> busy,
            List<String> windows,
            Optional<LocalTime> dueHour,
            StartMode start,
            boolean earlyRestart,
            int leastBattery,
            boolean overPaidLine,
            long rhythmHours,
            List<Hours.Span> open) {}

    /**
     * @param reason why, in words
     * @param slot when its operator agreed to install it by hand
     * @param allowanceHours after the return of a host that was away, until it is due
     */
    @JsonInclude(JsonInclude.Include.NON_ABSENT)
    record OrderView(
            UpdateId update,
            String revision,
            Effect effect,
            RuleMatch.Clause clause,
            String reason,
            Optional<Instant> until,
            Optional<Instant> due,
            Optional<OperatorEntry.Slot> slot,
            long allowanceHours,
            boolean outsideWindows,
            RestartNeed restart,
            List<PackageView> packages) {}

    /**
     * A package and the versions of it that the order is about.
     *
     * @param type of the package URL
     * @param name as the package system knows it
     * @param arch empty where the host tells none
     * @param installed as the host last reported it
     * @param bySource true if the versions are those of the source package that it is built from
     * @param version the first one with the change
     * @param below the first one after it that another order offers
     * @param earlier of what is to be removed: the version that the host had before, where that is known
     */
    @JsonInclude(JsonInclude.Include.NON_ABSENT)
    record PackageView(
            String purl,
            String type,
            String name,
            String arch,
            String installed,
            boolean bySource,
            String version,
            Optional<String> below,
            Optional<String> earlier) {

        private static PackageView of(HostOrders.Package one) {
            Product product = one.installed().build().product();
            return new PackageView(
                    product.purl(),
                    product.type(),
                    UriUtils.decode(product.name(), StandardCharsets.UTF_8),
                    one.installed().build().arch(),
                    one.installed().version(),
                    one.bySource(),
                    one.version(),
                    one.below(),
                    one.earlier());
        }
    }

    /**
     * @param slots what was agreed with operators for updates on the host
     * @param from from when on the hours are told, until the orders expire
     */
    static OrdersDocument of(
            HostName host,
            HostOrders told,
            Optional<Instant> reportAsked,
            Decisions decisions,
            Function<UpdateId, Optional<OperatorEntry.Slot>> slots,
            Instant from,
            Instant expires,
            Instant issued) {
        return new OrdersDocument(
                FORMAT,
                host,
                issued.toEpochMilli(),
                issued,
                expires,
                hours(told, from, expires),
                told.frozen(),
                reportAsked,
                told.orders().stream()
                        .map(order -> view(
                                order,
                                told,
                                decisions,
                                order.effect().isOffer() ? slots.apply(order.update()) : Optional.empty()))
                        .toList());
    }

    OrdersDocument issued(Instant at) {
        return new OrdersDocument(format, host, at.toEpochMilli(), at, expires, hours, frozen, reportAsked, orders);
    }

    private static HoursView hours(HostOrders told, Instant from, Instant expires) {
        Timing timing = told.population().timing();
        return new HoursView(
                timing.zone().getId(),
                timing.busy().stream().map(WeekSpan::toString).toList(),
                timing.windows().stream().map(WeekSpan::toString).toList(),
                timing.dueHour(),
                timing.start(),
                timing.earlyRestart(),
                timing.restraint().leastBattery(),
                timing.restraint().overPaidLine(),
                told.rhythm().toHours(),
                timing.windows().isEmpty()
                        ? List.of()
                        : Hours.of(told.population(), from, expires).nextAllowed(from, MOST_STRETCHES));
    }

    private static OrderView view(
            HostOrders.Order order, HostOrders told, Decisions decisions, Optional<OperatorEntry.Slot> slot) {
        return new OrderView(
                order.update(),
                order.revision(),
                order.effect(),
                order.holds().clause(),
                OrderWords.of(order, told.population(), decisions),
                order.until(),
                order.due(),
                slot,
                order.allowance().toHours(),
                order.outsideWindows(),
                order.restart(),
                order.packages().stream().map(PackageView::of).toList());
    }
}
