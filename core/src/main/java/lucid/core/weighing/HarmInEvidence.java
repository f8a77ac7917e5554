package lucid.core.weighing;

import java.util.EnumSet;
import java.util.Set;
import org.apache.commons.statistics.distribution.BetaDistribution;

/** Whether anything shows that an update does harm, beyond the single failures that every update has. */
public final class HarmInEvidence {

    private static final double SURE = 0.9;
    private static final int FEWEST_FAILURES = 2;
    /** Failing less often than this is no harm in evidence, however seldom its kind fails. */
    private static final double NOTICEABLE = 0.01;
    /** With so many clean tries a rate above 5 % is excluded at 95 %: what is only told does not hold against them. */
    private static final int CLEAN_TRIES_AGAINST_WORDS = 58;

    private static final int FEW_TRIES = 60;
    private static final double RATE_OF_DOWN = 0.005;
    private static final int HOSTS_DOWN_ELSEWHERE = 3;

    private HarmInEvidence() {}

    /**
     * @param tries of the cells judged together
     * @param usual how often sound updates of the kind fail
     * @param named true if an open known issue with a condition touches a host
     * @param vague true if an open known issue without one does
     */
    static Set<HarmSeen> of(CellTries tries, double usual, boolean named, boolean vague) {
        Set<HarmSeen> seen = EnumSet.noneOf(HarmSeen.class);
        boolean fewClean = tries.clean() < CLEAN_TRIES_AGAINST_WORDS;
        if (named || vague && fewClean) {
            seen.add(HarmSeen.KNOWN_ISSUE);
        }
        if (tries.failed() + tries.failedElsewhere() >= FEWEST_FAILURES && aboveUsual(tries, usual) >= SURE) {
            seen.add(HarmSeen.FAILURES_ABOVE_USUAL);
        }
        if (tries.down() >= 1
                && (tries.tried() <= FEW_TRIES
                        || BetaDistribution.of(1.0 + tries.down(), 1.0 + tries.tried() - tries.down())
                                        .survivalProbability(RATE_OF_DOWN)
                                >= SURE)) {
            seen.add(HarmSeen.HOSTS_DOWN);
        }
        if (tries.downElsewhere() >= HOSTS_DOWN_ELSEWHERE && fewClean) {
            seen.add(HarmSeen.HOSTS_DOWN_ELSEWHERE);
        }
        return seen;
    }

    /** How sure it is that an update fails more than twice as often as usual, and noticeably often, 0 to 1. */
    public static double aboveUsual(CellTries tries, double usual) {
        return tries.rate(usual).above(Math.min(1, Math.max(2 * usual, NOTICEABLE)));
    }
}
