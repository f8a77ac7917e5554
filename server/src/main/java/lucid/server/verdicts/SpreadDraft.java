package lucid.server.verdicts;

import java.util.List;
import lucid.core.fleet.HostName;

/**
 * Parts in which a deferral ends or a force is due, the first on the day of the sentence.
 *
 * @param parts how many
 * @param daysApart between two of them
 * @param moved hosts that are to be in another part than the one they were drawn into
 */
record SpreadDraft(int parts, int daysApart, List<Moved> moved) {

    static final int MOST_PARTS = 30;
    static final int MOST_DAYS_APART = 60;

    /** @param part 1 for the first */
    record Moved(HostName host, int part) {}

    SpreadDraft {
        moved = AnswerDraft.few("spread.moved", moved);
    }
}
