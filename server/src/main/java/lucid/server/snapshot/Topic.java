package lucid.server.snapshot;

import java.util.EnumSet;
import java.util.Set;

/** What a change was about, so that only what shows it is asked for again. */
public enum Topic {
    UPDATES,
    HOSTS,
    POPULATIONS,
    DECISIONS,
    EVIDENCE,
    WEIGHTS,
    /** The record, the documents that came in, and everything else that is stored beside the snapshot. */
    RECORD;

    public static final Set<Topic> ALL = Set.of(values());

    static Set<Topic> between(Snapshot before, Snapshot after) {
        EnumSet<Topic> topics = EnumSet.of(RECORD);
        if (before == after) {
            return topics;
        }
        if (before.catalogue() != after.catalogue()) {
            topics.add(UPDATES);
        }
        boolean otherLadder = before.fleet().ladder() != after.fleet().ladder();
        if (otherLadder) {
            topics.add(POPULATIONS);
        }
        // Another ladder makes another fleet of the same hosts.
        if (before.fleet() != after.fleet() && !otherLadder
                || before.carriages().installed() != after.carriages().installed()
                || before.carriages().running() != after.carriages().running()
                || before.carriages().outcomes() != after.carriages().outcomes()) {
            topics.add(HOSTS);
        }
        if (before.decisions() != after.decisions()) {
            topics.add(DECISIONS);
        }
        if (before.evidence() != after.evidence()) {
            topics.add(EVIDENCE);
        }
        if (before.weights() != after.weights()) {
            topics.add(WEIGHTS);
        }
        return topics;
    }
}
