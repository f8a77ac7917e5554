package lucid.server.hosts;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
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

    private static final int MOST_PARTS = 4;

    private final HostMapper mapper;
    private final ProductDictionary dictionary;

    HostsPart(HostMapper mapper, ProductDictionary dictionary) {
        this.mapper = mapper;
        this.dictionary = dictionary;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        Map<HostName, Map<String, Trait>> told = importedTraits();
        List<CompletableFuture<Snapshot>> parts = parts(told);
        Collection<Outcome> outcomes = mapper.outcomes(dictionary);
        RoaringBitmap retired = new RoaringBitmap();
        mapper.retired().forEach(row -> retired.add(row.host()));
        List<Snapshot> hosts = parts.stream().map(CompletableFuture::join).toList();
        return snapshot -> {
            Snapshot next = snapshot.withImportedTraits(told);
            for (Snapshot part : hosts) {
                next = next.withHostsOf(part);
            }
            return next.withOutcomes(outcomes).withRetired(retired);
        };
    }

    /** Most of a start goes by here: as many parts of the fleet are read at the same time as there are processors. */
    private List<CompletableFuture<Snapshot>> parts(Map<HostName, Map<String, Trait>> told) {
        int parts = Math.min(MOST_PARTS, Runtime.getRuntime().availableProcessors());
        int each = mapper.nextNumber() / parts + 1;
        return IntStream.range(0, parts)
                .mapToObj(part -> CompletableFuture.supplyAsync(
                        () -> Snapshot.EMPTY.withHosts(hosts(part * each, (part + 1) * each, told))))
                .toList();
    }

    private Map<HostName, Map<String, Trait>> importedTraits() {
        Map<HostName, Map<String, Trait>> told = new HashMap<>();
        mapper.importedTraits()
                .forEach(row -> told.put(new HostName(row.host()), HostColumns.readTraits(row.traits())));
        return told;
    }

    private List<Host> hosts(int from, int before, Map<HostName, Map<String, Trait>> told) {
        List<Host> all = new ArrayList<>();
        mapper.numbered(from, before)
                .forEach(row -> all.add(row.host(
                        dictionary.products(row.inventory()), told.getOrDefault(new HostName(row.name()), Map.of()))));
        return all;
    }
}
