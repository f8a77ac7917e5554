package lucid.server.hosts;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Inventories;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Trait;
import lucid.core.weighing.HostTraits;
import lucid.formats.document.Content;
import lucid.formats.document.HostEvents;
import lucid.formats.document.Problem;
import lucid.formats.document.TraitRow;
import lucid.formats.inventory.InventoryReader;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.AuditLog;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Component;

/** Takes what hosts report of themselves, and traits that others tell of them. */
@Component
class HostIntake {

    /** A host's clock may be off from ours by this much before what it says is not believed. */
    private static final Duration CLOCK_TOLERANCE = Duration.ofHours(1);

    private final HostMapper mapper;
    private final ProductDictionary dictionary;
    private final ChangedBuilds changedBuilds;
    private final AuditLog log;
    private final Clock clock;

    HostIntake(
            HostMapper mapper, ProductDictionary dictionary, ChangedBuilds changedBuilds, AuditLog log, Clock clock) {
        this.log = log;
        this.mapper = mapper;
        this.dictionary = dictionary;
        this.changedBuilds = changedBuilds;
        this.clock = clock;
    }

    /**
     * Reports that were sent just now by a clock which is off are put right by as much, and named.
     *
     * @param sent what time it was for the sender, where it says so
     */
    Content.OfInventory corrected(Content.OfInventory inventory, Optional<Instant> sent, List<Problem> problems) {
        Duration off = sent.map(at -> Duration.between(at, clock.instant())).orElse(Duration.ZERO);
        if (off.abs().compareTo(CLOCK_TOLERANCE) <= 0) {
            return inventory;
        }
        long hours = Math.round(off.abs().toMinutes() / 60.0);
        String words = hours + (hours == 1 ? " hour " : " hours ") + (off.isNegative() ? "ahead" : "behind");
        inventory
                .reports()
                .forEach(report -> problems.add(new Problem(
                        report.name().value(),
                        "its clock is " + words + "; the instants of its report were put right by that")));
        return new Content.OfInventory(
                inventory.reports().stream()
                        .map(report -> report.with((Instant instant) -> instant.plus(off)))
                        .toList(),
                inventory.events());
    }

    /** How many products an inventory would change; read before the writer's turn. */
    int changes(Snapshot snapshot, Content.OfInventory inventory) {
        return inventory.reports().stream()
                .mapToInt(report -> snapshot.fleet()
                        .host(report.name())
                        .map(known -> Inventories.differences(known.products(), report.products())
                                .size())
                        .orElse(report.products().size()))
                .sum();
    }

    /** @param taken how many hosts told something new */
    record Taken(int taken, List<Problem> problems) {}

    /**
     * Stores what is newer than what is known; within {@link SnapshotStore#write}.
     *
     * @param partial true for a format that cannot tell everything of a host: what it leaves out stays as it was
     */
    SnapshotStore.Change<Taken> take(Snapshot snapshot, Content.OfInventory inventory, boolean partial) {
        Batch batch = batch(snapshot);
        Taken taken = batch.take(inventory, partial);
        return new SnapshotStore.Change<>(batch.next(), taken);
    }

    /** Takes several inventories, one after the other, and makes one snapshot of all of them. */
    Batch batch(Snapshot snapshot) {
        return new Batch(snapshot);
    }

    /** Within {@link SnapshotStore#write}. */
    final class Batch {
        private final Snapshot snapshot;
        private final Map<HostName, Host> changed = new LinkedHashMap<>();
        private final List<Outcome> outcomes = new ArrayList<>();
        private final RoaringBitmap back = new RoaringBitmap();
        private int nextNumber;

        private Batch(Snapshot snapshot) {
            this.snapshot = snapshot;
            this.nextNumber = snapshot.fleet().nextNumber();
        }

        Snapshot before() {
            return snapshot;
        }

        private Optional<Host> known(HostName name) {
            return Optional.ofNullable(changed.get(name))
                    .or(() -> snapshot.fleet().host(name));
        }

        Taken take(Content.OfInventory inventory, boolean partial) {
            List<Problem> problems = new ArrayList<>();
            int taken = 0;
            for (HostReport reported : inventory.reports()) {
                Optional<Host> known = known(reported.name());
                Optional<String> toCome = toCome(reported);
                HostReport own = (partial && known.isPresent() ? completed(reported, known.get()) : reported)
                        .with(instant -> storable(byNow(instant)));
                Optional<String> doubt = toCome.isPresent() ? toCome : doubt(own, known, partial);
                doubt.ifPresent(reason -> problems.add(new Problem(own.name().value(), reason)));
                if (doubt.isEmpty()
                        && (known.isEmpty() || !own.at().equals(known.get().lastReport()))) {
                    take(own, known, problems);
                    taken++;
                }
            }
            for (HostEvents of : inventory.events()) {
                Optional<Host> host = known(of.host());
                host.ifPresentOrElse(
                        h -> happened(
                                host,
                                h,
                                of.events().stream()
                                        .map(event -> event.on(h.number()))
                                        .toList(),
                                problems),
                        () -> problems.add(
                                new Problem(of.host().value(), "tells outcomes, but has not reported itself before")));
                taken += host.isPresent() ? 1 : 0;
            }
            return new Taken(taken, problems);
        }

        private void take(HostReport own, Optional<Host> known, List<Problem> problems) {
            ProductDictionary.Inventory inventory = dictionary.inventory(own.products());
            HostReport whole = own.with(withImportedTraits(snapshot, own))
                    .with(inventory.products())
                    .with(own.lists().map(SharedVersions::shared));
            Host host = known.map(k -> k.after(whole, snapshot.fleet().rhythmOf(k)))
                    .orElseGet(() -> Host.first(nextNumber++, whole));
            store(known, host, own.traits(), inventory);
            changed.put(host.name(), host);
            if (snapshot.fleet().isRetired(host.number())) {
                comeBack(host);
            }
            List<InstalledProduct> products = Stream.concat(
                            known.stream().flatMap(k -> k.products().stream()), host.products().stream())
                    .toList();
            happened(
                    known,
                    host,
                    Stream.concat(
                                    own.events().stream().map(event -> event.on(host.number())),
                                    own.changes().stream()
                                            .flatMap(change ->
                                                    change
                                                            .outcomes(snapshot.catalogue(), host.number(), products)
                                                            .stream()))
                            .toList(),
                    problems);
        }

        /** Whoever reports is there: it counts again, and that is told. */
        private void comeBack(Host host) {
            if (back.checkedAdd(host.number())) {
                mapper.bringBack(host.number());
                log.append(
                        AuditEntry.Kind.HOSTS,
                        host.name().value(),
                        () -> host.name().value(),
                        host.name() + " was retired, but has reported again: it counts from now on.");
            }
        }

        /** @param before the host as it was when it tried, if it was known */
        private void happened(Optional<Host> before, Host host, List<Outcome> told, List<Problem> problems) {
            for (Outcome outcome : told) {
                if (isToCome(outcome.at())) {
                    problems.add(new Problem(
                            host.name().value(),
                            "what it tells of " + outcome.updateId() + " is dated " + outcome.at()
                                    + ", which is still to come"));
                } else {
                    Outcome whole = outcome.before().isPresent()
                            ? outcome
                            : outcome.with(before.flatMap(had -> ownProduct(outcome, had)));
                    mapper.happened(HostMapper.OutcomeRow.of(
                            whole, whole.before().map(dictionary::number).orElse(null)));
                    outcomes.add(whole);
                }
            }
        }

        /** The first product of the update that the host had by its last report before it tried. */
        private Optional<InstalledProduct> ownProduct(Outcome outcome, Host had) {
            if (outcome.what() != Outcome.What.INSTALLED && outcome.what() != Outcome.What.FAILED
                    || outcome.at().isBefore(had.lastReport())) {
                return Optional.empty();
            }
            return snapshot.catalogue().update(outcome.updateId()).stream()
                    .flatMap(update -> update.fixes().stream())
                    .flatMap(fix -> had.spokenOf(fix).stream())
                    .map(Host.SpokenOf::product)
                    .findFirst();
        }

        Snapshot next() {
            Snapshot counted = back.isEmpty()
                    ? snapshot
                    : snapshot.withRetired(RoaringBitmap.andNot(snapshot.fleet().retired(), back));
            Snapshot next = changed.isEmpty() ? counted : counted.withHosts(List.copyOf(changed.values()));
            return outcomes.isEmpty() ? next : next.withOutcomes(outcomes);
        }
    }

    /** Beyond what a clock may be off. */
    private boolean isToCome(Instant instant) {
        return instant.isAfter(clock.instant().plus(CLOCK_TOLERANCE));
    }

    /**
     * What a clock that is a little ahead tells happened at the latest now: so it never stands before what is told
     * later.
     */
    private Instant byNow(Instant instant) {
        Instant now = clock.instant();
        return instant.isAfter(now) && !isToCome(instant) ? now : instant;
    }

    private Optional<String> toCome(HostReport reported) {
        if (isToCome(reported.at())) {
            return Optional.of(
                    "its report is dated " + reported.at() + ", which is still to come; check the host's clock");
        }
        Instant latest = reported.at().plus(CLOCK_TOLERANCE);
        return reported.lastStart()
                .filter(start -> isToCome(start) || start.isAfter(latest))
                .map(start -> "its last start is dated " + start
                        + ", which is later than the report; check the host's clock");
    }

    /** Why a report is not believed, if it is not. */
    private Optional<String> doubt(HostReport own, Optional<Host> known, boolean partial) {
        if (own.products().size() > InventoryReader.MOST_PRODUCTS
                || own.traits().size() > InventoryReader.MOST_TRAITS) {
            return Optional.of("its report has more than " + InventoryReader.MOST_PRODUCTS + " products or "
                    + InventoryReader.MOST_TRAITS + " traits, which no host has; what is known of it was kept");
        }
        if (!partial && own.products().isEmpty()) {
            return Optional.of("its report names not one product, which cannot be; what is known of it was kept");
        }
        return known.filter(k -> own.at().isBefore(k.lastReport()))
                .map(k ->
                        "its report of " + own.at() + " is older than the one of " + k.lastReport() + " that is known");
    }

    /**
     * Keeps traits that a table tells, whether or not the host has reported yet; within {@link SnapshotStore#write}.
     */
    SnapshotStore.Change<Taken> tell(Snapshot snapshot, List<TraitRow> rows) {
        Map<HostName, Map<String, Trait>> told = new HashMap<>();
        List<Host> hosts = new ArrayList<>();
        List<Problem> problems = new ArrayList<>();
        int notReported = 0;
        for (TraitRow row : rows) {
            told.put(row.host(), row.traits());
            mapper.tell(new HostMapper.ImportedTraitRow(row.host().value(), HostColumns.writeTraits(row.traits())));
            Optional<Host> known = snapshot.fleet().host(row.host());
            notReported += known.isEmpty() ? 1 : 0;
            known.ifPresent(host -> hosts.add(withTraits(host, row.traits())));
        }
        if (notReported > 0) {
            problems.add(new Problem(
                    "",
                    notReported + (notReported == 1 ? " host has" : " hosts have")
                            + " not reported yet; what is told of them counts as soon as they do"));
        }
        return new SnapshotStore.Change<>(
                snapshot.withImportedTraits(told).withHosts(hosts), new Taken(rows.size(), problems));
    }

    private Host withTraits(Host host, Map<String, Trait> told) {
        Map<String, Trait> all = HostTraits.joined(told, HostColumns.readTraits(mapper.traits(host.number())));
        return new Host(
                host.number(),
                host.name(),
                host.platform(),
                all,
                host.products(),
                host.running(),
                host.supply(),
                host.lastStart(),
                host.firstReport(),
                host.lastReport(),
                host.absences(),
                host.lists());
    }

    private static Map<String, Trait> withImportedTraits(Snapshot snapshot, HostReport own) {
        return HostTraits.joined(snapshot.told().getOrDefault(own.name(), Map.of()), own.traits());
    }

    private HostReport completed(HostReport report, Host known) {
        Map<String, Trait> traits = new HashMap<>(HostColumns.readTraits(mapper.traits(known.number())));
        traits.putAll(report.traits());
        return new HostReport(
                report.name(),
                report.platform(),
                report.at(),
                traits,
                report.products(),
                report.supply().or(known::supply),
                report.lastStart().or(known::lastStart),
                report.events(),
                report.changes(),
                report.lists().or(known::lists));
    }

    /** Instants in whole milliseconds, so that what is stored and read again is the same. */
    private static Instant storable(Instant instant) {
        return instant.truncatedTo(ChronoUnit.MILLIS);
    }

    private void store(
            Optional<Host> known, Host host, Map<String, Trait> ownTraits, ProductDictionary.Inventory inventory) {
        if (known.filter(host::sameButReported)
                .filter(before -> before.lists().equals(host.lists()))
                .isPresent()) {
            mapper.heardFrom(host.number(), host.lastReport());
            return;
        }
        HostMapper.HostRow row = new HostMapper.HostRow(
                host.number(),
                host.name().value(),
                host.platform(),
                HostColumns.writeTraits(ownTraits),
                host.supply().orElse(null),
                host.lastStart().orElse(null),
                host.firstReport(),
                host.lastReport(),
                inventory.content(),
                HostColumns.writeProducts(host.running()),
                HostColumns.writeAbsences(host.absences()),
                host.lists().map(HostColumns::writeLists).orElse(null));
        if (known.isEmpty()) {
            mapper.add(row);
        } else {
            mapper.change(row);
            storeChanges(known.get(), host);
        }
    }

    private void storeChanges(Host before, Host after) {
        new TreeMap<>(Inventories.differences(before.products(), after.products()))
                .forEach((build, difference) -> mapper.addChange(new HostMapper.ChangeRow(
                        after.number(),
                        changedBuilds.number(build),
                        written(difference.before()),
                        written(difference.after()),
                        after.lastReport())));
    }

    /** Several versions side by side are written as one, in order. */
    private static String written(List<String> versions) {
        return versions.isEmpty() ? null : String.join(" ", versions);
    }
}
