package lucid.server.search;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.CarrierIndex;
import lucid.core.fleet.Fleet;
import lucid.core.update.Product;
import lucid.core.update.Update;
import lucid.server.snapshot.Snapshot;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Finds anything by a part of its name. */
@RestController
@RequestMapping("/api/search")
class SearchController {

    private static final int MOST_OF_A_TYPE = 6;
    private static final int LONGEST = 200;

    private final Clock clock;

    SearchController(Clock clock) {
        this.clock = clock;
    }

    enum Type {
        UPDATE,
        CVE,
        PRODUCT,
        HOST,
        POPULATION
    }

    /**
     * @param id identifier of the update, the CVE, the host or the population, or the package URL, with a version if
     *     one is meant
     * @param hosts that lack the update or what closes the CVE, have the product, or belong to the population; of a
     *     host none
     * @param note what is told beside the name
     */
    record Found(Type type, String id, String name, Optional<Integer> hosts, String note) {}

    /** The best of each type, the most likely first. */
    @GetMapping
    List<Found> search(@RequestParam String text, Snapshot snapshot) {
        String wanted = text.strip().toLowerCase(Locale.ROOT);
        if (wanted.isEmpty() || wanted.length() > LONGEST) {
            return List.of();
        }
        RoaringBitmap seen = snapshot.fleet().all();
        Stream<Found> found = Stream.of(
                        hosts(snapshot.fleet(), seen, wanted),
                        cves(snapshot, seen, wanted),
                        updates(snapshot, seen, wanted),
                        populations(snapshot.fleet(), wanted),
                        products(snapshot.carriages().installed(), seen, wanted))
                .flatMap(Function.identity());
        // What is called exactly so comes first, whatever it is.
        return found.sorted(Comparator.comparing(
                        f -> !f.id().equalsIgnoreCase(wanted) && !f.name().equalsIgnoreCase(wanted)))
                .toList();
    }

    private Stream<Found> hosts(Fleet fleet, RoaringBitmap seen, String wanted) {
        return fleet.hosts(seen)
                .filter(h -> h.name().value().toLowerCase(Locale.ROOT).contains(wanted))
                .sorted(nearest(h -> h.name().value(), wanted))
                .limit(MOST_OF_A_TYPE)
                .map(h -> new Found(
                        Type.HOST,
                        h.name().value(),
                        h.name().value(),
                        Optional.empty(),
                        h.platform() + ", "
                                + fleet.ladder().owner(h).map(p -> p.name()).orElse("in no population")));
    }

    private Stream<Found> cves(Snapshot snapshot, RoaringBitmap seen, String wanted) {
        return snapshot.catalogue().updates().stream()
                .flatMap(u -> u.vulnerabilities().stream())
                .map(v -> v.id())
                .distinct()
                .filter(id -> id.toLowerCase(Locale.ROOT).contains(wanted))
                .sorted(nearest(id -> id, wanted))
                .limit(MOST_OF_A_TYPE)
                .map(id -> {
                    List<Update> closing = snapshot.catalogue().closing(id);
                    RoaringBitmap lacking = new RoaringBitmap();
                    closing.forEach(update ->
                            lacking.or(snapshot.carriage(update, now()).lacking()));
                    return new Found(
                            Type.CVE,
                            id,
                            id,
                            Optional.of(RoaringBitmap.andCardinality(seen, lacking)),
                            "closed by "
                                    + closing.stream()
                                            .map(update -> update.id().value())
                                            .sorted()
                                            .collect(Collectors.joining(", ")));
                });
    }

    private Stream<Found> updates(Snapshot snapshot, RoaringBitmap seen, String wanted) {
        return snapshot.catalogue().updates().stream()
                .filter(u -> (u.id() + " " + u.title()).toLowerCase(Locale.ROOT).contains(wanted))
                .sorted(nearest((Update u) -> u.id().value(), wanted)
                        .thenComparing(Comparator.comparing(Update::published).reversed()))
                .limit(MOST_OF_A_TYPE)
                .map(u -> new Found(
                        Type.UPDATE,
                        u.id().value(),
                        u.title(),
                        Optional.of(RoaringBitmap.andCardinality(
                                seen, snapshot.carriage(u, now()).lacking())),
                        u.id().value()));
    }

    private static Stream<Found> populations(Fleet fleet, String wanted) {
        return fleet.ladder().populations().stream()
                .filter(p -> p.name().toLowerCase(Locale.ROOT).contains(wanted))
                .map(p -> new Found(
                        Type.POPULATION,
                        p.id().value(),
                        p.name(),
                        Optional.of(fleet.members(p.id()).getCardinality()),
                        "tier " + p.tier()));
    }

    /** "libtls" finds a product, "libtls 3.2" its versions that begin so. */
    private static Stream<Found> products(CarrierIndex installed, RoaringBitmap seen, String wanted) {
        String[] words = wanted.split("\\s+", 2);
        Optional<String> version = words.length < 2 ? Optional.empty() : Optional.of(words[1]);
        List<Found> found = new ArrayList<>();
        installed.products().stream()
                .filter(p -> (version.isEmpty() ? p.purl() : p.name())
                        .toLowerCase(Locale.ROOT)
                        .contains(words[0]))
                .sorted(nearest(Product::name, words[0]).thenComparing(Comparator.naturalOrder()))
                .limit(MOST_OF_A_TYPE)
                .forEach(product -> {
                    NavigableMap<String, RoaringBitmap> versions = installed.versions(product);
                    RoaringBitmap all = new RoaringBitmap();
                    versions.values().forEach(all::or);
                    if (version.isEmpty()) {
                        found.add(new Found(
                                Type.PRODUCT,
                                product.purl(),
                                product.name(),
                                Optional.of(RoaringBitmap.andCardinality(seen, all)),
                                product.purl()));
                    } else {
                        versions.descendingMap().entrySet().stream()
                                .filter(e -> e.getKey().toLowerCase(Locale.ROOT).contains(version.get()))
                                .limit(MOST_OF_A_TYPE)
                                .forEach(e -> found.add(new Found(
                                        Type.PRODUCT,
                                        product.at(e.getKey()),
                                        product.name() + " " + e.getKey(),
                                        Optional.of(RoaringBitmap.andCardinality(seen, e.getValue())),
                                        product.purl())));
                    }
                });
        return found.stream().filter(f -> f.hosts().orElse(0) > 0);
    }

    private Instant now() {
        return clock.instant();
    }

    /** Names that begin with what is wanted come before names that only hold it; shorter ones before longer ones. */
    private static <T> Comparator<T> nearest(Function<T, String> name, String wanted) {
        return Comparator.comparing(
                        (T one) -> !name.apply(one).toLowerCase(Locale.ROOT).startsWith(wanted))
                .thenComparing(one -> name.apply(one).length())
                .thenComparing(name);
    }
}
