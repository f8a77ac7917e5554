package lucid.server.hosts;

import java.util.HashMap;
import java.util.Map;
import lucid.core.update.ProductBuild;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Builds of which a version changed on some host, by number: many hosts change the same few, and what changed is looked
 * for by product.
 *
 * <p>Numbers are given only within {@link lucid.server.snapshot.SnapshotStore#write}, by one writer at a time.
 */
@Component
class ChangedBuilds {

    private final HostMapper mapper;
    private final Map<ProductBuild, Integer> numbers = new HashMap<>();

    ChangedBuilds(HostMapper mapper) {
        this.mapper = mapper;
    }

    int number(ProductBuild build) {
        return numbers.computeIfAbsent(build, this::stored);
    }

    private int stored(ProductBuild build) {
        return mapper.changedBuild(build.toString()).orElseGet(() -> {
            mapper.addChangedBuild(build.toString(), build.product().purl());
            forgetUnlessCommitted();
            return mapper.changedBuild(build.toString()).orElseThrow();
        });
    }

    private void forgetUnlessCommitted() {
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCompletion(int status) {
                if (status != STATUS_COMMITTED) {
                    numbers.clear();
                }
            }
        });
    }
}
