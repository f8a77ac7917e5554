package lucid.core.order;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.docket.HostUpdate;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostProducts;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Population;
import lucid.core.fleet.Requirements;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.Verdict;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Requirement;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.version.VersionOrdering;

/**
 * What one host is told: when it may be disturbed, when it is frozen, and what holds for each update that it lacks or
 * is to lose. It says nothing of other hosts.
 *
 * @param population the entry of the ladder that the host is in
 * @param frozen stretches in which nothing may be installed or restarted on it, now or later, the earliest first
 * @param orders one for each update; what an offered successor contains has none of its own
 */
public record HostOrders(Population population, Duration rhythm, List<Frozen> frozen, List<Order> orders) {

    /** From one instant to before another. */
    public record Frozen(Instant from, Instant until) {}

    /**
     * @param holds the clause that says so; its effect is anything but {@link Effect#NOTHING_TO_DO}
     * @param until first instant at which something else holds, if that comes by itself
     * @param allowance how long a host has after its return until it is due
     * @param outsideWindows true if it does not wait for a window once it is due
     * @param packages the installed products that it is about
     * @param lacks what the host is known to lack of what the update requires
     */
    public record Order(
            UpdateId update,
            String revision,
            RuleMatch holds,
            Optional<Instant> until,
            Duration allowance,
            boolean outsideWindows,
            RestartNeed restart,
            List<Package> packages,
            List<Requirement> lacks) {

        public Effect effect() {
            return holds.effect();
        }

        /** When an offer is due; then busy hours give way. */
        public Optional<Instant> due() {
            return holds.due();
        }
    }

    /**
     * An installed product, and the versions of it that an order is about: the change comes with {@code version} and is
     * in all versions after it, until one that the host is offered for another update.
     *
     * @param bySource true if the versions are those of the source package that it is built from
     * @param version the first one with the change, on the track of what is installed
     * @param below the first one after it that another order offers
     * @param earlier of what is to be removed: the version that the host had before, where that is known
     */
    public record Package(
            InstalledProduct installed,
            boolean bySource,
            String version,
            Optional<String> below,
            Optional<String> earlier) {

        private Package below(String next) {
            return new Package(installed, bySource, version, Optional.of(next), earlier);
        }

        private boolean isSameAs(Package other) {
            return bySource == other.bySource && installed.build().equals(other.installed.build());
        }

        /** True if it comes with the same version. */
        private boolean comesWith(Package other) {
            return ordering().compare(version, other.version) == 0;
        }

        private boolean isBefore(Package other) {
            return ordering().compare(version, other.version) < 0;
        }

        private VersionOrdering ordering() {
            return installed.build().product().ordering();
        }
    }

    /** What the host is told at an instant. */
    public static HostOrders of(Host host, Carriages carriages, Decisions decisions, Instant at) {
        Population entry = carriages.fleet().ladder().entryOf(host);
        HostProducts products = new HostProducts(host);
        return new HostOrders(
                entry,
                carriages.fleet().rhythmOf(host),
                decisions.freezes().stream()
                        .filter(freeze -> freeze.revokedAt().isEmpty() && freeze.covers(host, entry))
                        .map(freeze -> new Frozen(freeze.from(), freeze.endFor(host.number())))
                        .filter(frozen -> frozen.until().isAfter(at))
                        .sorted(Comparator.comparing(Frozen::from))
                        .toList(),
                apart(concerned(host, carriages, decisions, at)
                        .filter(one -> one.ruling().effect() != Effect.NOTHING_TO_DO)
                        .map(one -> order(one, host, products, entry, carriages, decisions))
                        .toList()));
    }

    /** The first instant at which something else may hold for the host by itself. */
    public Optional<Instant> changesAt() {
        return Stream.concat(
                        frozen.stream().flatMap(one -> Stream.of(one.from(), one.until())),
                        orders.stream().flatMap(order -> order.until().stream()))
                .min(Comparator.naturalOrder());
    }

    private static Stream<HostUpdate> concerned(Host host, Carriages carriages, Decisions decisions, Instant at) {
        boolean mayRemove = HostUpdate.updatesOf(host, carriages.catalogue()).stream()
                .anyMatch(update -> mayBeRemoved(update, decisions));
        return mayRemove
                ? HostUpdate.of(host, carriages, decisions, at).stream()
                        .filter(one -> one.isLacking() || mayBeRemoved(one.update(), decisions))
                : HostUpdate.lackedBy(host, carriages, decisions, at).stream();
    }

    private static boolean mayBeRemoved(Update update, Decisions decisions) {
        return decisions.verdictsOn(update.id()).stream()
                .anyMatch(verdict -> verdict.delivery().removes());
    }

    private static Order order(
            HostUpdate one,
            Host host,
            HostProducts products,
            Population entry,
            Carriages carriages,
            Decisions decisions) {
        RuleMatch holds = one.ruling().holds();
        Optional<Verdict.Delivery> delivery = holds.source()
                .filter(DecisionNumber.OfVerdict.class::isInstance)
                .map(DecisionNumber.OfVerdict.class::cast)
                .flatMap(decisions::verdict)
                .map(Verdict::delivery);
        return new Order(
                one.update().id(),
                one.update().revision(),
                holds,
                one.ruling().until(),
                delivery.map(Verdict.Delivery::allowance).orElse(entry.timing().allowance()),
                delivery.filter(Verdict.Delivery::outsideWindows).isPresent(),
                products.restartFor(one.update()),
                packages(one, host, products, carriages),
                Requirements.notMetBy(host, one.update()));
    }

    /** What is withheld is so from the earliest on that it contains. */
    private static List<Package> packages(HostUpdate one, Host host, HostProducts products, Carriages carriages) {
        Effect effect = one.ruling().effect();
        Stream<Update> updates = effect == Effect.WITHHELD
                ? Stream.concat(
                        Stream.of(one.update()),
                        one.contains().stream().flatMap(id -> carriages.catalogue().update(id).stream()))
                : Stream.of(one.update());
        List<Package> packages = new ArrayList<>();
        updates.flatMap(update ->
                        fixes(update, effect).flatMap(fix -> packages(fix, update, host, products, effect, carriages)))
                .forEach(found -> {
                    Optional<Package> known =
                            packages.stream().filter(found::isSameAs).findFirst();
                    if (known.isEmpty() || effect == Effect.WITHHELD && found.isBefore(known.get())) {
                        known.ifPresent(packages::remove);
                        packages.add(found);
                    }
                });
        return packages;
    }

    /** A block holds though a new revision fixes other versions: those of the earlier revisions have the change too. */
    private static Stream<Fix> fixes(Update update, Effect effect) {
        return effect == Effect.WITHHELD
                ? update.revisions().stream().flatMap(revision -> revision.fixes().stream())
                : update.fixes().stream();
    }

    private static Stream<Package> packages(
            Fix fix, Update update, Host host, HostProducts products, Effect effect, Carriages carriages) {
        Fix.Standing wanted = effect == Effect.REMOVE ? Fix.Standing.HAS : Fix.Standing.LACKS;
        return products.spokenOf(fix).stream()
                .filter(spokenOf -> fix.standing(spokenOf.version()) == wanted)
                .flatMap(spokenOf -> fix
                        .trackOf(spokenOf.version())
                        .flatMap(AffectedRange::fixed)
                        .map(version -> new Package(
                                spokenOf.product(),
                                fix.build().isSource(),
                                version,
                                Optional.empty(),
                                effect == Effect.REMOVE
                                        ? hadBefore(spokenOf.product(), update, host, carriages)
                                        : Optional.empty()))
                        .stream());
    }

    private static Optional<String> hadBefore(InstalledProduct product, Update update, Host host, Carriages carriages) {
        return Optional.ofNullable(carriages.outcomes().last(update.id()).get(host.number()))
                .flatMap(Outcome::before)
                .filter(before -> before.build().equals(product.build()))
                .map(InstalledProduct::version);
    }

    /**
     * What is withheld ends where another update begins that is offered. Several updates may come with the same
     * version: what only a rule withholds then gives way to what is offered, what somebody decided to withhold does
     * not.
     */
    private static List<Order> apart(List<Order> orders) {
        List<Package> offered = orders.stream()
                .filter(order -> order.effect().isOffer())
                .flatMap(order -> order.packages().stream())
                .toList();
        return orders.stream()
                .map(order -> order.effect().isOffer() ? order : cut(order, offered))
                .toList();
    }

    private static Order cut(Order order, List<Package> offered) {
        return new Order(
                order.update(),
                order.revision(),
                order.holds(),
                order.until(),
                order.allowance(),
                order.outsideWindows(),
                order.restart(),
                order.packages().stream()
                        .filter(one -> !order.holds().isRule()
                                || offered.stream().noneMatch(other -> other.isSameAs(one) && other.comesWith(one)))
                        .map(one -> offered.stream()
                                .filter(next -> next.isSameAs(one) && one.isBefore(next))
                                .min((a, b) -> a.ordering().compare(a.version(), b.version()))
                                .map(next -> one.below(next.version()))
                                .orElse(one))
                        .toList(),
                order.lacks());
    }
}
