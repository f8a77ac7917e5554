package lucid.server.hosts;

import java.util.BitSet;
import lucid.server.snapshot.Disk;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Forgets versions of products that no host has any more, nor had when it reported first, nor tried an update from: so
 * that what was made up, or is long gone, does not stay for ever. What is used is counted while others write; only the
 * forgetting itself has its turn among the writers.
 */
@Component
class UnusedProducts {

    private static final Logger LOG = LoggerFactory.getLogger(UnusedProducts.class);
    private static final long HOUR = 3_600_000;

    private final SnapshotStore store;
    private final ProductDictionary dictionary;
    private final HostMapper mapper;
    private final Disk disk;

    UnusedProducts(SnapshotStore store, ProductDictionary dictionary, HostMapper mapper, Disk disk) {
        this.store = store;
        this.dictionary = dictionary;
        this.mapper = mapper;
        this.disk = disk;
    }

    @Scheduled(initialDelay = HOUR, fixedDelay = 24 * HOUR)
    void daily() {
        if (!disk.isReadOnly()) {
            try {
                LOG.info("{} versions of products that no host has any more were forgotten", forget());
            } catch (ProblemException e) {
                LOG.warn("Unused versions of products stay for now: {}", e.getMessage());
            }
        }
    }

    /** @return how many were forgotten */
    int forget() {
        store.write(snapshot -> {
            dictionary.watch();
            return new SnapshotStore.Change<>(snapshot, true);
        });
        BitSet used = new BitSet();
        mapper.inventories().forEach(row -> {
            ProductDictionary.mark(row.inventory(), used);
            ProductDictionary.mark(row.first(), used);
        });
        mapper.productsOfOutcomes().forEach(used::set);
        return store.write(snapshot -> new SnapshotStore.Change<>(snapshot, dictionary.forgetAllBut(used)));
    }
}
