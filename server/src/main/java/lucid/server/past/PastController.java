package lucid.server.past;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageDifference;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.hosts.PastFleets;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.CarrierRows;
import lucid.server.views.FoundVersion;
import lucid.server.views.Views;
import lucid.server.views.Views.HostList;
import lucid.server.web.ListFile;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/**
 * Which hosts carried an update on a past day, and what became of that. Days are of UTC, and are meant at their end.
 */
@RestController
@RequestMapping("/api/carriers/{id}")
class PastController {

    private static final int PAGE = 200;
    private static final String UNASSIGNED = "In no population";

    private final PastFleets past;
    private final Clock clock;

    PastController(PastFleets past, Clock clock) {
        this.past = past;
        this.clock = clock;
    }

    /** The fleet at an instant, and who carried the update then. */
    private record Moment(Instant at, Carriages carriages, Carriage carriage) {}

    /** @throws ProblemException for a day that is still to come */
    private Moment moment(Snapshot snapshot, Update update, String field, Optional<LocalDate> day) {
        Instant now = clock.instant();
        Instant at = day.map(one -> Views.endOfDay(one, ZoneOffset.UTC)).orElse(now);
        if (day.filter(one -> one.isAfter(LocalDate.ofInstant(now, ZoneOffset.UTC)))
                .isPresent()) {
            throw ProblemException.badField(field, day.get() + " is still to come");
        }
        if (!at.isBefore(now)) {
            return new Moment(now, snapshot.carriages(), snapshot.carriage(update, now));
        }
        Carriages then = past.at(snapshot, update, at);
        return new Moment(at, then, then.of(update, at));
    }

    /**
     * @param at the end of the day, or now
     * @param firstRead when this product first read of the update: before that nobody here knew of it
     */
    record PastOfUpdate(
            Instant at, Instant firstRead, List<CarrierRows.Column> columns, CarrierRows.Row row, int hosts) {}

    /** States by population at the end of a day, by the populations and the fixed versions that are known now. */
    @GetMapping("/past")
    PastOfUpdate past(@PathVariable UpdateId id, @RequestParam LocalDate on, Snapshot snapshot) {
        Update update = snapshot.update(id);
        Moment then = moment(snapshot, update, "on", Optional.of(on));
        Fleet fleet = then.carriages().fleet();
        List<CarrierRows.Column> columns = CarrierRows.columns(fleet);
        return new PastOfUpdate(
                then.at(),
                update.firstRead(),
                columns,
                CarrierRows.row(update, then.carriage(), fleet, columns),
                fleet.all().getCardinality());
    }

    /** @param versions found then, with the version that is expected */
    record PastHost(HostName name, String population, CarriageState state, List<FoundVersion> versions) {}

    /** @param next cursor: the name after which the list goes on */
    record PastHosts(List<PastHost> hosts, int count, Optional<HostName> next) {}

    /** The hosts by name, of some populations or all, in one state or all. */
    @GetMapping("/past/hosts")
    PastHosts hosts(
            @PathVariable UpdateId id,
            @RequestParam LocalDate on,
            @RequestParam(defaultValue = "") List<PopulationId> population,
            @RequestParam Optional<CarriageState> state,
            @RequestParam Optional<HostName> after,
            Snapshot snapshot) {
        Update update = snapshot.update(id);
        Moment then = moment(snapshot, update, "on", Optional.of(on));
        RoaringBitmap asked = asked(then, population, state);
        List<Host> page = then.carriages()
                .fleet()
                .hosts(asked)
                .filter(host -> after.isEmpty() || host.name().compareTo(after.get()) > 0)
                .limit(PAGE + 1)
                .toList();
        boolean more = page.size() > PAGE;
        return new PastHosts(
                page.stream().limit(PAGE).map(host -> view(host, update, then)).toList(),
                asked.getCardinality(),
                more ? Optional.of(page.get(PAGE - 1).name()) : Optional.empty());
    }

    @GetMapping(path = "/past/hosts.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(
            @PathVariable UpdateId id,
            @RequestParam LocalDate on,
            @RequestParam(defaultValue = "") List<PopulationId> population,
            @RequestParam Optional<CarriageState> state,
            Snapshot snapshot) {
        Update update = snapshot.update(id);
        Moment then = moment(snapshot, update, "on", Optional.of(on));
        return ListFile.csv(
                "carriers-" + fileName(id) + "-" + on + ".csv",
                List.of("host", "population", "state", "versions found", "versions expected", "at"),
                then.carriages().fleet().hosts(asked(then, population, state)).map(host -> {
                    PastHost one = view(host, update, then);
                    return List.of(
                            one.name(),
                            one.population(),
                            words(one.state()),
                            FoundVersion.found(one.versions()),
                            FoundVersion.expected(one.versions()),
                            then.at());
                }));
    }

    private static RoaringBitmap asked(Moment then, List<PopulationId> populations, Optional<CarriageState> state) {
        Fleet fleet = then.carriages().fleet();
        RoaringBitmap asked = populations.isEmpty() ? fleet.all().clone() : Views.members(fleet, populations);
        // Without a state: the hosts of which the update speaks.
        asked.and(state.map(then.carriage()::in).orElseGet(then.carriage()::applicable));
        return asked;
    }

    private static PastHost view(Host host, Update update, Moment then) {
        return new PastHost(
                host.name(),
                population(host, then.carriages().fleet()),
                then.carriage().of(host.number()),
                FoundVersion.all(update, host, then.carriages()));
    }

    private static String population(Host host, Fleet fleet) {
        return fleet.ladder().owner(host).map(Population::name).orElse(UNASSIGNED);
    }

    /** What became of the update on a host between two instants, as {@link CarriageDifference} says. */
    enum Became {
        GAINED,
        JOINED,
        LOST,
        LEFT,
        KEPT
    }

    /** @param population name of it, or of none */
    record InPopulation(String population, int hosts) {}

    /** @param byPopulation those with such hosts, in the order of the ladder */
    record BecameView(Became what, HostList hosts, List<InPopulation> byPopulation) {}

    /**
     * @param had hosts that had it then
     * @param has hosts that have it at the later instant
     */
    record Difference(Instant from, Instant to, int had, int has, List<BecameView> became) {}

    /** Who had the update on a day, and who has got or lost it since. */
    @GetMapping("/difference")
    Difference difference(
            @PathVariable UpdateId id,
            @RequestParam LocalDate from,
            @RequestParam Optional<LocalDate> to,
            Snapshot snapshot) {
        Update update = snapshot.update(id);
        Moment then = moment(snapshot, update, "from", Optional.of(from));
        Moment later = later(snapshot, update, then, to);
        List<BecameView> became = new ArrayList<>();
        became(update, then, later).forEach((what, hosts) -> {
            Fleet fleet = (what == Became.LEFT ? then : later).carriages().fleet();
            became.add(new BecameView(what, HostList.of(fleet, hosts), byPopulation(hosts, fleet)));
        });
        return new Difference(
                then.at(),
                later.at(),
                then.carriage().having().getCardinality(),
                later.carriage().having().getCardinality(),
                became);
    }

    private Moment later(Snapshot snapshot, Update update, Moment then, Optional<LocalDate> to) {
        Moment later = moment(snapshot, update, "to", to);
        if (!later.at().isAfter(then.at())) {
            throw ProblemException.badField("to", "the later day comes after the earlier one");
        }
        return later;
    }

    private static Map<Became, RoaringBitmap> became(Update update, Moment then, Moment later) {
        CarriageDifference difference =
                CarriageDifference.of(update, then.carriages(), then.at(), later.carriages(), later.at());
        Map<Became, RoaringBitmap> became = new EnumMap<>(Became.class);
        became.put(Became.GAINED, difference.gained());
        became.put(Became.JOINED, difference.joined());
        became.put(Became.LOST, difference.lost());
        became.put(Became.LEFT, difference.left());
        became.put(Became.KEPT, difference.kept());
        return became;
    }

    private static List<InPopulation> byPopulation(RoaringBitmap hosts, Fleet fleet) {
        Map<PopulationId, RoaringBitmap> byEntry = fleet.byEntry(hosts);
        return fleet.ladder().entries().stream()
                .filter(entry -> byEntry.containsKey(entry.id()))
                .map(entry ->
                        new InPopulation(entry.name(), byEntry.get(entry.id()).getCardinality()))
                .toList();
    }

    @GetMapping(path = "/difference.csv", produces = "text/csv")
    ResponseEntity<ListFile> differenceCsv(
            @PathVariable UpdateId id,
            @RequestParam LocalDate from,
            @RequestParam Optional<LocalDate> to,
            Snapshot snapshot) {
        Update update = snapshot.update(id);
        Moment then = moment(snapshot, update, "from", Optional.of(from));
        Moment later = later(snapshot, update, then, to);
        return ListFile.csv(
                "difference-" + fileName(id) + "-" + from + ".csv",
                List.of(
                        "host",
                        "population",
                        "what became of it",
                        "state then",
                        "versions then",
                        "state later",
                        "versions later",
                        "then",
                        "later"),
                became(update, then, later).entrySet().stream()
                        .flatMap(group -> (group.getKey() == Became.LEFT ? then : later)
                                .carriages()
                                .fleet()
                                .hosts(group.getValue())
                                .map(host -> row(group.getKey(), host, update, then, later)))
                        .sorted(Comparator.comparing(row -> String.valueOf(row.get(0)))));
    }

    private static List<Object> row(Became what, Host host, Update update, Moment then, Moment later) {
        boolean wasThere = what != Became.JOINED;
        boolean isThere = what != Became.LEFT;
        return List.of(
                host.name(),
                population(host, (isThere ? later : then).carriages().fleet()),
                what.name().toLowerCase(Locale.ROOT),
                wasThere ? words(then.carriage().of(host.number())) : "not there",
                wasThere ? FoundVersion.found(versions(host, update, then)) : "",
                isThere ? words(later.carriage().of(host.number())) : "not there",
                isThere ? FoundVersion.found(versions(host, update, later)) : "",
                then.at(),
                later.at());
    }

    private static List<FoundVersion> versions(Host host, Update update, Moment moment) {
        return FoundVersion.all(update, moment.carriages().fleet().host(host.number()), moment.carriages());
    }

    private static String words(CarriageState state) {
        return state.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private static String fileName(UpdateId id) {
        return id.value().replaceAll("[^A-Za-z0-9.-]", "_");
    }
}
