package lucid.core.forecast;

import java.time.Duration;
import java.time.Instant;
import lucid.core.fleet.WorkingDays;

/** How much time is left between the answer of a pilot and what goes on without it. */
public enum Slack {
    /** At least a working day. */
    ENOUGH,
    UNDER_A_WORKING_DAY,
    /** The others go on before it has answered. */
    NONE;

    private static final Duration WORKING_DAY = Duration.ofDays(1);

    /**
     * @param answered when the pilot will have answered, one report later
     * @param goesOn when the others go on
     */
    public static Slack of(Instant answered, Instant goesOn, WorkingDays days) {
        if (answered.isAfter(goesOn)) {
            return NONE;
        }
        return days.between(answered, goesOn).compareTo(WORKING_DAY) < 0 ? UNDER_A_WORKING_DAY : ENOUGH;
    }
}
