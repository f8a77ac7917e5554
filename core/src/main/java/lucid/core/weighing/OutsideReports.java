package lucid.core.weighing;

import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import lucid.core.causes.Cause;
import lucid.core.evidence.FailureReport;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import org.roaringbitmap.RoaringBitmap;

/**
 * What reports from elsewhere add to the cells of an update: half of the hosts that they tell of, at most two failures
 * in all, each source and code once. A report is of the cell of a cause with its code; else of the cells whose hosts
 * meet its condition; else of the last cells.
 */
final class OutsideReports {

    /** Failures that reports from elsewhere add at most: words of others never outweigh a few own tries. */
    private static final double MOST = 2;

    private static final double SHARE = 0.5;

    private final List<Map<FailureClass, Double>> failures = new ArrayList<>();
    private final int[] down;

    /**
     * @param causes of each cell
     * @param hosts of each cell, those that lack the update and those that tried it
     */
    OutsideReports(List<FailureReport> reports, List<Optional<Cause>> causes, List<RoaringBitmap> hosts, Fleet fleet) {
        this.down = new int[causes.size()];
        causes.forEach(cause -> failures.add(new EnumMap<>(FailureClass.class)));
        Map<String, FailureReport> once = new LinkedHashMap<>();
        reports.stream()
                .filter(report -> report.others() > 0)
                .forEach(report -> once.merge(
                        report.source() + "\n" + report.code().orElse(""),
                        report,
                        (a, b) -> b.others() > a.others() ? b : a));
        double told = once.values().stream().mapToInt(FailureReport::others).sum();
        double each = told == 0 ? 0 : Math.min(SHARE * told, MOST) / told;
        for (FailureReport report : once.values()) {
            List<Double> shares = shares(report, causes, hosts, fleet);
            for (int place = 0; place < causes.size(); place++) {
                if (shares.get(place) > 0) {
                    failures.get(place)
                            .merge(report.failureClass(), each * report.others() * shares.get(place), Double::sum);
                    down[place] += report.failureClass() == FailureClass.DOWN ? report.others() : 0;
                }
            }
        }
    }

    Map<FailureClass, Double> failures(int place) {
        return failures.get(place);
    }

    /** Hosts elsewhere that are told to have gone down, by reports that are of this cell or of several. */
    int down(int place) {
        return down[place];
    }

    /** Which part of a report is of each cell; they add up to 1. */
    private static List<Double> shares(
            FailureReport report, List<Optional<Cause>> causes, List<RoaringBitmap> hosts, Fleet fleet) {
        List<Integer> ofCode = places(
                causes,
                cause -> cause.isPresent()
                        && report.code().isPresent()
                        && cause.get().code().equals(report.code()));
        if (!ofCode.isEmpty()) {
            return shares(causes.size(), ofCode, hosts);
        }
        if (report.where().isPresent()) {
            List<RoaringBitmap> meeting = hosts.stream()
                    .map(cell -> fleet.matching(report.where().get(), cell))
                    .toList();
            List<Integer> met = places(causes, cause -> true).stream()
                    .filter(place -> !meeting.get(place).isEmpty())
                    .toList();
            if (!met.isEmpty()) {
                return shares(causes.size(), met, meeting);
            }
        }
        return shares(causes.size(), places(causes, Optional::isEmpty), hosts);
    }

    private static List<Integer> places(List<Optional<Cause>> causes, Predicate<Optional<Cause>> which) {
        return IntStream.range(0, causes.size())
                .filter(place -> which.test(causes.get(place)))
                .boxed()
                .toList();
    }

    /** In proportion to the hosts; alike where there are none. */
    private static List<Double> shares(int cells, List<Integer> places, List<RoaringBitmap> hosts) {
        double all = places.stream()
                .mapToInt(place -> hosts.get(place).getCardinality())
                .sum();
        List<Double> shares = new ArrayList<>(Collections.nCopies(cells, 0.0));
        places.forEach(place -> shares.set(
                place, all == 0 ? 1.0 / places.size() : hosts.get(place).getCardinality() / all));
        return shares;
    }
}
