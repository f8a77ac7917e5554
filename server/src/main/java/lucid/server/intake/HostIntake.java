package lucid.server.intake;

import java.time.Clock;
import java.time.Duration;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.formats.Problem;
import lucid.server.state.Picture;
import lucid.server.state.State;
import org.springframework.stereotype.Component;

/** Takes what hosts report of themselves. */
@Component
class HostIntake {

    /** A host's clock may be ahead of ours by this much before its report is not believed. */
    private static final Duration CLOCK_TOLERANCE = Duration.ofHours(1);

    private final HostMapper mapper;
    private final Clock clock;

    HostIntake(HostMapper mapper, Clock clock) {
        this.mapper = mapper;
        this.clock = clock;
    }

    /** @param taken how many reports were newer than what was known */
    record Taken(int taken, List<Problem> problems) {}

    /** Stores the reports that are newer than what is known; within {@link State#write}. */
    State.Written<Taken> take(Picture picture, List<HostReport> reports) {
        List<Host> hosts = new ArrayList<>();
        List<Problem> problems = new ArrayList<>();
        Map<List<InstalledProduct>, String> digests = new HashMap<>();
        int nextNumber = picture.fleet().all().isEmpty() ? 0 : picture.fleet().all().last() + 1;
        for (HostReport reported : reports) {
            HostReport report = storable(reported);
            Optional<Host> known = picture.fleet().host(report.name());
            if (report.at().isAfter(clock.instant().plus(CLOCK_TOLERANCE))) {
                problems.add(new Problem(report.name(), "its report is dated " + report.at() + ", which is still to come; check the host's clock"));
            } else if (known.isPresent() && report.at().isBefore(known.get().lastReport())) {
                problems.add(new Problem(report.name(), "its report of " + report.at() + " is older than the one of " + known.get().lastReport() + " that is known"));
            } else if (known.isEmpty() || !report.at().equals(known.get().lastReport())) {
                Host host = report.asHost(known.isPresent() ? known.get().number() : nextNumber++);
                store(known, host, digests);
                hosts.add(host);
            }
        }
        return new State.Written<>(hosts.isEmpty() ? picture : picture.withHosts(hosts), new Taken(hosts.size(), problems));
    }

    /** Instants in whole milliseconds, so that what is stored and read again is the same. */
    private static HostReport storable(HostReport r) {
        return new HostReport(r.name(), r.platform(), r.at().truncatedTo(ChronoUnit.MILLIS), r.traits(), r.products(), r.supply(),
                r.lastStart().map(start -> start.truncatedTo(ChronoUnit.MILLIS)));
    }

    private void store(Optional<Host> known, Host host, Map<List<InstalledProduct>, String> digests) {
        boolean same = known.filter(k -> host.equals(new Host(k.number(), k.name(), k.platform(), k.traits(), k.products(), k.supply(), k.lastStart(), host.lastReport()))).isPresent();
        if (same) {
            mapper.heardFrom(host.number(), host.lastReport());
            return;
        }
        String digest = digests.computeIfAbsent(host.products(), products -> {
            String text = InventoryText.write(products);
            String made = InventoryText.digest(text);
            mapper.keepInventory(made, text);
            return made;
        });
        HostMapper.HostRow row = new HostMapper.HostRow(host.number(), host.name(), host.platform(), HostMapper.writeTraits(host.traits()),
                host.supply().orElse(null), host.lastStart().orElse(null), host.lastReport(), digest);
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
