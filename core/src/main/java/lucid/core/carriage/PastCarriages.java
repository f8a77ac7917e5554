package lucid.core.carriage;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.stream.Collectors;
import lucid.core.fleet.Absence;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.update.ProductBuild;
import org.roaringbitmap.RoaringBitmap;

/**
 * Who carried an update at a past instant: the present fleet, with everything that was reported since taken back.
 *
 * <p>As it was known then are the versions, the outcomes, which hosts there were and which of them were silent. As they
 * are now are traits and populations, and what is known of the updates themselves. Restarts that were outstanding are
 * known only where the last start of today is that of then: who waited for one counts as carrying otherwise. When a
 * host that was not absent reported last before that instant is not kept: what it had told by then counts as confirmed.
 */
public final class PastCarriages {

    /**
     * What a report showed to have changed on a host.
     *
     * @param before versions of the build that were there before, the lowest first; empty where it was not there
     */
    public record Change(int host, ProductBuild build, List<String> before, Instant at) {}

    /**
     * @param changes those after the instant that is asked for, of all builds or of those alone that are asked about
     * @param outcomes those until then
     * @param begun when each host reported for the first time, of those that did so later
     * @param retired when each host was retired that is
     */
    public record History(
            Collection<Change> changes,
            Collection<Outcome> outcomes,
            Map<Integer, Instant> begun,
            Map<Integer, Instant> retired) {}

    private PastCarriages() {}

    /** @param known a version of a build as it is known here, with its source package where hosts tell one */
    public static Carriages at(
            Instant at, Carriages now, History history, BiFunction<ProductBuild, String, InstalledProduct> known) {
        Map<Integer, Map<ProductBuild, List<String>>> before = before(history.changes(), at);
        List<Host> hosts = new ArrayList<>();
        List<CarrierIndex.Change> changed = new ArrayList<>();
        Fleet fleet = now.fleet();
        RoaringBitmap all = RoaringBitmap.or(fleet.all(), fleet.retired());
        all.forEach((int number) -> {
            Host today = fleet.host(number);
            List<InstalledProduct> products = before.containsKey(number)
                    ? products(today.products(), before.get(number), known)
                    : today.products();
            hosts.add(then(today, products, at));
            if (before.containsKey(number) && !fleet.isRetired(number)) {
                changed.add(new CarrierIndex.Change(number, today.products(), products));
            }
        });
        RoaringBitmap gone = new RoaringBitmap();
        history.retired().forEach((number, since) -> {
            if (!since.isAfter(at)) {
                gone.add(number);
            }
        });
        history.begun().forEach((number, since) -> {
            if (since.isAfter(at)) {
                gone.add(number);
            }
        });
        // Whoever sees a part of the fleet sees that part of its past.
        gone.and(all);
        return new Carriages(
                        now.catalogue(),
                        fleet.with(hosts),
                        now.installed().with(changed),
                        CarrierIndex.EMPTY,
                        Outcomes.NONE.with(history.outcomes().stream()
                                .filter(outcome -> !outcome.at().isAfter(at))
                                .toList()))
                .retiring(gone);
    }

    /** Of each host and build that changed since, the versions from before the first of these changes. */
    private static Map<Integer, Map<ProductBuild, List<String>>> before(Collection<Change> changes, Instant at) {
        Map<Integer, Map<ProductBuild, List<String>>> before = new HashMap<>();
        changes.stream()
                .filter(change -> change.at().isAfter(at))
                .sorted(Comparator.comparing(Change::at).reversed())
                .forEach(change -> before.computeIfAbsent(change.host(), number -> new HashMap<>())
                        .put(change.build(), change.before()));
        return before;
    }

    private static List<InstalledProduct> products(
            List<InstalledProduct> today,
            Map<ProductBuild, List<String>> before,
            BiFunction<ProductBuild, String, InstalledProduct> known) {
        List<InstalledProduct> then = today.stream()
                .filter(product -> !before.containsKey(product.build()))
                .collect(Collectors.toCollection(ArrayList::new));
        before.forEach((build, versions) -> versions.forEach(version -> then.add(known.apply(build, version))));
        return then;
    }

    private static Host then(Host today, List<InstalledProduct> products, Instant at) {
        return new Host(
                today.number(),
                today.name(),
                today.platform(),
                today.traits(),
                products,
                List.of(),
                today.supply(),
                today.lastStart().filter(start -> !start.isAfter(at)),
                today.firstReport(),
                lastReport(today, at),
                today.absences().stream()
                        .filter(absence -> !absence.to().isAfter(at))
                        .toList(),
                Optional.empty());
    }

    /** Whoever was not absent reported then. */
    private static Instant lastReport(Host today, Instant at) {
        Optional<Instant> beforeAbsence = today.absences().stream()
                .filter(absence -> !absence.from().isAfter(at) && absence.to().isAfter(at))
                .map(Absence::from)
                .findFirst();
        return !today.lastReport().isAfter(at) ? today.lastReport() : beforeAbsence.orElse(at);
    }
}
