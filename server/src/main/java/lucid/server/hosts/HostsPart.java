package lucid.server.hosts;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Trait;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Component;

/** The part of the snapshot that hosts are: what they have, what happened on them, and which are retired. */
@Component
class HostsPart implements SnapshotPart {

    private final HostMapper mapper;
    private final ProductDictionary dictionary;

    HostsPart(HostMapper mapper, ProductDictionary dictionary) {
        this.mapper = mapper;
        this.dictionary = dictionary;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        Map<HostName, Map<String, Trait>> told = importedTraits();
        Snapshot hosts = Snapshot.EMPTY.withHosts(hosts(told));
        Collection<Outcome> outcomes = mapper.outcomes(dictionary);
        RoaringBitmap retired = new RoaringBitmap();
        mapper.retired().forEach(row -> retired.add(row.host()));
        return snapshot -> snapshot.withImportedTraits(told)
                .withHostsOf(hosts)
                .withOutcomes(outcomes)
                .withRetired(retired);
    }

    private Map<HostName, Map<String, Trait>> importedTraits() {
        Map<HostName, Map<String, Trait>> told = new HashMap<>();
        mapper.importedTraits()
                .forEach(row -> told.put(new HostName(row.host()), HostColumns.readTraits(row.traits())));
        return told;
    }

    private List<Host> hosts(Map<HostName, Map<String, Trait>> told) {
        List<Host> all = new ArrayList<>();
        mapper.all()
                .forEach(row -> all.add(row.host(
                        dictionary.products(row.inventory()), told.getOrDefault(new HostName(row.name()), Map.of()))));
        return all;
    }
}
