package lucid.server.carriers;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.OnSources;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Ruling;
import lucid.core.ruling.Timeline;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.days.KeptDays;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.CarrierRows;
import lucid.server.views.CarrierRows.Column;
import lucid.server.views.CarrierRows.Row;
import lucid.server.views.FoundVersion;
import lucid.server.views.Views;
import lucid.server.views.Views.RuleMatchView;
import lucid.server.views.Views.StateCounts;
import lucid.server.web.ListFile;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Which hosts carry one update. */
@RestController
@RequestMapping("/api/carriers")
class CarriersController {

    private static final int PAGE = 200;

    private final KeptDays days;
    private final Clock clock;

    CarriersController(KeptDays days, Clock clock) {
        this.days = days;
        this.clock = clock;
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

    /** @param populations those with hosts that the update was for, in no order */
    record DayOfUpdate(LocalDate day, List<CountedThen> populations) {}

    record CountedThen(PopulationId id, StateCounts states) {}

    /**
     * @param published on which day
     * @param counted days on which some number was another than the day before, the earliest first
     * @param until the last day that was counted: until then the last numbers stay as they are
     */
    record Curve(LocalDate published, List<DayOfUpdate> counted, Optional<LocalDate> until) {}

    /** How many hosts were in which state at the end of each day, as it was counted then. */
    @GetMapping("/{id}/days")
    Curve days(@PathVariable UpdateId id, Snapshot snapshot) {
        Update update = snapshot.update(id);
        Set<PopulationId> own =
                CarrierRows.columns(snapshot.fleet()).stream().map(Column::id).collect(Collectors.toSet());
        Optional<LocalDate> until = days.last();
        return new Curve(
                LocalDate.ofInstant(update.published(), ZoneOffset.UTC),
                until.map(last -> days.of(id, last)).orElse(List.of()).stream()
                        .map(counted -> new DayOfUpdate(
                                counted.day(),
                                counted.counts().entrySet().stream()
                                        .filter(of -> own.contains(of.getKey()))
                                        .map(of -> new CountedThen(of.getKey(), of.getValue()))
                                        .toList()))
                        .toList(),
                until);
    }

    /** What the host told last of this update. */
    record ReportedOutcome(Outcome.What what, Instant at, Optional<String> code) {}

    /**
     * @param viaSuccessor true if it carries the update only because it carries a successor
     * @param onSources of a host that lacks it: what the lists of its sources have
     */
    record CarrierHost(
            HostName name,
            String population,
            CarriageState state,
            CarriageState lastKnown,
            boolean viaSuccessor,
            Optional<ReportedOutcome> told,
            List<FoundVersion> versions,
            Optional<OnSources.Found> onSources,
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
    ResponseEntity<ListFile> csv(
            @PathVariable UpdateId id,
            @RequestParam(defaultValue = "") List<PopulationId> population,
            @RequestParam(name = "state") Optional<CarriageState> wanted,
            Snapshot snapshot) {
        Question question = new Question(snapshot, id, population, wanted, clock.instant());
        return ListFile.csv(
                "carriers-" + id.value().replaceAll("[^A-Za-z0-9.-]", "_") + ".csv",
                List.of(
                        "host",
                        "population",
                        "state",
                        "last known state",
                        "versions found",
                        "versions expected",
                        "on its sources",
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
                                FoundVersion.found(h.versions()),
                                FoundVersion.expected(h.versions()),
                                h.onSources().map(CarriersController::words).orElse(""),
                                h.lastReport(),
                                h.holds().effect().name().toLowerCase().replace('_', ' '),
                                h.until().map(Instant::toString).orElse(""))));
    }

    private static String words(Enum<?> state) {
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
                    carriage.lacking().contains(host.number())
                            ? Optional.of(OnSources.of(update, host))
                            : Optional.empty(),
                    host.lastReport(),
                    RuleMatchView.of(ruling.holds(), snapshot.decisions()),
                    ruling.until());
        }
    }
}
