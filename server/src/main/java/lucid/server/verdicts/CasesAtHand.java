package lucid.server.verdicts;

import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.docket.Cue;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Rating;
import lucid.core.update.UpdateId;
import lucid.core.weighing.Range;
import lucid.core.weighing.Suggestion;

/** How cases stand now. The docket tells it; whoever hands down a verdict keeps it. */
public interface CasesAtHand {

    /**
     * An update as it is weighed for one population, in points.
     *
     * @param lacking hosts of the population that lack it or wait for a restart
     */
    record WeighedThen(
            int lacking, double exposure, Range hazard, double usual, Range tilt, Suggestion.Type suggestion) {}

    record IssueThen(String id, String words, String state) {}

    /**
     * @param exploited CVEs that it closes and that are known to be exploited
     * @param probability the highest exploit probability of what it closes, where one is known
     * @param tried hosts that tried it
     * @param failed of these, hosts on which it failed
     */
    record CaseThen(
            Rating rating,
            Optional<Double> baseScore,
            List<Cue> cues,
            List<String> exploited,
            Optional<Double> probability,
            int tried,
            int failed,
            List<IssueThen> issues,
            Optional<WeighedThen> weighed) {}

    /** One for each of these populations. */
    Map<PopulationId, CaseThen> of(UpdateId update, Collection<PopulationId> populations);
}
