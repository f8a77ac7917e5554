package lucid.server.hosts;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.OnSources;
import lucid.core.docket.HostUpdate;
import lucid.core.fleet.Absence;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.PackageLists;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.Trait;
import lucid.core.ruling.Differences;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.audit.AuditEntry;
import lucid.server.hosts.HostQuestion.Asked;
import lucid.server.hosts.HostQuestion.DifferenceView;
import lucid.server.hosts.HostQuestion.HostRow;
import lucid.server.orders.Obedience;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.FoundVersion;
import lucid.server.views.RequirementViews;
import lucid.server.views.Views.ExceptionView;
import lucid.server.views.Views.RuleMatchView;
import lucid.server.views.Views.TraitView;
import lucid.server.web.ListFile;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.util.UriUtils;

/** The hosts: those that differ, any that are looked for, and one with all that is known of it. */
@RestController
@RequestMapping("/api/hosts")
class HostsController {

    private static final int PAGE = 200;
    private static final int MOST_CHANGES = 500;

    private final SnapshotStore store;
    private final HostHistoryMapper history;
    private final HostMapper hosts;
    private final Obedience obedience;
    private final Clock clock;
    /** The differences that were computed last: the same snapshot within the same minute has the same. */
    private volatile Computed computed;

    private record Computed(Snapshot snapshot, Instant minute, Differences differences) {}

    HostsController(
            SnapshotStore store, HostHistoryMapper history, HostMapper hosts, Obedience obedience, Clock clock) {
        this.obedience = obedience;
        this.store = store;
        this.hosts = hosts;
        this.history = history;
        this.clock = clock;
    }

    private Differences differences(Snapshot snapshot, Instant now) {
        Instant minute = Instant.ofEpochSecond(now.getEpochSecond() / 60 * 60);
        Computed known = computed;
        if (known == null || known.snapshot() != snapshot || !known.minute().equals(minute)) {
            known = new Computed(
                    snapshot,
                    minute,
                    Differences.of(snapshot.carriages(), snapshot.decisions(), obedience.notObeying(), now));
            computed = known;
        }
        return known.differences();
    }

    /** An update of those that were asked for. */
    record UpdateName(UpdateId id, String title) {}

    /**
     * @param next cursor: the name after which the list goes on
     * @param differing hosts that differ in any way, of all that the caller sees
     * @param retired names of hosts that were retired, for who sees all
     * @param lacked the updates that were asked for
     * @param traits those that a condition may name
     */
    record HostsPage(
            List<HostRow> hosts,
            int count,
            Optional<HostName> next,
            int all,
            List<HostName> retired,
            int differing,
            Map<Differences.Way, Integer> ways,
            List<UpdateName> lacked,
            List<TraitView> traits) {}

    @GetMapping
    HostsPage hosts(@ParameterObject Asked asked, @RequestParam Optional<HostName> after, Snapshot snapshot) {
        HostQuestion question = question(snapshot, asked);
        List<Host> page = question.hosts()
                .filter(h -> after.isEmpty() || h.name().compareTo(after.get()) > 0)
                .limit(PAGE + 1)
                .toList();
        boolean more = page.size() > PAGE;
        return new HostsPage(
                page.stream().limit(PAGE).map(question::row).toList(),
                question.count(),
                more ? Optional.of(page.get(PAGE - 1).name()) : Optional.empty(),
                question.seenHosts(),
                snapshot.fleet()
                        .hosts(snapshot.fleet().retired())
                        .map(Host::name)
                        .toList(),
                question.differing(),
                question.ways(),
                question.lacked().stream()
                        .map(u -> new UpdateName(u.id(), u.title()))
                        .toList(),
                TraitView.all(snapshot.fleet()));
    }

    private HostQuestion question(Snapshot snapshot, Asked asked) {
        Instant now = clock.instant();
        return new HostQuestion(snapshot, differences(snapshot, now), asked, now);
    }

    @GetMapping(path = "/hosts.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(@ParameterObject Asked asked, Snapshot snapshot) {
        HostQuestion question = question(snapshot, asked);
        return ListFile.csv(
                "hosts.csv",
                List.of(
                        "host",
                        "platform",
                        "population",
                        "last report",
                        "takes updates from",
                        "should take them from",
                        "differs",
                        "lacks",
                        "version"),
                question.hosts()
                        .map(question::row)
                        .map(r -> List.of(
                                r.name(),
                                r.platform(),
                                r.population(),
                                r.lastReport(),
                                r.supply().orElse(""),
                                r.expectedSupply().orElse(""),
                                r.differences().stream()
                                        .map(HostsController::words)
                                        .collect(Collectors.joining("; ")),
                                r.lacks().stream()
                                        .map(l -> l.id() + " "
                                                + l.state().name().toLowerCase().replace('_', ' '))
                                        .collect(Collectors.joining("; ")),
                                String.join("; ", r.versions()))));
    }

    private static String words(DifferenceView difference) {
        String way = difference.way().name().toLowerCase().replace('_', ' ');
        return difference.updates().isEmpty()
                ? way
                : way + ": "
                        + difference.updates().stream().map(UpdateId::value).collect(Collectors.joining(", "));
    }

    /** @param told true if a table tells it, false if the host does */
    record TraitValue(String name, String value, boolean told) {}

    /**
     * @param since when this version was first reported; none: as long as the host is known
     * @param level title of the newest update of the track that the version reaches
     * @param candidate version that its package manager would install instead
     * @param highest version in its sources, where that is another one
     */
    record ProductOnHost(
            String purl,
            String distro,
            String arch,
            String version,
            Optional<Instant> since,
            Optional<String> running,
            Optional<String> level,
            Optional<String> track,
            Optional<String> candidate,
            Optional<String> highest) {}

    /**
     * @param onSources of what it lacks: what the lists of its sources have
     * @param contains earlier updates that fold under it
     * @param lacks what the host is known to lack of what the update requires, in words
     */
    record UpdateOnHost(
            UpdateId id,
            String title,
            Kind kind,
            Rating rating,
            Instant published,
            CarriageState state,
            CarriageState lastKnown,
            boolean lacking,
            boolean viaSuccessor,
            List<FoundVersion> versions,
            Optional<OnSources.Found> onSources,
            RuleMatchView holds,
            Optional<Instant> until,
            List<RuleMatchView> chain,
            List<UpdateId> contains,
            List<String> lacks) {}

    /** @param expected false if it is none of those that it should use */
    record CameFrom(String source, int products, boolean expected) {}

    /**
     * @param fetched when its package manager last fetched the lists of its sources
     * @param cameFrom how many of its products came from each source, most first
     */
    record ListsOfHost(Instant fetched, List<CameFrom> cameFrom) {}

    record RetirementView(String reason, String author, Instant at) {}

    /** @param leastBattery per cent of charge that its population asks for on battery */
    record PreventedHost(Restraint.Prevention why, int leastBattery) {}

    /**
     * Everything that is known of one host.
     *
     * @param retirement if it was retired: why; then it counts nowhere, and what stands here is as it last was
     * @param populationId none if it is in no population
     * @param alsoMatches names of populations further down that match it too
     * @param unknownFrom from when on it is too long silent to tell its state
     * @param prevented what would keep it from installing anything now, as it last told
     * @param changes the newest first, at most 500
     */
    record HostView(
            HostName name,
            Optional<RetirementView> retirement,
            String platform,
            Optional<PopulationId> populationId,
            String population,
            Optional<Integer> tier,
            List<String> alsoMatches,
            Optional<String> supply,
            Optional<String> expectedSupply,
            Optional<ListsOfHost> lists,
            Optional<Instant> lastStart,
            Instant lastReport,
            Instant firstReport,
            Instant unknownFrom,
            long rhythmHours,
            List<Absence> absences,
            List<DifferenceView> differences,
            Optional<PreventedHost> prevented,
            List<TraitValue> traits,
            List<ProductOnHost> products,
            List<ExceptionView> exceptions,
            List<HostHistoryMapper.Change> changes,
            List<HostHistoryMapper.Happened> outcomes) {}

    /** @param reason why it is counted no more */
    record RetirementDraft(String reason) {}

    /** @param undo address to which a DELETE brings it back */
    record Retired(HostName name, String undo) {}

    /** Retires a host: it counts nowhere from now on, its history stays, and its next report brings it back. */
    @PostMapping("/{name}/retirement")
    @ResponseStatus(HttpStatus.CREATED)
    Retired retire(@PathVariable HostName name, @RequestBody RetirementDraft draft, Principal who) {
        String reason = ProblemException.requireLine(
                "reason", draft.reason(), 2000, "say why it is retired, in at most 2,000 characters");
        return store.write(snapshot -> {
            Host host = snapshot.fleet()
                    .host(name)
                    .orElseThrow(() -> ProblemException.notFound("there is no host " + name));
            if (snapshot.fleet().isRetired(host.number())) {
                throw new ProblemException(HttpStatus.CONFLICT, "name", name + " is retired already");
            }
            hosts.retire(new HostMapper.Retirement(host.number(), reason, who.getName(), clock.instant()));
            store.record(AuditEntry.Kind.HOSTS, name.value(), who, "Retired the host " + name + ": " + reason + ".");
            RoaringBitmap retired = snapshot.fleet().retired();
            retired.add(host.number());
            return new SnapshotStore.Change<>(
                    snapshot.withRetired(retired),
                    new Retired(
                            name,
                            "/api/hosts/" + UriUtils.encodePathSegment(name.value(), StandardCharsets.UTF_8)
                                    + "/retirement"));
        });
    }

    /** Brings a retired host back: it counts as it last reported. */
    @DeleteMapping("/{name}/retirement")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void bringBack(@PathVariable HostName name, Principal who) {
        store.write(snapshot -> {
            Host host = snapshot.fleet()
                    .host(name)
                    .orElseThrow(() -> ProblemException.notFound("there is no host " + name));
            if (hosts.bringBack(host.number()) == 0) {
                throw new ProblemException(HttpStatus.CONFLICT, "name", name + " is not retired");
            }
            store.record(
                    AuditEntry.Kind.HOSTS,
                    name.value(),
                    who,
                    "Brought the host " + name + " back; it counts as it last reported.");
            RoaringBitmap retired = snapshot.fleet().retired();
            retired.remove(host.number());
            return new SnapshotStore.Change<>(snapshot.withRetired(retired), true);
        });
    }

    @GetMapping("/{name}")
    HostView host(@PathVariable HostName name, Snapshot snapshot) {
        Instant now = clock.instant();
        Host host = known(name, snapshot);
        Optional<Population> owner = snapshot.fleet().ladder().owner(host);
        Duration rhythm = snapshot.fleet().rhythmOf(host);
        HostHistoryMapper.Beginning beginning = history.beginning(host.number());
        List<HostHistoryMapper.Change> changes = history.changes(host.number(), MOST_CHANGES);
        return new HostView(
                host.name(),
                hosts.retirement(host.number()).map(r -> new RetirementView(r.reason(), r.author(), r.createdAt())),
                host.platform(),
                owner.map(Population::id),
                owner.map(Population::name).orElse("In no population"),
                owner.map(Population::tier),
                snapshot.fleet().ladder().overlaps(host).stream()
                        .map(Population::name)
                        .toList(),
                host.supply(),
                owner.flatMap(Population::supply),
                host.lists().map(lists -> lists(lists, host, owner)),
                host.lastStart(),
                host.lastReport(),
                beginning.firstReport(),
                host.unknownFrom(rhythm),
                rhythm.toHours(),
                host.absences(),
                HostQuestion.differencesOf(host, differences(snapshot, now)),
                prevented(host, snapshot.fleet()),
                traits(host, beginning),
                products(host, snapshot.carriages(), changes),
                snapshot.decisions().exceptions().stream()
                        .filter(e -> e.standsAt(now) && e.hosts().test(host))
                        .map(e -> ExceptionView.of(e, now))
                        .toList(),
                changes,
                history.outcomes(host.number(), MOST_CHANGES));
    }

    private static Optional<PreventedHost> prevented(Host host, Fleet fleet) {
        Restraint restraint = fleet.ladder().entryOf(host).timing().restraint();
        return restraint.prevents(host, Optional.empty()).map(why -> new PreventedHost(why, restraint.leastBattery()));
    }

    private static ListsOfHost lists(PackageLists lists, Host host, Optional<Population> owner) {
        Map<String, Integer> elsewhere =
                owner.map(population -> population.cameFromElsewhere(host)).orElse(Map.of());
        return new ListsOfHost(
                lists.fetched(),
                lists.cameFrom().entrySet().stream()
                        .sorted(Map.Entry.<String, Integer>comparingByValue()
                                .reversed()
                                .thenComparing(Map.Entry.comparingByKey()))
                        .map(from ->
                                new CameFrom(from.getKey(), from.getValue(), !elsewhere.containsKey(from.getKey())))
                        .toList());
    }

    private static List<TraitValue> traits(Host host, HostHistoryMapper.Beginning beginning) {
        Map<String, Trait> own = HostColumns.readTraits(beginning.traits());
        return host.traits().entrySet().stream()
                .sorted(Map.Entry.comparingByKey())
                .map(e -> new TraitValue(e.getKey(), e.getValue().toString(), !own.containsKey(e.getKey())))
                .toList();
    }

    private static Host known(HostName name, Snapshot snapshot) {
        return snapshot.fleet().host(name).orElseThrow(() -> ProblemException.notFound("there is no host " + name));
    }

    /**
     * @param lacking how many of all it lacks
     * @param carrying how many of all it carries
     * @param next identifier of the update after which the next page goes on, if there is one
     */
    record UpdatesOnHost(List<UpdateOnHost> updates, int lacking, int carrying, Optional<UpdateId> next) {}

    /**
     * The updates that speak of a host, those first that are worst rated.
     *
     * @param lacking only those that it lacks, or only those that it carries
     * @param after identifier of the last update of the page before
     */
    @GetMapping("/{name}/updates")
    UpdatesOnHost updates(
            @PathVariable HostName name,
            @RequestParam Optional<Boolean> lacking,
            @RequestParam Optional<UpdateId> after,
            Snapshot snapshot) {
        Host host = known(name, snapshot);
        List<HostUpdate> all = HostUpdate.of(host, snapshot.carriages(), snapshot.decisions(), clock.instant());
        List<HostUpdate> asked = all.stream()
                .filter(one ->
                        lacking.filter(wanted -> wanted != one.isLacking()).isEmpty())
                .toList();
        List<HostUpdate> rest = asked.stream()
                .dropWhile(
                        one -> after.filter(id -> !id.equals(one.update().id())).isPresent())
                .skip(after.isPresent() ? 1 : 0)
                .toList();
        List<HostUpdate> page = rest.subList(0, Math.min(PAGE, rest.size()));
        int lacked = (int) all.stream().filter(HostUpdate::isLacking).count();
        return new UpdatesOnHost(
                page.stream().map(one -> view(one, host, snapshot)).toList(),
                lacked,
                all.size() - lacked,
                rest.size() > PAGE ? Optional.of(page.get(PAGE - 1).update().id()) : Optional.empty());
    }

    private static UpdateOnHost view(HostUpdate one, Host host, Snapshot snapshot) {
        Update u = one.update();
        return new UpdateOnHost(
                u.id(),
                u.title(),
                u.kind(),
                u.rating(),
                u.published(),
                one.state(),
                one.lastKnown(),
                one.isLacking(),
                one.viaSuccessor(),
                FoundVersion.all(u, host, snapshot.carriages()),
                one.isLacking() ? Optional.of(OnSources.of(u, host)) : Optional.empty(),
                RuleMatchView.of(one.ruling().holds(), snapshot.decisions()),
                one.ruling().until(),
                one.ruling().chain().stream()
                        .map(f -> RuleMatchView.of(f, snapshot.decisions()))
                        .toList(),
                one.contains(),
                one.isLacking() ? RequirementViews.notMetBy(host, u) : List.of());
    }

    private static List<ProductOnHost> products(
            Host host, Carriages carriages, List<HostHistoryMapper.Change> changes) {
        Map<String, Instant> since = new HashMap<>();
        changes.forEach(change -> since.putIfAbsent(change.build(), change.at()));
        return host.products().stream()
                .map((InstalledProduct p) -> {
                    Optional<Carriages.Level> level = carriages.level(p);
                    return new ProductOnHost(
                            p.build().product().purl(),
                            p.build().distro(),
                            p.build().arch(),
                            p.version(),
                            Optional.ofNullable(since.get(p.build().toString())),
                            host.runningInsteadOf(p.build()),
                            level.map(l -> l.update().title()),
                            level.flatMap(Carriages.Level::track),
                            newer(host, p, true),
                            newer(host, p, false));
                })
                .toList();
    }

    private static Optional<String> newer(Host host, InstalledProduct product, boolean candidate) {
        return host.lists().stream()
                .flatMap(lists -> lists.newer().stream())
                .filter(newer -> newer.candidate() == candidate
                        && newer.product().build().equals(product.build()))
                .map(newer -> newer.product().version())
                .findFirst();
    }
}
