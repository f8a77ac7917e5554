package lucid.core;

import static lucid.core.TestIds.hostName;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.Timing;
import lucid.core.fleet.Trait;
import lucid.core.update.Advisory;
import lucid.core.update.AdvisorySource;
import lucid.core.update.AffectedRange;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import lucid.core.update.Removable;
import lucid.core.update.Requirement;
import lucid.core.update.RestartNeed;
import lucid.core.update.Restarts;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.update.UpdateNotice;
import lucid.core.update.Vulnerability;

/** Small hosts, populations and updates for tests. */
public final class TestFleet {

    public static final Instant NOW = Instant.parse("2026-11-24T09:00:00Z");

    private TestFleet() {}

    public static Host host(int number, Map<String, Trait> traits, String... purls) {
        return hostSeen(number, NOW, traits, purls);
    }

    public static Host hostSeen(int number, Instant lastReport, Map<String, Trait> traits, String... purls) {
        return Host.first(number, report(number, lastReport, Optional.empty(), traits, purls));
    }

    public static HostReport report(
            int number, Instant at, Optional<Instant> lastStart, Map<String, Trait> traits, String... purls) {
        List<InstalledProduct> products = Arrays.stream(purls)
                .map(PackageReference::parse)
                .map(r -> new InstalledProduct(r.build(), r.version().orElseThrow()))
                .toList();
        return new HostReport(
                hostName("host-" + number),
                "Fathom OS 31",
                at,
                traits,
                products,
                Optional.empty(),
                lastStart,
                List.of());
    }

    /** These hosts and updates as one snapshot. */
    public static Carriages carriages(Fleet fleet, List<Update> updates) {
        List<Host> hosts = fleet.hosts(fleet.all()).toList();
        return new Carriages(
                Catalogue.EMPTY.with(updates), fleet, index(hosts, false), index(hosts, true), Outcomes.NONE);
    }

    public static CarrierIndex index(List<Host> hosts, boolean running) {
        return CarrierIndex.EMPTY.with(hosts.stream()
                .map(h -> new CarrierIndex.Change(h.number(), List.of(), running ? h.running() : h.products()))
                .toList());
    }

    public static Trait text(String value) {
        return new Trait.Text(value);
    }

    public static Trait number(long value) {
        return new Trait.Number(value);
    }

    /** The same population at other times. */
    public static Population with(Timing timing, Population p) {
        return new Population(
                p.id(),
                p.name(),
                p.condition(),
                p.includes(),
                p.excludes(),
                p.tier(),
                p.owner(),
                p.protectedHosts(),
                p.supply(),
                timing,
                p.rule());
    }

    /** A tier 2 population that offers everything after {@code delayDays}. */
    public static Population population(String id, String condition, int delayDays) {
        return new Population(
                populationId(id),
                id,
                HostConditions.parse(condition),
                Set.of(),
                Set.of(),
                2,
                "owner",
                Set.of(),
                Optional.empty(),
                Timing.ANY_TIME,
                new StandingRule(List.of(), StandingRule.Offer.afterDays(delayDays)));
    }

    /** The same under another rule. */
    public static Population with(Population population, StandingRule rule) {
        return new Population(
                population.id(),
                population.name(),
                population.condition(),
                population.includes(),
                population.excludes(),
                population.tier(),
                population.owner(),
                population.protectedHosts(),
                population.supply(),
                population.timing(),
                population.staysAt(),
                rule);
    }

    /** An advisory of its vendor that says nothing beside what it closes, and what is fixed. */
    public static Advisory advisory(
            String id, Optional<Kind> kind, List<Vulnerability> vulnerabilities, List<Fix> fixes, Instant published) {
        return advisory(id, kind, vulnerabilities, fixes, Restarts.NOT_TOLD, published);
    }

    private static Advisory advisory(
            String id,
            Optional<Kind> kind,
            List<Vulnerability> vulnerabilities,
            List<Fix> fixes,
            Restarts restarts,
            Instant published) {
        return new Advisory(
                AdvisorySource.CSAF,
                updateId(id),
                "Fathom lib",
                "Fathom",
                "",
                "1",
                "",
                published,
                published,
                kind,
                Optional.empty(),
                vulnerabilities,
                fixes,
                restarts,
                Optional.empty(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                Optional.empty());
    }

    /** A bugfix published and read {@code NOW}, fixed in the given versions. */
    public static Update update(String id, String... fixedPurls) {
        return update(id, RestartNeed.NONE, List.of(), fixedPurls);
    }

    public static Update update(String id, RestartNeed restart, List<String> supersedes, String... fixedPurls) {
        List<Fix> fixes = Arrays.stream(fixedPurls)
                .map(PackageReference::parse)
                .map(r -> new Fix(
                        r.build(), List.of(AffectedRange.below(r.version().orElseThrow()))))
                .toList();
        return update(notice(id, "1", restart, supersedes, List.of(), fixes), Optional.empty(), NOW);
    }

    /** An update that contains the changes of others without superseding them. */
    public static Update bringing(String id, List<String> brings, String... fixedPurls) {
        List<Fix> fixes = update(id, fixedPurls).fixes();
        return update(
                new UpdateNotice(
                        updateId(id),
                        "Update " + id,
                        "Fathom",
                        "",
                        "1",
                        NOW,
                        Kind.BUGFIX,
                        Optional.empty(),
                        Optional.of(RestartNeed.NONE),
                        Removable.NOT_TOLD,
                        List.of(),
                        brings.stream().map(UpdateId::new).toList(),
                        List.of(),
                        List.of(),
                        fixes),
                Optional.empty(),
                NOW);
    }

    public static UpdateNotice notice(
            String id,
            String revision,
            RestartNeed restart,
            List<String> supersedes,
            List<String> platforms,
            List<Fix> fixes) {
        return new UpdateNotice(
                updateId(id),
                "Update " + id,
                "Fathom",
                "",
                revision,
                NOW,
                Kind.BUGFIX,
                Optional.empty(),
                Optional.of(restart),
                Removable.NOT_TOLD,
                supersedes.stream().map(UpdateId::new).toList(),
                List.of(),
                platforms,
                List.of(),
                fixes);
    }

    /** The same, of another kind. */
    public static UpdateNotice ofKind(Kind kind, UpdateNotice notice) {
        return new UpdateNotice(
                notice.id(),
                notice.title(),
                notice.vendor(),
                notice.summary(),
                notice.revision(),
                notice.published(),
                kind,
                notice.sizeBytes(),
                notice.restart(),
                notice.removable(),
                notice.supersedes(),
                notice.brings(),
                notice.platforms(),
                notice.requires(),
                notice.fixes());
    }

    public static UpdateNotice removable(UpdateNotice notice, Removable removable) {
        return new UpdateNotice(
                notice.id(),
                notice.title(),
                notice.vendor(),
                notice.summary(),
                notice.revision(),
                notice.published(),
                notice.kind(),
                notice.sizeBytes(),
                notice.restart(),
                removable,
                notice.supersedes(),
                notice.brings(),
                notice.platforms(),
                notice.requires(),
                notice.fixes());
    }

    /** As the notice says, for hosts that have all of this. */
    public static UpdateNotice requiring(UpdateNotice notice, Requirement... requires) {
        return new UpdateNotice(
                notice.id(),
                notice.title(),
                notice.vendor(),
                notice.summary(),
                notice.revision(),
                notice.published(),
                notice.kind(),
                notice.sizeBytes(),
                notice.restart(),
                notice.removable(),
                notice.supersedes(),
                notice.brings(),
                notice.platforms(),
                List.of(requires),
                notice.fixes());
    }

    /** As the notice says, beside an advisory that says what must be restarted for single products. */
    public static Update update(UpdateNotice notice, Map<ProductBuild, RestartNeed> restarts, Instant read) {
        Advisory advisory = advisory(
                notice.id().value(),
                Optional.empty(),
                List.of(),
                List.of(),
                new Restarts(Optional.empty(), restarts),
                NOW);
        return Update.join(List.of(advisory), Optional.of(notice), Optional.empty(), read);
    }

    public static Update update(UpdateNotice notice, Optional<Update> before, Instant read) {
        return Update.join(List.of(), Optional.of(notice), before, read);
    }
}
