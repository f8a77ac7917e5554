package lucid.server.hosts;

import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Differences;
import lucid.core.ruling.Timeline;
import lucid.core.update.PackageReference;
import lucid.core.update.Product;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.ConditionParser;
import lucid.server.views.Views;
import lucid.server.views.Views.RuleMatchView;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;

/** Which hosts are asked for, on one snapshot, and what is told of each. */
final class HostQuestion {

    /**
     * What to look for; everything that is named must hold.
     *
     * @param differing true: only hosts that differ in some way
     * @param way only hosts that differ in this way
     * @param population id, or {@code none}
     * @param where condition
     * @param find part of the name
     * @param lacks identifier of an update, or of a CVE: only hosts that lack what closes it
     * @param has package URL, without or with a version: only hosts that have it
     */
    record Asked(
            Optional<Boolean> differing,
            Optional<Differences.Way> way,
            Optional<PopulationId> population,
            Optional<String> where,
            Optional<String> find,
            Optional<String> lacks,
            Optional<String> has) {}

    /** @param updates identifiers of what is forced, or of what wants the restart */
    record DifferenceView(Differences.Way way, List<UpdateId> updates) {}

    /** An update that the host lacks, of those that were asked for. */
    record LackedUpdate(UpdateId id, String title, CarriageState state, RuleMatchView holds, Optional<Instant> until) {}

    record HostRow(
            HostName name,
            String platform,
            String population,
            Instant lastReport,
            Optional<String> supply,
            Optional<String> expectedSupply,
            List<DifferenceView> differences,
            List<LackedUpdate> lacks,
            List<String> versions) {}

    private final Snapshot snapshot;
    private final Instant now;
    private final Differences differences;
    private final List<Update> lacked;
    private final Map<UpdateId, Carriage> carriages = new HashMap<>();
    private final Optional<Product> product;
    private final Map<UpdateId, Timeline> timelines = new HashMap<>();
    private final RoaringBitmap seen;
    private final RoaringBitmap set;

    HostQuestion(Snapshot snapshot, Differences differences, Asked asked, Instant now) {
        this.snapshot = snapshot;
        this.now = now;
        this.differences = differences;
        this.lacked = asked.lacks().map(this::updates).orElse(List.of());
        Optional<PackageReference> reference = asked.has().map(HostQuestion::reference);
        this.product = reference.map(r -> r.build().product());
        this.seen = snapshot.fleet().all();
        this.set = seen.clone();
        Fleet fleet = snapshot.fleet();
        if (asked.differing().orElse(false) || asked.way().isPresent()) {
            set.and(differences.in(asked.way()));
        }
        asked.population().ifPresent(id -> set.and(Views.members(fleet, id)));
        asked.lacks().ifPresent(id -> set.and(lacking()));
        reference.ifPresent(r -> set.and(having(r)));
        asked.where()
                .filter(text -> !text.isBlank())
                .ifPresent(text -> set.and(fleet.matching(ConditionParser.read("where", text, fleet), set)));
        asked.find()
                .map(text -> text.strip().toLowerCase(Locale.ROOT))
                .filter(text -> !text.isEmpty())
                .ifPresent(text -> set.and(named(text, fleet)));
    }

    private static RoaringBitmap named(String part, Fleet fleet) {
        RoaringBitmap named = new RoaringBitmap();
        fleet.all().forEach((int number) -> {
            if (fleet.host(number).name().value().toLowerCase(Locale.ROOT).contains(part)) {
                named.add(number);
            }
        });
        return named;
    }

    private List<Update> updates(String id) {
        List<Update> updates = snapshot.catalogue()
                .update(new UpdateId(id))
                .map(List::of)
                .orElseGet(() -> snapshot.catalogue().closing(id));
        if (updates.isEmpty()) {
            throw ProblemException.badField("lacks", "no update is called " + id + " or closes it");
        }
        updates.forEach(update -> carriages.put(update.id(), snapshot.carriage(update, now)));
        return updates;
    }

    private RoaringBitmap lacking() {
        RoaringBitmap lacking = new RoaringBitmap();
        carriages.values().forEach(carriage -> lacking.or(carriage.lacking()));
        return lacking;
    }

    private static PackageReference reference(String purl) {
        try {
            return PackageReference.parse(purl);
        } catch (IllegalArgumentException e) {
            throw ProblemException.badField("has", e.getMessage());
        }
    }

    private RoaringBitmap having(PackageReference reference) {
        RoaringBitmap having = new RoaringBitmap();
        snapshot.carriages().installed().versions(reference.build().product()).forEach((version, hosts) -> {
            if (reference.version().isEmpty()
                    || reference
                                    .build()
                                    .product()
                                    .ordering()
                                    .compare(version, reference.version().get())
                            == 0) {
                having.or(hosts);
            }
        });
        return having;
    }

    int count() {
        return set.getCardinality();
    }

    int seenHosts() {
        return seen.getCardinality();
    }

    int differing() {
        return RoaringBitmap.andCardinality(seen, differences.any());
    }

    /** How many of the hosts that the caller sees differ in each way. */
    Map<Differences.Way, Integer> ways() {
        Map<Differences.Way, Integer> counts = new EnumMap<>(Differences.Way.class);
        differences.hosts().forEach((way, hosts) -> counts.put(way, RoaringBitmap.andCardinality(seen, hosts)));
        return counts;
    }

    List<Update> lacked() {
        return lacked;
    }

    Stream<Host> hosts() {
        return snapshot.fleet().hosts(set);
    }

    HostRow row(Host host) {
        Optional<Population> owner = snapshot.fleet().ladder().owner(host);
        return new HostRow(
                host.name(),
                host.platform(),
                owner.map(Population::name).orElse("In no population"),
                host.lastReport(),
                host.supply(),
                owner.flatMap(Population::supply),
                differencesOf(host, differences),
                lacked.stream()
                        .filter(u -> carriages.get(u.id()).lacking().contains(host.number()))
                        .map(u -> lackedBy(host, u))
                        .toList(),
                versions(host));
    }

    static List<DifferenceView> differencesOf(Host host, Differences differences) {
        List<DifferenceView> of = new ArrayList<>();
        differences.hosts().forEach((way, hosts) -> {
            if (hosts.contains(host.number())) {
                Map<Update, RoaringBitmap> because =
                        switch (way) {
                            case LACKS_FORCED -> differences.forced();
                            case PAST_RULE_DUE -> differences.overdue();
                            case RESTART_OUTSTANDING -> differences.restarts();
                            default -> Map.of();
                        };
                of.add(new DifferenceView(
                        way,
                        because.entrySet().stream()
                                .filter(e -> e.getValue().contains(host.number()))
                                .map(e -> e.getKey().id())
                                .sorted()
                                .toList()));
            }
        });
        return of;
    }

    private LackedUpdate lackedBy(Host host, Update update) {
        Carriage carriage = carriages.get(update.id());
        var ruling = timelines
                .computeIfAbsent(
                        update.id(),
                        id -> Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue()))
                .ruling(host, carriage.lastKnown(host.number()), now);
        return new LackedUpdate(
                update.id(),
                update.title(),
                carriage.of(host.number()),
                RuleMatchView.of(ruling.holds(), snapshot.decisions()),
                ruling.until());
    }

    private List<String> versions(Host host) {
        return product.map(p -> host.products().stream()
                        .filter(installed -> installed.build().product().equals(p))
                        .map(installed -> installed.version())
                        .distinct()
                        .toList())
                .orElse(List.of());
    }
}
