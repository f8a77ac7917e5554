package lucid.server.views;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.views.Views.StateCounts;
import org.roaringbitmap.RoaringBitmap;

/** Updates by populations: how many hosts are in which state. */
public final class CarrierRows {

    private CarrierRows() {}

    /** @param id {@code none} for the hosts in no population */
    public record Column(PopulationId id, String name, int hosts) {}

    /**
     * @param notRead products of it of which nobody can tell which hosts have them: the states are without these
     * @param cells one a column, in their order
     */
    public record Row(
            UpdateId id,
            String title,
            Kind kind,
            Rating rating,
            Instant published,
            int notRead,
            StateCounts fleet,
            List<StateCounts> cells) {}

    public static List<Column> columns(Fleet fleet) {
        List<Column> columns = new ArrayList<>();
        fleet.ladder().populations().stream()
                .forEach(p -> columns.add(
                        new Column(p.id(), p.name(), fleet.members(p.id()).getCardinality())));
        RoaringBitmap unassigned = fleet.inNoPopulation();
        if (!unassigned.isEmpty()) {
            columns.add(new Column(Ladder.NO_POPULATION, "In no population", unassigned.getCardinality()));
        }
        return columns;
    }

    public static Row row(Update update, Carriage carriage, Fleet fleet, List<Column> columns) {
        return row(
                update,
                StateCounts.of(carriage.counts(fleet.all())),
                columns.stream()
                        .map(c -> StateCounts.of(carriage.counts(Views.members(fleet, c.id()))))
                        .toList());
    }

    /** Of numbers that were counted before. */
    public static Row row(Update update, StateCounts fleet, List<StateCounts> cells) {
        return new Row(
                update.id(),
                update.title(),
                update.kind(),
                update.rating(),
                update.published(),
                update.unreadNames(),
                fleet,
                cells);
    }
}
