package lucid.core.reporting;

import java.time.Instant;
import java.util.List;

/**
 * How many hosts were foreseen to have an update in effect when a verdict was handed down, to be held against what
 * came.
 *
 * @param curve hosts that have it after each instant, the earliest first; empty where nothing was foreseen
 */
public record Foresight(List<ForeseenPoint> curve) {

    public record ForeseenPoint(Instant at, int hosts) {}

    private static final int FEW_HOSTS = 5;
    private static final double SMALL_SHARE = .1;

    /** Hosts that were foreseen to have it by then. */
    public int by(Instant at) {
        return curve.stream()
                .filter(point -> !point.at().isAfter(at))
                .mapToInt(ForeseenPoint::hosts)
                .reduce(0, (earlier, later) -> later);
    }

    /**
     * Whether it was wrong by more than a handful of hosts and more than a tenth of them.
     *
     * @param have hosts that have it at that instant
     * @param hosts all that the verdict was for
     */
    public boolean isWrong(Instant at, int have, int hosts) {
        int difference = Math.abs(by(at) - have);
        return !curve.isEmpty() && difference > FEW_HOSTS && difference > SMALL_SHARE * hosts;
    }
}
