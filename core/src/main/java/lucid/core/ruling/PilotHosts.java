package lucid.core.ruling;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Fleet;
import lucid.core.pilot.Candidates;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * The hosts that a pilot is for.
 *
 * @param named all of them, whatever they carry
 * @param lacking those that lack the update
 * @param offerable those for which it would hold if the pilot offered it to them
 */
public record PilotHosts(RoaringBitmap named, RoaringBitmap lacking, RoaringBitmap offerable) {

    /** @param verdicts those of the pilot: as they stand, or as they are worded with numbers that no other has */
    public static PilotHosts of(
            List<Verdict> verdicts,
            Update update,
            Carriage carriage,
            Fleet fleet,
            Decisions decisions,
            Catalogue catalogue,
            Instant now) {
        RoaringBitmap named = new RoaringBitmap();
        RoaringBitmap offerable = new RoaringBitmap();
        for (Verdict verdict : verdicts) {
            if (fleet.ladder().entry(verdict.populationId()).isEmpty()) {
                continue;
            }
            RoaringBitmap members = fleet.members(verdict.populationId());
            RoaringBitmap hosts = verdict.narrowing()
                    .map(where -> fleet.matching(where, members))
                    .orElse(members);
            named.or(hosts);
            Decisions offering = decisions.with(verdict.lettingGo());
            Timeline.of(update, offering, fleet, catalogue)
                    .groups(RoaringBitmap.and(hosts, carriage.lacking()), now)
                    .stream()
                    .filter(group -> group.match().source().equals(Optional.of(verdict.number()))
                            && group.match().effect() == Effect.OFFERED)
                    .forEach(group -> offerable.or(group.hosts()));
        }
        return new PilotHosts(named, RoaringBitmap.and(named, carriage.lacking()), offerable);
    }

    /** Whom a sample can be drawn from. */
    public Candidates candidates(TriedHosts tried, boolean alsoTier1, Fleet fleet, Instant now) {
        return Candidates.of(
                lacking, tried, RoaringBitmap.andNot(lacking, offerable), fleet.unknownAt(now), alsoTier1, fleet);
    }
}
