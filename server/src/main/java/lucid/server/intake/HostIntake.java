package lucid.server.intake;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Trait;
import lucid.formats.Content;
import lucid.formats.Problem;
import lucid.formats.inventory.HostEvents;
import lucid.formats.table.TraitRow;
import lucid.server.state.Picture;
import lucid.server.state.State;
import lucid.server.web.Digests;
import org.springframework.stereotype.Component;

/** Takes what hosts report of themselves, and traits that others tell of them. */
@Component
class HostIntake {

    /** A host's clock may be off from ours by this much before what it says is not believed. */
    private static final Duration CLOCK_TOLERANCE = Duration.ofHours(1);

    private final HostMapper mapper;
    private final Clock clock;

    HostIntake(HostMapper mapper, Clock clock) {
        this.mapper = mapper;
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
        inventory.reports().forEach(report -> problems.add(new Problem(report.name(), "its clock is " + words + "; the instants of its report were put right by that")));
        return new Content.OfInventory(inventory.reports().stream().map(report -> report.with((Instant instant) -> instant.plus(off))).toList(), inventory.events());
    }

    /** @param taken how many hosts told something new */
    record Taken(int taken, List<Problem> problems) {}

    /**
     * Stores what is newer than what is known; within {@link State#write}.
     *
     * @param partial true for a format that cannot tell everything of a host: what it leaves out stays as it was
     */
    State.Written<Taken> take(Picture picture, Content.OfInventory inventory, boolean partial) {
        List<Host> hosts = new ArrayList<>();
        List<Outcome> outcomes = new ArrayList<>();
        List<Problem> problems = new ArrayList<>();
        Map<List<InstalledProduct>, String> digests = new HashMap<>();
        int nextNumber = picture.fleet().all().isEmpty() ? 0 : picture.fleet().all().last() + 1;
        for (HostReport reported : inventory.reports()) {
            Optional<Host> known = picture.fleet().host(reported.name());
            HostReport own = (partial && known.isPresent() ? completed(reported, known.get()) : reported).with(HostIntake::storable);
            if (!partial && own.products().isEmpty()) {
                problems.add(new Problem(own.name(), "its report names not one product, which cannot be; what is known of it was kept"));
            } else if (own.at().isAfter(clock.instant().plus(CLOCK_TOLERANCE))) {
                problems.add(new Problem(own.name(), "its report is dated " + own.at() + ", which is still to come; check the host's clock"));
            } else if (known.isPresent() && own.at().isBefore(known.get().lastReport())) {
                problems.add(new Problem(own.name(), "its report of " + own.at() + " is older than the one of " + known.get().lastReport() + " that is known"));
            } else if (known.isEmpty() || !own.at().equals(known.get().lastReport())) {
                HostReport whole = own.with(withTold(picture, own));
                Host host = known.map(k -> k.after(whole, picture.fleet().rhythmOf(k))).orElse(null);
                if (host == null) {
                    host = Host.first(nextNumber++, whole);
                }
                store(known, host, own.traits(), digests);
                hosts.add(host);
                int number = host.number();
                own.events().forEach(event -> outcomes.add(event.on(number)));
                own.changes().forEach(change -> outcomes.addAll(change.outcomes(picture.catalogue(), number)));
            }
        }
        Picture next = hosts.isEmpty() ? picture : picture.withHosts(hosts);
        int told = loose(next.fleet(), inventory.events(), outcomes, problems);
        outcomes.removeIf(outcome -> isStillToCome(outcome, next.fleet(), problems));
        outcomes.forEach(outcome -> mapper.happened(HostMapper.OutcomeRow.of(outcome)));
        return new State.Written<>(outcomes.isEmpty() ? next : next.withOutcomes(outcomes), new Taken(hosts.size() + told, problems));
    }

    private int loose(Fleet fleet, List<HostEvents> events, List<Outcome> outcomes, List<Problem> problems) {
        int told = 0;
        for (HostEvents of : events) {
            Optional<Host> host = fleet.host(of.host());
            if (host.isEmpty()) {
                problems.add(new Problem(of.host(), "tells outcomes, but has not reported itself before"));
            } else {
                of.events().forEach(event -> outcomes.add(event.on(host.get().number())));
                told++;
            }
        }
        return told;
    }

    private boolean isStillToCome(Outcome outcome, Fleet fleet, List<Problem> problems) {
        boolean stillToCome = outcome.at().isAfter(clock.instant().plus(CLOCK_TOLERANCE));
        if (stillToCome) {
            problems.add(new Problem(fleet.host(outcome.host()).name(), "what it tells of " + outcome.updateId() + " is dated " + outcome.at() + ", which is still to come"));
        }
        return stillToCome;
    }

    /** Keeps traits that a table tells, whether or not the host has reported yet; within {@link State#write}. */
    State.Written<Taken> tell(Picture picture, List<TraitRow> rows) {
        Map<String, Map<String, Trait>> told = new HashMap<>();
        List<Host> hosts = new ArrayList<>();
        List<Problem> problems = new ArrayList<>();
        int notReported = 0;
        for (TraitRow row : rows) {
            told.put(row.host(), row.traits());
            mapper.tell(new HostMapper.ToldRow(row.host(), StoredTexts.writeTraits(row.traits())));
            Optional<Host> known = picture.fleet().host(row.host());
            notReported += known.isEmpty() ? 1 : 0;
            known.ifPresent(host -> hosts.add(withTraits(host, row.traits())));
        }
        if (notReported > 0) {
            problems.add(new Problem("", notReported + (notReported == 1 ? " host has" : " hosts have") + " not reported yet; what is told of them counts as soon as they do"));
        }
        return new State.Written<>(picture.withTold(told).withHosts(hosts), new Taken(rows.size(), problems));
    }

    private Host withTraits(Host host, Map<String, Trait> told) {
        Map<String, Trait> all = new HashMap<>(told);
        all.putAll(StoredTexts.readTraits(mapper.traits(host.number())));
        return new Host(host.number(), host.name(), host.platform(), all, host.products(), host.running(), host.supply(), host.lastStart(), host.lastReport(), host.absences());
    }

    private static Map<String, Trait> withTold(Picture picture, HostReport own) {
        Map<String, Trait> all = new HashMap<>(picture.told().getOrDefault(own.name(), Map.of()));
        all.putAll(own.traits());
        return all;
    }

    private HostReport completed(HostReport report, Host known) {
        Map<String, Trait> traits = new HashMap<>(StoredTexts.readTraits(mapper.traits(known.number())));
        traits.putAll(report.traits());
        return new HostReport(report.name(), report.platform(), report.at(), traits, report.products(), report.supply().or(known::supply), report.lastStart().or(known::lastStart), report.events(), report.changes());
    }

    /** Instants in whole milliseconds, so that what is stored and read again is the same. */
    private static Instant storable(Instant instant) {
        return instant.truncatedTo(ChronoUnit.MILLIS);
    }

    private void store(Optional<Host> known, Host host, Map<String, Trait> ownTraits, Map<List<InstalledProduct>, String> digests) {
        if (known.filter(host::sameButReported).isPresent()) {
            mapper.heardFrom(host.number(), host.lastReport());
            return;
        }
        String digest = digests.computeIfAbsent(host.products(), products -> {
            String text = StoredTexts.writeProducts(products);
            String made = Digests.sha256(text);
            mapper.keepInventory(made, text);
            return made;
        });
        HostMapper.HostRow row = new HostMapper.HostRow(host.number(), host.name(), host.platform(), StoredTexts.writeTraits(ownTraits), host.supply().orElse(null),
                host.lastStart().orElse(null), host.lastReport(), digest, StoredTexts.writeProducts(host.running()), StoredTexts.writeAbsences(host.absences()));
        if (known.isEmpty()) {
            mapper.add(row);
        } else {
            mapper.change(row);
            storeChanges(known.get(), host);
        }
    }

    private void storeChanges(Host before, Host after) {
        Map<String, String> from = versions(before.products());
        Map<String, String> to = versions(after.products());
        TreeSet<String> builds = new TreeSet<>(from.keySet());
        builds.addAll(to.keySet());
        for (String build : builds) {
            if (!Objects.equals(from.get(build), to.get(build))) {
                mapper.addChange(after.number(), build, from.get(build), to.get(build), after.lastReport());
            }
        }
    }

    /** Versions by build; several side by side are written as one, in order. */
    private static Map<String, String> versions(List<InstalledProduct> products) {
        Map<String, String> versions = new TreeMap<>();
        products.stream().sorted((a, b) -> a.build().product().ordering().compare(a.version(), b.version()))
                .forEach(p -> versions.merge(p.build().toString(), p.version(), (a, b) -> a + " " + b));
        return versions;
    }
}
