package lucid.core.docket;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.RuleMatch;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.weighing.Beam;
import lucid.core.weighing.Weighing;
import org.roaringbitmap.RoaringBitmap;

/**
 * One update under judgement, with the cues that put it on the docket; without cues it is answered.
 *
 * @param cues in the order of their types
 * @param counts of hosts, over all populations
 * @param weighings of the populations with hosts that it concerns, in the order of the ladder; hosts in no population
 *     last
 * @param marks what holds in each population of the ladder
 * @param open hosts that some cue is about and nobody has answered for, by entry of the ladder
 * @param routine true if nothing speaks for anything but leaving it to the rule
 * @param nextOffer the first instant at which a standing rule offers it to hosts that nothing else withholds it from
 * @param nextDue when it is or was due on the first of the hosts that lack it; none where it is due on none
 * @param foldedUnder identifier of the successor under which it stands ("newest only"), if it does
 * @param contains identifiers of earlier updates that fold under this one
 * @param siblings identifiers of other updates that close one of its vulnerabilities, or are the same for another part
 *     of a device
 * @param validUntil the first instant at which some of this may be otherwise although nothing was told meanwhile
 */
public record DocketCase(
        Update update,
        List<Cue> cues,
        Counts counts,
        List<OfPopulation> weighings,
        List<Mark> marks,
        Map<PopulationId, Integer> open,
        boolean routine,
        Optional<Offer> nextOffer,
        Optional<Instant> nextDue,
        Optional<UpdateId> foldedUnder,
        List<UpdateId> contains,
        List<UpdateId> siblings,
        Instant validUntil) {

    /**
     * @param lacking by their last known state
     * @param unknown of the lacking, those whose last report is too old
     * @param facingPublic of the lacking
     * @param notAffected of the lacking and those that wait for a restart, hosts on which it is told not to matter
     */
    public record Counts(
            int lacking, int having, int unknown, int facingPublic, int restartOutstanding, int notAffected) {}

    /** @param population empty for hosts in no population */
    public record OfPopulation(Optional<PopulationId> population, Weighing weighing) {}

    /**
     * @param holds what holds for most of the hosts that lack it; none where no host lacks it; @param differently hosts
     *     for which something else holds
     */
    public record Mark(
            PopulationId population, int lacking, int applicable, Optional<RuleMatch> holds, int differently) {}

    /** @param hosts of the population that lack it */
    public record Offer(String populationName, Instant at, RoaringBitmap hosts) {}

    public boolean needsJudgement() {
        return !cues.isEmpty() && foldedUnder.isEmpty();
    }

    /** All populations weighed together. */
    public Beam beam() {
        return Beam.of(weighings.stream().map(OfPopulation::weighing).toList());
    }

    public Optional<Weighing> weighingOf(PopulationId population) {
        return weighings.stream()
                .filter(of -> of.population().equals(Optional.of(population)))
                .findFirst()
                .map(OfPopulation::weighing);
    }

    /** The population on which most hangs: its suggestion is the one that the docket shows. */
    public Optional<OfPopulation> heaviest() {
        return weighings.stream()
                .reduce((a, b) -> b.weighing().stake() > a.weighing().stake() ? b : a);
    }

    /** The newest of its cues. */
    public Optional<Instant> newestCue() {
        return cues.stream().map(Cue::raised).max(Instant::compareTo);
    }
}
