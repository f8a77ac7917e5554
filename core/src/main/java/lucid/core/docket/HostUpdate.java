package lucid.core.docket;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostProducts;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.Ruling;
import lucid.core.ruling.Timeline;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;

/**
 * How one host stands to one update that speaks of it.
 *
 * <p><b>Newest only.</b> What is there folds under the newest successor that is there. What is lacking folds under the
 * newest successor that is offered here, or that the same clause withholds: so what is offered is never hidden by what
 * has yet to come, and what is withheld stands beside it. Nothing folds under what its vendor has withdrawn.
 *
 * <p>Thousands of updates may speak of a host, of which a page shows some: what holds is computed when it is asked for.
 */
public final class HostUpdate {

    private final Update update;
    private final CarriageState state;
    private final CarriageState lastKnown;
    private final boolean viaSuccessor;
    private final List<UpdateId> contains;
    private final Supplier<Ruling> computed;
    private Ruling ruling;

    private HostUpdate(
            Update update,
            CarriageState state,
            CarriageState lastKnown,
            boolean viaSuccessor,
            List<UpdateId> contains,
            Supplier<Ruling> computed) {
        this.update = update;
        this.state = state;
        this.lastKnown = lastKnown;
        this.viaSuccessor = viaSuccessor;
        this.contains = contains;
        this.computed = computed;
    }

    public Update update() {
        return update;
    }

    /** With what is too old to tell as unknown. */
    public CarriageState state() {
        return state;
    }

    /** The state of the last report, or what was told since. */
    public CarriageState lastKnown() {
        return lastKnown;
    }

    public boolean viaSuccessor() {
        return viaSuccessor;
    }

    /** Identifiers of the earlier updates that fold under it, the newest first. */
    public List<UpdateId> contains() {
        return contains;
    }

    public Ruling ruling() {
        if (ruling == null) {
            ruling = computed.get();
        }
        return ruling;
    }

    private static final Comparator<Update> NEWEST_FIRST =
            Comparator.comparing(Update::published).reversed().thenComparing(Update::id);

    public boolean isLacking() {
        return lastKnown.lacks();
    }

    /** Content, which changes every day, comes last; else the worse rating first, then the newer. */
    private static final Comparator<Update> ORDER = Comparator.comparing(Docket::isNoise)
            .thenComparing(Comparator.comparing(Update::rating).reversed())
            .thenComparing(NEWEST_FIRST);

    /** The updates that speak of a host, folded, in their order. */
    public static List<HostUpdate> of(Host host, Carriages carriages, Decisions decisions, Instant at) {
        return folded(updatesOf(host, carriages.catalogue()), host, carriages, decisions, at);
    }

    /** Those of them that the host lacks: in less time, since what it has folds by itself. */
    public static List<HostUpdate> lackedBy(Host host, Carriages carriages, Decisions decisions, Instant at) {
        HostProducts products = new HostProducts(host);
        List<Update> maybeLacked = updatesOf(host, carriages.catalogue()).stream()
                // What it told since its last report may be that it lacks it after all.
                .filter(update -> products.hasBefore(update)
                        || carriages.outcomes().last(update.id()).containsKey(host.number()))
                .toList();
        return folded(maybeLacked, host, carriages, decisions, at).stream()
                .filter(HostUpdate::isLacking)
                .toList();
    }

    private static List<HostUpdate> folded(
            Collection<Update> updates, Host host, Carriages fleet, Decisions decisions, Instant at) {
        Carriages carriages = fleet.only(host);
        Map<UpdateId, HostUpdate> all = new HashMap<>();
        for (Update update : updates) {
            Carriage carriage = carriages.of(update, at);
            CarriageState known = carriage.lastKnown(host.number());
            if (known != CarriageState.NOT_APPLICABLE) {
                all.put(
                        update.id(),
                        new HostUpdate(
                                update,
                                carriage.of(host.number()),
                                known,
                                carriage.viaSuccessor().contains(host.number()),
                                List.of(),
                                () -> Timeline.of(update, decisions, carriages.fleet(), carriages.catalogue())
                                        .ruling(host, known, at)));
            }
        }
        Map<UpdateId, List<Update>> under = new HashMap<>();
        List<HostUpdate> shown = new ArrayList<>();
        for (HostUpdate one : all.values()) {
            Optional<Update> newest = newestAlike(one, all, carriages);
            newest.ifPresentOrElse(
                    successor -> under.computeIfAbsent(successor.id(), id -> new ArrayList<>())
                            .add(one.update()),
                    () -> shown.add(one));
        }
        return shown.stream()
                .sorted(Comparator.comparing(HostUpdate::update, ORDER))
                .map(one -> one.containing(under.getOrDefault(one.update().id(), List.of())))
                .toList();
    }

    /** An update speaks only of hosts that have one of its products. */
    public static Collection<Update> updatesOf(Host host, Catalogue catalogue) {
        Map<UpdateId, Update> updates = new HashMap<>();
        host.products().forEach(installed -> catalogue
                .ofProduct(installed.build().product())
                .forEach(update -> updates.put(update.id(), update)));
        return updates.values();
    }

    private static Optional<Update> newestAlike(HostUpdate one, Map<UpdateId, HostUpdate> all, Carriages carriages) {
        return carriages.catalogue().successorsOf(one.update().id()).stream()
                .map(successor -> all.get(successor.id()))
                .filter(other -> other != null && !other.update().isWithdrawn() && other.standsFor(one))
                .map(HostUpdate::update)
                .min(NEWEST_FIRST);
    }

    private boolean standsFor(HostUpdate earlier) {
        if (!isLacking() || !earlier.isLacking()) {
            return isLacking() == earlier.isLacking();
        }
        RuleMatch holds = ruling().holds();
        return holds.effect().isOffer()
                || !earlier.ruling().effect().isOffer()
                        && holds.clause() == earlier.ruling().holds().clause();
    }

    private HostUpdate containing(List<Update> earlier) {
        return new HostUpdate(
                update,
                state,
                lastKnown,
                viaSuccessor,
                earlier.stream().sorted(NEWEST_FIRST).map(Update::id).toList(),
                this::ruling);
    }
}
