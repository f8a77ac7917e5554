package lucid.server.pilots;

import java.time.Instant;
import java.util.List;
import lucid.core.pilot.Pilot;
import lucid.core.ruling.Verdict;
import lucid.server.snapshot.Snapshot;

/** Hands down what was prepared for when a pilot has answered; whoever keeps verdicts does it. */
public interface PreparedVerdicts {

    /**
     * Within {@link lucid.server.snapshot.SnapshotStore#write}.
     *
     * @param pilots the verdicts of the pilot
     * @return the snapshot in which it holds
     */
    Snapshot handDown(Snapshot snapshot, List<Verdict> pilots, Pilot.Then then, Instant now);
}
