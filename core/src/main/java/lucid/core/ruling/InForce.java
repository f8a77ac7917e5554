package lucid.core.ruling;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * A decision that is in force. Thousands may be, of which a page shows some: which hosts they are for is computed when
 * it is asked for, once for all decisions on an update. Only a force and what is left to the rule are looked at before,
 * since of them it depends on the hosts whether they are in force at all.
 */
public final class InForce {

    private final Decision decision;
    private final Optional<OfUpdate> of;
    private final Instant end;
    private final Supplier<RoaringBitmap> computed;
    private RoaringBitmap hosts;

    private InForce(Decision decision, Optional<OfUpdate> of, Instant end, Supplier<RoaringBitmap> computed) {
        this.decision = decision;
        this.of = of;
        this.end = end;
        this.computed = computed;
    }

    /** What is decided on one update, on one set of facts. */
    private static final class OfUpdate {
        private final Update update;
        private final Carriages carriages;
        private final Decisions decisions;
        private final Instant at;
        private Timeline timeline;
        private List<RulingGroup> groups;

        OfUpdate(Update update, Carriages carriages, Decisions decisions, Instant at) {
            this.update = update;
            this.carriages = carriages;
            this.decisions = decisions;
            this.at = at;
        }

        private Timeline timeline() {
            if (timeline == null) {
                timeline = Timeline.of(update, decisions, carriages.fleet(), carriages.catalogue());
            }
            return timeline;
        }

        private List<RulingGroup> groups() {
            if (groups == null) {
                groups = timeline().groups(carriages.of(update, at).lacking(), at);
            }
            return groups;
        }

        /**
         * Hosts that lack the update and for which the decision is what holds; of what is left to the rule, those to
         * which the rule never offers it.
         */
        RoaringBitmap hosts(Decision decision) {
            RoaringBitmap hosts = new RoaringBitmap();
            if (decision instanceof Acknowledgement left) {
                groups().stream().filter(group -> group.match().isNever()).forEach(group -> hosts.or(group.hosts()));
                RoaringBitmap covered = new RoaringBitmap();
                carriages.fleet().ladder().entries().stream()
                        .filter(entry -> left.covers(entry.id()))
                        .forEach(entry -> covered.or(carriages.fleet().members(entry.id())));
                hosts.and(covered);
            } else {
                groups().stream()
                        .filter(group -> group.match().source().equals(Optional.of(decision.number())))
                        .forEach(group -> hosts.or(group.hosts()));
            }
            return hosts;
        }
    }

    /** What is in force, what ends first in front. A force that every host carries is done, and not told. */
    public static List<InForce> at(Carriages carriages, Decisions decisions, Instant at) {
        List<InForce> all = new ArrayList<>();
        for (Update update : carriages.catalogue().updates()) {
            OfUpdate of = new OfUpdate(update, carriages, decisions, at);
            for (Decision decision : on(update, decisions, at)) {
                InForce one = new InForce(decision, Optional.of(of), endOf(decision), () -> of.hosts(decision));
                boolean dependsOnHosts = decision instanceof Acknowledgement
                        || decision instanceof Verdict verdict && verdict.type() == VerdictType.FORCE;
                if (!dependsOnHosts || !one.hosts().isEmpty()) {
                    all.add(one);
                }
            }
        }
        ofNoUpdate(decisions, at)
                .forEach(decision -> all.add(new InForce(
                        decision, Optional.empty(), endOf(decision), () -> hosts(decision, carriages.fleet()))));
        all.sort(inOrder(InForce::end, InForce::update, InForce::decision));
        return List.copyOf(all);
    }

    private static <T> Comparator<T> inOrder(
            Function<T, Instant> end, Function<T, Optional<Update>> update, Function<T, Decision> decision) {
        return Comparator.comparing(end)
                .thenComparing(
                        one -> update.apply(one).map(of -> of.id().value()).orElse(""))
                .thenComparing(one -> decision.apply(one).number().value());
    }

    /**
     * A decision that stood at a past instant. For which hosts it was what was in force then is not told: of a force
     * and of what was left to the rule it depends on them whether it was in force at all.
     */
    public record Stood(Decision decision, Optional<Update> update, Instant end) {}

    /** What stood at an instant, what ended first in front. */
    public static List<Stood> stoodAt(Catalogue catalogue, Decisions decisions, Instant at) {
        return Stream.concat(
                        catalogue.updates().stream().flatMap(update -> on(update, decisions, at).stream()
                                .map(decision -> new Stood(decision, Optional.of(update), endOf(decision)))),
                        ofNoUpdate(decisions, at)
                                .map(decision -> new Stood(decision, Optional.empty(), endOf(decision))))
                .sorted(inOrder(Stood::end, Stood::update, Stood::decision))
                .toList();
    }

    private static List<Decision> on(Update update, Decisions decisions, Instant at) {
        List<Decision> standing = new ArrayList<>();
        decisions.verdictsOn(update.id()).stream()
                .filter(v -> v.type() == VerdictType.FORCE ? v.standsAt(at) : v.withholdsAt(at))
                .forEach(standing::add);
        decisions.exceptionsOn(update).stream()
                .filter(e -> e.standsAt(at) && e.scope() instanceof ExceptionGrant.Scope.OfUpdate)
                .forEach(standing::add);
        decisions.acknowledgementsOn(update.id()).stream()
                .filter(a -> a.isMadeBy(at)
                        && a.lookAgain().filter(day -> day.isAfter(at)).isPresent())
                .forEach(standing::add);
        return standing;
    }

    private static Stream<Decision> ofNoUpdate(Decisions decisions, Instant at) {
        return Stream.of(
                        decisions.exceptions().stream()
                                .filter(exception -> exception.standsAt(at)
                                        && !(exception.scope() instanceof ExceptionGrant.Scope.OfUpdate)),
                        decisions.freezes().stream()
                                .filter(freeze ->
                                        freeze.isMadeBy(at) && freeze.until().isAfter(at)),
                        decisions.cautions().stream().filter(caution -> caution.standsAt(at)))
                .flatMap(some -> some);
    }

    private static RoaringBitmap hosts(Decision decision, Fleet fleet) {
        if (decision instanceof ExceptionGrant exception) {
            return fleet.matching(exception.hosts(), fleet.all());
        }
        return decision instanceof Freeze freeze ? hosts(freeze, fleet) : fleet.all();
    }

    private static Instant endOf(Decision decision) {
        if (decision instanceof Verdict verdict) {
            return verdict.end();
        }
        if (decision instanceof Freeze freeze) {
            return freeze.until();
        }
        if (decision instanceof Caution caution) {
            return caution.until();
        }
        return decision instanceof ExceptionGrant exception
                ? exception.end()
                : ((Acknowledgement) decision).lookAgain().orElseThrow();
    }

    /** Those that a freeze is for. */
    static RoaringBitmap hosts(Freeze freeze, Fleet fleet) {
        RoaringBitmap hosts = new RoaringBitmap();
        fleet.ladder().entries().stream()
                .filter(entry -> freeze.covers(entry.id()))
                .forEach(entry -> hosts.or(fleet.members(entry.id())));
        return hosts;
    }

    public Decision decision() {
        return decision;
    }

    /** On which it is; none for a freeze, the fleet's caution, and an exception on a product or kind. */
    public Optional<Update> update() {
        return of.map(one -> one.update);
    }

    /** When it ends: of a force, when it is or was due; of what is left to the rule, when somebody looks again. */
    public Instant end() {
        return end;
    }

    /**
     * Hosts that lack the update and for which it is what holds; of a freeze, of the fleet's caution, and of an
     * exception on a product or kind, all that it names.
     */
    public RoaringBitmap hosts() {
        if (hosts == null) {
            hosts = computed.get();
        }
        return hosts.clone();
    }

    /** What would hold for its hosts once it has ended; nothing for a force, which does not end by itself. */
    public List<RulingGroup> then() {
        boolean ends = !(decision instanceof Verdict verdict && verdict.type() == VerdictType.FORCE);
        return of.filter(one -> ends)
                .map(one -> one.timeline().groups(hosts(), end))
                .orElse(List.of());
    }
}
