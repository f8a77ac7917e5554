package lucid.core.order;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.docket.HostUpdate;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.fleet.Timing;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.Verdict;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Product;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;

/**
 * What one host is told: when it may be disturbed, when it is frozen, and what holds for each update that it lacks or
 * is to lose. It says nothing of other hosts.
 *
 * @param timing of its population
 * @param frozen stretches in which nothing may be installed or restarted on it, now or later, the earliest first
 * @param orders one for each update; what an offered successor contains has none of its own
 */
public record HostOrders(Timing timing, Duration rhythm, List<Frozen> frozen, List<Order> orders) {

    /** From one instant to before another. */
    public record Frozen(Instant from, Instant until) {}

    /**
     * @param effect anything but {@link Effect#NOTHING_TO_DO}
     * @param until first instant at which something else holds, if that comes by itself
     * @param due when an offer is due; then busy hours give way
     * @param allowance how long a host has after its return until it is due
     * @param outsideWindows true if it does not wait for a window once it is due
     * @param products what is to be installed
     */
    public record Order(
            UpdateId update,
            String revision,
            Effect effect,
            Optional<Instant> until,
            Optional<Instant> due,
            Duration allowance,
            boolean outsideWindows,
            RestartNeed restart,
            List<Wanted> products) {}

    /** @param version the first one with the fix, on the track of what is installed */
    public record Wanted(Product product, String version) {}

    /** What the host is told at an instant. */
    public static HostOrders of(Host host, Carriages carriages, Decisions decisions, Instant at) {
        Population entry = carriages.fleet().ladder().entryOf(host);
        return new HostOrders(
                entry.timing(),
                carriages.fleet().rhythmOf(host),
                decisions.freezes().stream()
                        .filter(freeze -> freeze.revokedAt().isEmpty() && freeze.covers(host, entry))
                        .map(freeze -> new Frozen(freeze.from(), freeze.endFor(host.number())))
                        .filter(frozen -> frozen.until().isAfter(at))
                        .sorted(Comparator.comparing(Frozen::from))
                        .toList(),
                HostUpdate.of(host, carriages, decisions, at).stream()
                        .filter(one -> one.isLacking() || mayBeRemoved(one.update(), decisions))
                        .filter(one -> one.ruling().effect() != Effect.NOTHING_TO_DO)
                        .map(one -> order(one, host, entry, decisions))
                        .toList());
    }

    private static boolean mayBeRemoved(Update update, Decisions decisions) {
        return decisions.verdictsOn(update.id()).stream()
                .anyMatch(verdict -> verdict.delivery().removes());
    }

    private static Order order(HostUpdate one, Host host, Population entry, Decisions decisions) {
        RuleMatch holds = one.ruling().holds();
        Optional<Verdict.Delivery> delivery = holds.source()
                .filter(DecisionNumber.OfVerdict.class::isInstance)
                .map(DecisionNumber.OfVerdict.class::cast)
                .flatMap(decisions::verdict)
                .map(Verdict::delivery);
        return new Order(
                one.update().id(),
                one.update().revision(),
                holds.effect(),
                one.ruling().until(),
                holds.due(),
                delivery.map(Verdict.Delivery::allowance).orElse(entry.timing().allowance()),
                delivery.filter(Verdict.Delivery::outsideWindows).isPresent(),
                one.update().restart(),
                holds.effect() == Effect.REMOVE
                        ? List.of()
                        : one.update().fixes().stream()
                                .flatMap(fix -> wanted(fix, host))
                                .toList());
    }

    private static Stream<Wanted> wanted(Fix fix, Host host) {
        return host.spokenOf(fix).stream()
                .map(Host.SpokenOf::version)
                .filter(version -> fix.standing(version) == Fix.Standing.LACKS)
                .flatMap(version -> fix.trackOf(version).flatMap(AffectedRange::fixed).stream())
                .distinct()
                .map(version -> new Wanted(fix.build().product(), version));
    }
}
