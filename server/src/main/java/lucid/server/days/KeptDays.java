package lucid.server.days;

import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.HavingChange;
import lucid.core.docket.Docket;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.days.KeptDayMapper.ChangeRow;
import lucid.server.days.KeptDayMapper.DayRow;
import lucid.server.days.KeptDayMapper.FleetRow;
import lucid.server.days.KeptDayMapper.UpdateRow;
import lucid.server.snapshot.Bitmaps;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.CarrierRows.Column;
import lucid.server.views.Views;
import lucid.server.views.Views.StateCounts;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/**
 * Days as they were counted when they ended, by the populations, versions and silences of that moment. A day is kept
 * once and never counted again; of a day on which this server did not run none is. Beside the numbers it is kept which
 * hosts have come to have each update since the day before, or have it no more. Content, which changes every day, is
 * not counted.
 */
@Component
public class KeptDays {

    private static final TypeReference<Map<String, int[]>> COUNTS = new TypeReference<>() {};
    private static final TypeReference<List<Column>> COLUMNS = new TypeReference<>() {};

    private final KeptDayMapper mapper;
    private final JsonMapper json;

    KeptDays(KeptDayMapper mapper, JsonMapper json) {
        this.mapper = mapper;
        this.json = json;
    }

    /**
     * @param at when it was counted
     * @param populations as they were called then
     * @param lastReport the newest that had been taken
     */
    public record Day(
            LocalDate day,
            Instant at,
            int hosts,
            int unknownHosts,
            Optional<Instant> lastReport,
            List<Column> populations) {}

    /** One update at the end of a day; of a population that is missing no host was known. */
    public record Counted(UpdateId update, LocalDate day, Map<PopulationId, StateCounts> counts) {}

    public Optional<LocalDate> last() {
        return mapper.last();
    }

    /** All that are kept, the earliest first. */
    public List<LocalDate> days() {
        return mapper.days();
    }

    /** The last one that is kept until then. */
    public Optional<Day> at(LocalDate day) {
        return mapper.at(day)
                .map(row -> new Day(
                        row.day(),
                        row.at(),
                        row.hosts(),
                        row.unknownHosts(),
                        Optional.ofNullable(row.lastReport()),
                        json.readValue(row.populations(), COLUMNS)));
    }

    /** All updates that were known at the end of a kept day. */
    public Map<UpdateId, Counted> updatesAt(LocalDate day) {
        return mapper.updatesAt(day).stream().map(this::counted).collect(Collectors.toMap(Counted::update, one -> one));
    }

    /** The days on which some number of an update was another than the day before, the earliest first. */
    public List<Counted> of(UpdateId update, LocalDate until) {
        return mapper.ofUpdate(update, until).stream().map(this::counted).toList();
    }

    /** As {@link #of}, of all updates, without what was counted before that day. */
    public Map<UpdateId, List<Counted>> since(LocalDate from) {
        Map<UpdateId, List<Counted>> all = new HashMap<>();
        mapper.since(from).forEach(row -> {
            Counted one = counted(row);
            all.computeIfAbsent(one.update(), id -> new ArrayList<>()).add(one);
        });
        return all;
    }

    private Counted counted(UpdateRow row) {
        Map<PopulationId, StateCounts> counts = new LinkedHashMap<>();
        json.readValue(row.counts(), COUNTS)
                .forEach((population, numbers) -> counts.put(new PopulationId(population), StateCounts.of(numbers)));
        return new Counted(new UpdateId(row.updateId()), row.day(), counts);
    }

    /**
     * What is counted of the end of a day, before it is kept.
     *
     * @param having of those updates that other hosts have than at the last kept day
     * @param changes of those updates, where the day before that was kept too
     */
    record Count(
            DayRow day,
            List<UpdateRow> updates,
            FleetRow fleet,
            Map<UpdateId, RoaringBitmap> having,
            List<ChangeRow> changes) {}

    /**
     * The days that can be compared with each other, the earliest first: those before it were kept as numbers alone.
     */
    public List<LocalDate> comparable() {
        return mapper.fleetChanges().stream().map(FleetRow::day).toList();
    }

    /**
     * What became of updates between two days that can be compared, by last known states.
     *
     * @param changes of those that other hosts have at the later one; of an update that was first read in between,
     *     whoever had it at the end of the first day after counts as gained
     * @param before hosts that were there at the end of the earlier day
     * @param after those at the end of the later one
     */
    public record Between(Map<UpdateId, HavingChange> changes, RoaringBitmap before, RoaringBitmap after) {}

    public Between between(LocalDate from, LocalDate to) {
        List<FleetRow> fleet = mapper.fleetChanges();
        Map<UpdateId, List<HavingChange>> days = new LinkedHashMap<>();
        mapper.changes(from, to)
                .forEach(row -> days.computeIfAbsent(new UpdateId(row.updateId()), id -> new ArrayList<>())
                        .add(row.change()));
        Map<UpdateId, HavingChange> net = new LinkedHashMap<>();
        days.forEach((update, changes) -> {
            HavingChange change = HavingChange.of(changes);
            if (!change.isEmpty()) {
                net.put(update, change);
            }
        });
        return new Between(net, thereAt(from, fleet), thereAt(to, fleet));
    }

    private static RoaringBitmap thereAt(LocalDate day, List<FleetRow> fleet) {
        return HavingChange.of(fleet.stream()
                        .filter(row -> !row.day().isAfter(day))
                        .map(FleetRow::change)
                        .toList())
                .gained();
    }

    /** Counts a day that has ended. Only what differs from the last kept day is told of updates. */
    Count count(Snapshot snapshot, LocalDate day, Instant end, Instant now) {
        Fleet fleet = snapshot.fleet();
        List<Population> entries = fleet.ladder().entries();
        List<Column> populations = entries.stream()
                .map(entry -> new Column(
                        entry.id(), entry.name(), fleet.members(entry.id()).getCardinality()))
                .filter(column -> column.hosts() > 0 || !column.id().equals(Ladder.NO_POPULATION))
                .toList();
        Map<String, String> before = new HashMap<>();
        mapper.last()
                .ifPresent(last -> mapper.updatesAt(last).forEach(row -> before.put(row.updateId(), row.counts())));
        List<UpdateRow> changed = new ArrayList<>();
        List<FleetRow> fleetBefore = mapper.fleetChanges();
        Map<UpdateId, RoaringBitmap> having = new LinkedHashMap<>();
        List<ChangeRow> changes = new ArrayList<>();
        for (Update update : snapshot.catalogue().updates()) {
            if (!Docket.isNoise(update)) {
                Carriage carriage = snapshot.carriage(update, end);
                Optional<RoaringBitmap> had = mapper.having(update.id()).map(Bitmaps::read);
                HavingChange change = HavingChange.of(had.orElseGet(RoaringBitmap::new), carriage.having());
                if (had.isEmpty() || !change.isEmpty()) {
                    having.put(update.id(), carriage.having());
                }
                if (!fleetBefore.isEmpty() && !change.isEmpty()) {
                    changes.add(ChangeRow.of(update.id(), day, change));
                }
                String counts = json.writeValueAsString(counts(carriage, fleet, populations));
                if (!counts.equals(before.get(update.id().value()))) {
                    changed.add(new UpdateRow(update.id().value(), day, counts));
                }
            }
        }
        return new Count(
                new DayRow(
                        day,
                        now,
                        fleet.all().getCardinality(),
                        fleet.unknownAt(end).getCardinality(),
                        fleet.hosts(fleet.all())
                                .map(Host::lastReport)
                                .max(Instant::compareTo)
                                .orElse(null),
                        json.writeValueAsString(populations)),
                changed,
                FleetRow.of(
                        day,
                        HavingChange.of(
                                fleetBefore.isEmpty()
                                        ? new RoaringBitmap()
                                        : thereAt(
                                                fleetBefore
                                                        .get(fleetBefore.size() - 1)
                                                        .day(),
                                                fleetBefore),
                                fleet.all())),
                having,
                changes);
    }

    private static Map<String, int[]> counts(Carriage carriage, Fleet fleet, List<Column> populations) {
        Map<String, int[]> counts = new LinkedHashMap<>();
        for (Column column : populations) {
            int[] numbers = StateCounts.of(carriage.counts(Views.members(fleet, column.id())))
                    .numbers();
            // The last one is of hosts that it is not for.
            if (Arrays.stream(numbers, 0, numbers.length - 1).sum() > 0) {
                counts.put(column.id().value(), numbers);
            }
        }
        return counts;
    }

    /** Only within {@link SnapshotStore#write}. */
    void keep(Count count) {
        mapper.addDay(count.day());
        count.updates().forEach(mapper::addUpdate);
        mapper.addFleetChange(count.fleet());
        count.having().forEach((update, hosts) -> mapper.keepHaving(update, Bitmaps.write(hosts)));
        count.changes().forEach(mapper::addChange);
    }
}
