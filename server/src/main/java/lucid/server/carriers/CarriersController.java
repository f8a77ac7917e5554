package lucid.server.carriers;

import java.time.Clock;
import java.time.Instant;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.docket.Docket;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Ruling;
import lucid.core.ruling.Timeline;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.update.Vulnerability;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.CarrierRows;
import lucid.server.views.CarrierRows.Column;
import lucid.server.views.CarrierRows.Row;
import lucid.server.views.FoundVersion;
import lucid.server.views.Views;
import lucid.server.views.Views.RuleMatchView;
import lucid.server.web.Csv;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Which hosts carry what. */
@RestController
@RequestMapping("/api/carriers")
class CarriersController {

    private static final int PAGE = 200;
    private static final Comparator<Update> NEWEST_FIRST =
            Comparator.comparing(Update::published).reversed().thenComparing(Update::id);

    private final Clock clock;

    CarriersController(Clock clock) {
        this.clock = clock;
    }

    /**
     * @param rows a page of those that match
     * @param matching how many match
     * @param updates all updates but content
     * @param next cursor: identifier of the update after which the rows go on
     */
    record Matrix(
            List<Column> columns,
            List<Row> rows,
            int matching,
            int updates,
            int content,
            Optional<UpdateId> next,
            int hosts,
            int unknownHosts,
            Optional<Instant> lastReport) {}

    /**
     * Updates by populations, newest first.
     *
     * @param find part of an identifier, a title or a CVE, in any case
     * @param content content instead of all other kinds
     */
    @GetMapping
    Matrix matrix(
            @RequestParam(defaultValue = "") String find,
            @RequestParam(defaultValue = "false") boolean content,
            @RequestParam Optional<UpdateId> after,
            Snapshot snapshot) {
        Fleet fleet = snapshot.fleet();
        Instant now = clock.instant();
        Collection<Update> updates = snapshot.catalogue().updates();
        String wanted = find.toLowerCase(Locale.ROOT);
        List<Update> matching = updates.stream()
                .filter(update -> Docket.isNoise(update) == content)
                .filter(update -> names(update)
                        .anyMatch(name -> name.toLowerCase(Locale.ROOT).contains(wanted)))
                .sorted(NEWEST_FIRST)
                .toList();
        // Whatever comes behind the cursor in this order, also where the update at the cursor no longer matches.
        List<Update> rest = after.map(id -> matching.stream()
                        .filter(update -> NEWEST_FIRST.compare(update, snapshot.update(id)) > 0)
                        .toList())
                .orElse(matching);
        List<Column> columns = CarrierRows.columns(fleet);
        List<Row> rows = rest.stream()
                .limit(PAGE)
                .map(update -> CarrierRows.row(update, snapshot.carriage(update, now), fleet, columns))
                .toList();
        int contents = (int) updates.stream().filter(Docket::isNoise).count();
        return new Matrix(
                columns,
                rows,
                matching.size(),
                updates.size() - contents,
                contents,
                rest.size() > PAGE ? Optional.of(rest.get(PAGE - 1).id()) : Optional.empty(),
                fleet.all().getCardinality(),
                fleet.unknownAt(now).getCardinality(),
                fleet.hosts(fleet.all()).map(Host::lastReport).max(Instant::compareTo));
    }

    private static Stream<String> names(Update update) {
        return Stream.concat(
                Stream.of(update.id().value(), update.title()),
                update.vulnerabilities().stream().map(Vulnerability::id));
    }

    record OfUpdate(List<Column> columns, Row row) {}

    /** One update: its states by population. */
    @GetMapping("/{id}")
    OfUpdate ofUpdate(@PathVariable UpdateId id, Snapshot snapshot) {
        List<Column> columns = CarrierRows.columns(snapshot.fleet());
        Update update = snapshot.update(id);
        return new OfUpdate(
                columns,
                CarrierRows.row(update, snapshot.carriage(update, clock.instant()), snapshot.fleet(), columns));
    }

    /** What the host told last of this update. */
    record ReportedOutcome(Outcome.What what, Instant at, Optional<String> code) {}

    /** @param viaSuccessor true if it carries the update only because it carries a successor */
    record CarrierHost(
            HostName name,
            String population,
            CarriageState state,
            CarriageState lastKnown,
            boolean viaSuccessor,
            Optional<ReportedOutcome> told,
            List<FoundVersion> versions,
            Instant lastReport,
            RuleMatchView holds,
            Optional<Instant> until) {}

    /** @param next cursor: the name after which the list goes on */
    record HostPage(List<CarrierHost> hosts, int count, Optional<HostName> next) {}

    /** The hosts of one update by name, of some populations or all, in one state or all. */
    @GetMapping("/{id}/hosts")
    HostPage hosts(
            @PathVariable UpdateId id,
            @RequestParam(defaultValue = "") List<PopulationId> population,
            @RequestParam(name = "state") Optional<CarriageState> wanted,
            @RequestParam Optional<HostName> after,
            Snapshot snapshot) {
        Question question = new Question(snapshot, id, population, wanted, clock.instant());
        List<Host> page = question.hosts()
                .filter(h -> after.isEmpty() || h.name().compareTo(after.get()) > 0)
                .limit(PAGE + 1)
                .toList();
        boolean more = page.size() > PAGE;
        return new HostPage(
                page.stream().limit(PAGE).map(question::view).toList(),
                question.set.getCardinality(),
                more ? Optional.of(page.get(PAGE - 1).name()) : Optional.empty());
    }

    @GetMapping(path = "/{id}/hosts.csv", produces = "text/csv")
    ResponseEntity<String> csv(
            @PathVariable UpdateId id,
            @RequestParam(defaultValue = "") List<PopulationId> population,
            @RequestParam(name = "state") Optional<CarriageState> wanted,
            Snapshot snapshot) {
        Question question = new Question(snapshot, id, population, wanted, clock.instant());
        return Csv.file(
                "carriers-" + id.value().replaceAll("[^A-Za-z0-9.-]", "_") + ".csv",
                List.of(
                        "host",
                        "population",
                        "state",
                        "last known state",
                        "versions found",
                        "versions expected",
                        "last report",
                        "what holds",
                        "until"),
                question.hosts()
                        .map(question::view)
                        .map(h -> List.of(
                                h.name(),
                                h.population(),
                                words(h.state()),
                                words(h.lastKnown()),
                                joined(h, v -> v.product() + " " + v.found()),
                                joined(h, v -> v.expected()
                                        .map(e -> v.product() + " " + e)
                                        .orElse("")),
                                h.lastReport(),
                                h.holds().effect().name().toLowerCase().replace('_', ' '),
                                h.until().map(Instant::toString).orElse(""))));
    }

    private static String joined(CarrierHost host, Function<FoundVersion, String> part) {
        return host.versions().stream().map(part).filter(p -> !p.isEmpty()).collect(Collectors.joining("; "));
    }

    private static String words(CarriageState state) {
        return state.name().toLowerCase().replace('_', ' ');
    }

    /** Which hosts of one update are asked for, on one snapshot. */
    private static final class Question {
        private final Snapshot snapshot;
        private final Update update;
        private final Carriage carriage;
        private final Timeline timeline;
        private final Map<Integer, Outcome> told;
        private final Instant now;
        private final RoaringBitmap set;

        Question(
                Snapshot snapshot,
                UpdateId id,
                List<PopulationId> populations,
                Optional<CarriageState> wanted,
                Instant now) {
            this.snapshot = snapshot;
            this.update = snapshot.update(id);
            this.now = now;
            this.carriage = snapshot.carriage(update, now);
            this.told = snapshot.carriages().outcomes().last(update.id());
            this.timeline = Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue());
            this.set = populations.isEmpty() ? snapshot.fleet().all() : Views.members(snapshot.fleet(), populations);
            // Without a state: the hosts of which the update speaks.
            set.and(wanted.map(carriage::in).orElseGet(carriage::applicable));
        }

        Stream<Host> hosts() {
            return snapshot.fleet().hosts(set);
        }

        CarrierHost view(Host host) {
            CarriageState lastKnown = carriage.lastKnown(host.number());
            Ruling ruling = timeline.ruling(host, lastKnown, now);
            return new CarrierHost(
                    host.name(),
                    snapshot.fleet().ladder().owner(host).map(Population::name).orElse("In no population"),
                    carriage.of(host.number()),
                    lastKnown,
                    carriage.viaSuccessor().contains(host.number()),
                    Optional.ofNullable(told.get(host.number()))
                            .map(o -> new ReportedOutcome(o.what(), o.at(), o.code())),
                    FoundVersion.all(update, host, snapshot.carriages()),
                    host.lastReport(),
                    RuleMatchView.of(ruling.holds(), snapshot.decisions()),
                    ruling.until());
        }
    }
}
