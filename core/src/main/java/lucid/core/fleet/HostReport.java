package lucid.core.fleet;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import lucid.core.update.UpdateId;

/**
 * What a host says of itself at one instant: its whole inventory, not a change.
 *
 * @param at instant at which the host took the inventory
 * @param events what happened on it with updates, each at its own instant
 * @param changes what its package system's logs tell, each at its own instant
 * @param lists what its package manager knows of newer versions
 */
public record HostReport(
        HostName name,
        String platform,
        Instant at,
        Map<String, Trait> traits,
        List<InstalledProduct> products,
        Optional<String> supply,
        Optional<Instant> lastStart,
        List<Event> events,
        List<PackageChange> changes,
        Optional<PackageLists> lists) {

    /** A report without a log of changes, or of what a package manager knows. */
    public HostReport(
            HostName name,
            String platform,
            Instant at,
            Map<String, Trait> traits,
            List<InstalledProduct> products,
            Optional<String> supply,
            Optional<Instant> lastStart,
            List<Event> events) {
        this(name, platform, at, traits, products, supply, lastStart, events, List.of(), Optional.empty());
    }

    /** An outcome as the host tells it; see {@link Outcome}. */
    public record Event(
            UpdateId updateId,
            Optional<String> revision,
            Outcome.What what,
            Instant at,
            Optional<String> code,
            Optional<FailureClass> failureClass) {
        public Outcome on(int host) {
            return new Outcome(host, updateId, revision, what, at, code, failureClass);
        }
    }

    /** The same report with other traits. */
    public HostReport with(Map<String, Trait> otherTraits) {
        return new HostReport(name, platform, at, otherTraits, products, supply, lastStart, events, changes, lists);
    }

    /** The same report, its products written otherwise. */
    public HostReport with(List<InstalledProduct> sameProducts) {
        return new HostReport(name, platform, at, traits, sameProducts, supply, lastStart, events, changes, lists);
    }

    /** The same report, what is known of its sources written otherwise. */
    public HostReport with(Optional<PackageLists> sameLists) {
        return new HostReport(name, platform, at, traits, products, supply, lastStart, events, changes, sameLists);
    }

    /** The same report, every instant of it put through {@code correct}. */
    public HostReport with(UnaryOperator<Instant> correct) {
        return new HostReport(
                name,
                platform,
                correct.apply(at),
                traits,
                products,
                supply,
                lastStart.map(correct),
                events.stream()
                        .map(e -> new Event(
                                e.updateId(),
                                e.revision(),
                                e.what(),
                                correct.apply(e.at()),
                                e.code(),
                                e.failureClass()))
                        .toList(),
                changes.stream()
                        .map(c -> new PackageChange(
                                c.build(), c.what(), c.from(), c.to(), correct.apply(c.at()), c.code()))
                        .toList(),
                lists.map(known -> new PackageLists(correct.apply(known.fetched()), known.newer(), known.cameFrom())));
    }
}
