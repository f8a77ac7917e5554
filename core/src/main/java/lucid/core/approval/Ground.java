package lucid.core.approval;

import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Population;
import lucid.core.pilot.Pilot;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import org.roaringbitmap.RoaringBitmap;

/** Why a verdict needs an approver before it holds. */
public enum Ground {
    /** At once, or as what is prepared for when a pilot has answered. */
    FORCES_TIER_1,
    /** Hosts of tier 1 would install or restart in their busy hours. */
    DISTURBS_TIER_1,
    OVERRIDES_EXCEPTION;

    private static final int COSTLIEST_TIER = 1;

    /**
     * @param decided hosts for which the verdict would be what holds
     * @param inBusyHours those that would install or restart in busy hours
     */
    public static Set<Ground> of(
            Verdict verdict,
            Population population,
            RoaringBitmap decided,
            RoaringBitmap inBusyHours,
            Decisions decisions) {
        Set<Ground> grounds = EnumSet.noneOf(Ground.class);
        boolean costliest = population.tier() == COSTLIEST_TIER;
        boolean forces = verdict.type() == VerdictType.FORCE
                || verdict.pilot()
                        .flatMap(pilot -> pilot.terms().then())
                        .flatMap(Pilot.Then::forcedWithin)
                        .isPresent();
        if (costliest && forces && !decided.isEmpty()) {
            grounds.add(FORCES_TIER_1);
        }
        if (costliest && !inBusyHours.isEmpty()) {
            grounds.add(DISTURBS_TIER_1);
        }
        boolean ofOthers = verdict.overriddenExceptions().stream()
                .map(decisions::exception)
                .flatMap(Optional::stream)
                .anyMatch(exception -> exception.standsAt(verdict.createdAt())
                        && !exception.owner().equals(verdict.author()));
        if (ofOthers) {
            grounds.add(OVERRIDES_EXCEPTION);
        }
        return grounds;
    }
}
