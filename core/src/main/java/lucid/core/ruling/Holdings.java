package lucid.core.ruling;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Fleet;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/** What holds for many hosts at once, gathered by finding. */
public final class Holdings {

    private Holdings() {}

    /** As {@link #of}, for hosts of any populations. */
    static List<Holding> byPopulation(
            Update update, Carriage carriage, Fleet fleet, Decisions decisions, Catalogue catalogue, RoaringBitmap among, Instant at) {
        return Stream.concat(fleet.ladder().populations().stream().map(p -> fleet.members(p.id())), Stream.of(fleet.inNoPopulation()))
                .flatMap(members -> of(update, carriage, fleet, decisions, catalogue, RoaringBitmap.and(members, among), at).stream())
                .toList();
    }

    /**
     * @param among hosts of one population, or of none
     * @return largest first; the hosts of all holdings together are those of {@code among} that lack the update
     */
    public static List<Holding> of(
            Update update, Carriage carriage, Fleet fleet, Decisions decisions, Catalogue catalogue, RoaringBitmap among, Instant at) {
        RoaringBitmap lacking = RoaringBitmap.and(among, carriage.lacking());
        if (lacking.isEmpty()) {
            return List.of();
        }
        Rulings rulings = new Rulings(decisions, fleet.ladder(), catalogue);
        boolean onlyTheRule = decisions.verdictsOn(update.id()).isEmpty() && rulings.blockedPredecessors(update, at).isEmpty()
                && decisions.exceptions().stream().noneMatch(e -> e.standsAt(at) && e.scope().covers(update));
        if (onlyTheRule) {
            // Nothing tells the hosts of one population apart: one of them answers for all.
            int any = lacking.first();
            return List.of(new Holding(rulings.ruling(fleet.host(any), update, carriage.lastKnown(any), at).holds(), lacking));
        }
        Map<Finding, RoaringBitmap> gathered = new LinkedHashMap<>();
        lacking.forEach((int number) -> gathered
                .computeIfAbsent(rulings.ruling(fleet.host(number), update, carriage.lastKnown(number), at).holds(), f -> new RoaringBitmap())
                .add(number));
        return gathered.entrySet().stream()
                .map(entry -> new Holding(entry.getKey(), entry.getValue()))
                .sorted((a, b) -> Integer.compare(b.hosts().getCardinality(), a.hosts().getCardinality()))
                .toList();
    }
}
