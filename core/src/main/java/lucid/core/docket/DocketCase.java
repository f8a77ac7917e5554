package lucid.core.docket;

import java.util.List;
import lucid.core.carriage.Carriage;
import lucid.core.update.Update;

/** One update under judgement, with the cues that put it on the docket; without cues it is answered. */
public record DocketCase(Update update, Carriage carriage, List<Cue> cues) {

    public boolean needsJudgement() {
        return !cues.isEmpty();
    }

    /** Hosts that lack it, by their last known state. */
    public int lacking() {
        return carriage.lacking().getCardinality();
    }
}
