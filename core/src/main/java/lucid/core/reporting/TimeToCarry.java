package lucid.core.reporting;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;

/**
 * How long it takes until hosts carry updates, from how many did so at the end of each day. Updates that are still
 * under way, and those that were first counted some time after they were released, tell what is known of them and no
 * more: the product-limit estimate (Kaplan and Meier 1958, Journal of the American Statistical Association 53, section
 * 2) with late entry.
 *
 * <p>Of one day are known only numbers, not which hosts: a host that leaves while it lacks an update is followed no
 * further, and one that joins with it counts as one that has got it.
 */
public final class TimeToCarry {

    private TimeToCarry() {}

    /**
     * The end of a day on which one of the numbers was another than the day before.
     *
     * @param have hosts that have it
     * @param applies hosts that it is for and of which it is known whether they have it
     */
    public record Count(LocalDate day, int have, int applies) {}

    /**
     * One update in one population.
     *
     * @param counts the earliest first; between two of them the numbers stay as they are
     * @param until the last day that was counted
     */
    public record Series(LocalDate published, List<Count> counts, LocalDate until) {}

    /**
     * Days from release until so many hosts carry what was released; none while that has not come to pass, or nobody
     * can tell.
     *
     * @param half days until half of them do
     * @param nineTenths days until nine tenths of them do
     * @param got hosts that got an update while it was counted, each once for each update
     * @param waiting hosts that lack one at the end, each once for each update
     */
    public record Days(Optional<Integer> half, Optional<Integer> nineTenths, int got, int waiting) {}

    /** Hosts at risk of getting it at one age of an update, and those that did. */
    private static final class AtAge {
        private long lacking;
        private long got;
    }

    public static Days of(Collection<Series> all) {
        TreeMap<Long, AtAge> ages = new TreeMap<>();
        long got = 0;
        long waiting = 0;
        for (Series series : all) {
            Walk walk = new Walk(series, ages);
            got += walk.got;
            waiting += walk.waiting;
        }
        double lacks = 1;
        Optional<Integer> half = Optional.empty();
        Optional<Integer> nineTenths = Optional.empty();
        for (var at : ages.entrySet()) {
            AtAge age = at.getValue();
            if (age.lacking > 0) {
                lacks *= 1 - (double) age.got / age.lacking;
            }
            Optional<Integer> days = Optional.of(Math.toIntExact(at.getKey()));
            half = half.isEmpty() && isDownTo(.5, lacks) ? days : half;
            nineTenths = nineTenths.isEmpty() && isDownTo(.1, lacks) ? days : nineTenths;
        }
        return new Days(half, nineTenths, Math.toIntExact(got), Math.toIntExact(waiting));
    }

    /** Products of ratios miss a tenth by some last digits. */
    private static boolean isDownTo(double share, double lacks) {
        return lacks <= share + 1e-9;
    }

    /** One update from day to day. */
    private static final class Walk {
        private long got;
        private long waiting;

        Walk(Series series, TreeMap<Long, AtAge> ages) {
            if (series.counts().isEmpty()) {
                return;
            }
            Count first = series.counts().get(0);
            // What a host has on the first day it got since the release, unless that was long before anybody counted.
            boolean fromTheStart = !first.day().isAfter(series.published().plusDays(1));
            int have = fromTheStart ? 0 : first.have();
            int next = 0;
            Count current = first;
            for (LocalDate day = first.day(); !day.isAfter(series.until()); day = day.plusDays(1)) {
                while (next < series.counts().size()
                        && !series.counts().get(next).day().isAfter(day)) {
                    current = series.counts().get(next++);
                }
                int more = Math.max(0, current.have() - have);
                AtAge age = ages.computeIfAbsent(
                        Math.max(0, ChronoUnit.DAYS.between(series.published(), day)), days -> new AtAge());
                age.got += more;
                age.lacking += Math.max(more, current.applies() - have);
                got += more;
                have = current.have();
            }
            waiting = Math.max(0, current.applies() - current.have());
        }
    }
}
