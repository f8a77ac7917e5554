package lucid.core.docket;

import java.util.List;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.update.Update;

/**
 * One update under judgement, with the cues that put it on the docket; without cues it is answered.
 *
 * @param foldedUnder identifier of the successor under which it stands ("newest only"), if it does
 * @param contains identifiers of earlier updates that fold under this one
 */
public record DocketCase(Update update, Carriage carriage, List<Cue> cues, Optional<String> foldedUnder, List<String> contains) {

    public boolean needsJudgement() {
        return !cues.isEmpty() && foldedUnder.isEmpty();
    }

    /** Hosts that lack it, by their last known state. */
    public int lacking() {
        return carriage.lacking().getCardinality();
    }
}
