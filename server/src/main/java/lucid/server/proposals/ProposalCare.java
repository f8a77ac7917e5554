package lucid.server.proposals;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import lucid.server.audit.ByItself;
import lucid.server.clock.ClockMoved;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Writes into the record that a proposal lapsed: nobody approved it, or sent it back, before its day was over. */
@Component
class ProposalCare {

    private static final Logger LOG = LoggerFactory.getLogger(ProposalCare.class);

    private final SnapshotStore store;
    private final ProposalMapper mapper;
    private final Clock clock;

    ProposalCare(SnapshotStore store, ProposalMapper mapper, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.clock = clock;
    }

    @EventListener
    void onMoved(ClockMoved moved) {
        look();
    }

    @Scheduled(fixedDelay = 30_000)
    synchronized void look() {
        Instant now = clock.instant();
        List<ProposalMapper.Row> lapsed = mapper.lapsedBy(now);
        if (lapsed.isEmpty()) {
            return;
        }
        try {
            store.write(snapshot -> {
                lapsed.forEach(this::lapse);
                return new SnapshotStore.Change<>(snapshot, true);
            });
        } catch (ProblemException e) {
            LOG.warn("That a proposal lapsed could not be written, and is tried again: {}", e.getMessage());
        }
    }

    private void lapse(ProposalMapper.Row one) {
        if (mapper.decide(one.number(), Proposal.Outcome.LAPSED, ByItself.AUTHOR.getName(), one.lapsesAt(), null)
                == 1) {
            store.record(
                    Proposals.kindOf(one.about()),
                    one.updateId(),
                    ByItself.AUTHOR,
                    "What " + one.author()
                            + " proposed lapsed: nobody had approved it or sent it back. It held nothing.");
        }
    }
}
