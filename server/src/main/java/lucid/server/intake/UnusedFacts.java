package lucid.server.intake;

import java.util.BitSet;
import lucid.server.state.Disk;
import lucid.server.state.State;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Forgets versions of products that no host has any more, nor had when it reported first, nor tried an update from: so that what was made up, or is long gone, does not
 * stay for ever. What is used is counted while others write; only the forgetting itself has its turn among the writers.
 */
@Component
class UnusedFacts {

    private static final Logger LOG = LoggerFactory.getLogger(UnusedFacts.class);
    private static final long HOUR = 3_600_000;

    private final State state;
    private final Facts facts;
    private final HostMapper mapper;
    private final Disk disk;

    UnusedFacts(State state, Facts facts, HostMapper mapper, Disk disk) {
        this.state = state;
        this.facts = facts;
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
        state.write(snapshot -> {
            facts.watch();
            return new State.Written<>(snapshot, true);
        });
        BitSet used = new BitSet();
        mapper.inventories().forEach(row -> {
            Facts.mark(row.inventory(), used);
            Facts.mark(row.first(), used);
        });
        mapper.factsOfOutcomes().forEach(used::set);
        return state.write(snapshot -> new State.Written<>(snapshot, facts.forgetAllBut(used)));
    }
}
