package lucid.bench;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.function.ToDoubleFunction;
import lucid.core.fleet.FailureClass;
import lucid.core.update.AttackVector;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.weighing.BaselineRates;
import lucid.core.weighing.CellTries;
import lucid.core.weighing.PopulationFacts;
import lucid.core.weighing.Rates;
import lucid.core.weighing.Suggestion;
import lucid.core.weighing.UpdateFacts;
import lucid.core.weighing.VulnerabilityRisk;
import lucid.core.weighing.Weigher;
import lucid.core.weighing.Weighing;
import lucid.core.weighing.Weights;
import org.apache.commons.statistics.distribution.BetaDistribution;

/**
 * Whether the weighing means what it says: how often the 90 % interval of a failure rate holds the true rate, for
 * updates that are sound, flawed or bad, at several histories; and what an analyst would have been told of them on
 * thirty days, with ten more tries each day: how many sound ones ever "block", how many bad ones, and when.
 */
public final class Calibration {

    private static final int UPDATES = 2000;
    private static final int DAYS = 30;
    private static final int TRIES_A_DAY = 10;
    private static final double NOTICEABLE = 0.01;
    private static final double USUAL = BaselineRates.Baseline.NONE.rate();

    private Calibration() {}

    /** @param rate how a failure rate of the sort is drawn */
    private record Sort(String name, double share, ToDoubleFunction<SplittableRandom> rate) {}

    private static final List<Sort> SORTS = List.of(
            new Sort("sound", .90, random -> beta(random, .5, .5 * (1 - USUAL) / USUAL)),
            new Sort("flawed", .07, random -> beta(random, 1, 15)),
            new Sort("bad", .03, random -> beta(random, 2, 1)));

    private static double beta(SplittableRandom random, double alpha, double beta) {
        return BetaDistribution.of(alpha, beta).inverseCumulativeProbability(random.nextDouble());
    }

    public static void main(String[] arguments) {
        for (int tries : new int[] {0, 5, 12, 30, 60, 200, 1000}) {
            coverage(tries);
        }
        SORTS.forEach(Calibration::told);
        told(new Sort("sound, failing as usual (0.3 %),", 1, random -> USUAL));
        // More than that is noticeable by the model's own words, so that a block of it is no false alarm.
        told(new Sort("sound, failing in at most 1 %,", 1, random -> soundAndUnnoticed(random)));
    }

    private static double soundAndUnnoticed(SplittableRandom random) {
        double rate = 1;
        while (rate > NOTICEABLE) {
            rate = SORTS.get(0).rate().applyAsDouble(random);
        }
        return rate;
    }

    private static void coverage(int tries) {
        StringBuilder line = new StringBuilder();
        double together = 0;
        int withoutMiddle = 0;
        for (Sort sort : SORTS) {
            SplittableRandom random =
                    new SplittableRandom(tries * 31L + sort.name().hashCode());
            Rates rates = new Rates();
            int covered = 0;
            for (int i = 0; i < UPDATES; i++) {
                double rate = sort.rate().applyAsDouble(random);
                int failed = failures(random, tries, rate);
                Weighing.OfCell cell =
                        weigh(tries, failed, Map.of(), rates).cells().get(0);
                covered += rate >= cell.rate().low() && rate <= cell.rate().high() ? 1 : 0;
                withoutMiddle += cell.rate().middle() < cell.rate().low()
                                || cell.rate().middle() > cell.rate().high()
                        ? 1
                        : 0;
            }
            together += sort.share() * covered / UPDATES;
            line.append(String.format(", %s %.1f %%", sort.name(), 100.0 * covered / UPDATES));
        }
        System.out.printf(
                "after %4d tries the interval holds the true rate: of all %.1f %%%s; intervals without their middle: %d%n",
                tries, 100 * together, line, withoutMiddle);
    }

    private static int failures(SplittableRandom random, int tries, double rate) {
        int failed = 0;
        for (int i = 0; i < tries; i++) {
            failed += random.nextDouble() < rate ? 1 : 0;
        }
        return failed;
    }

    /** A medium fix for 157 desktops of tier 3, as most are. */
    private static Weighing weigh(int tried, int failed, Map<FailureClass, Integer> failures, Rates rates) {
        VulnerabilityRisk medium = new VulnerabilityRisk(
                "CVE-2026-9000001",
                Optional.empty(),
                false,
                Optional.of(.001),
                Rating.MEDIUM,
                AttackVector.NETWORK,
                Optional.of(5.5));
        Map<FailureClass, Integer> counted =
                failures.isEmpty() && failed > 0 ? new EnumMap<>(Map.of(FailureClass.DEGRADED, failed)) : failures;
        UpdateFacts update = new UpdateFacts(
                Kind.SECURITY,
                List.of(medium),
                true,
                false,
                List.of(CellTries.of(tried, counted)),
                BaselineRates.Baseline.NONE);
        PopulationFacts desktops = new PopulationFacts(
                3,
                List.of(new PopulationFacts.CellHosts(
                        157,
                        0,
                        List.of(new PopulationFacts.Exposed(157, 0, Weights.Facing.INTERNAL, Set.of(0))),
                        List.of(new PopulationFacts.Endangered(157, Optional.empty(), Optional.empty())),
                        0,
                        0,
                        0)));
        return new Weigher(Weights.USUAL, update, rates).weigh(desktops, false);
    }

    private static void told(Sort sort) {
        SplittableRandom random = new SplittableRandom(sort.name().hashCode());
        Rates rates = new Rates();
        int blocked = 0;
        List<Integer> days = new ArrayList<>();
        for (int i = 0; i < UPDATES; i++) {
            double rate = sort.rate().applyAsDouble(random);
            int tried = 0;
            int failed = 0;
            Map<FailureClass, Integer> failures = new EnumMap<>(FailureClass.class);
            for (int day = 1; day <= DAYS; day++) {
                int more = failures(random, TRIES_A_DAY, rate);
                tried += TRIES_A_DAY;
                failed += more;
                for (int f = 0; f < more; f++) {
                    // Of ten failures six refuse, three leave something worse, one takes the host down.
                    int kind = random.nextInt(10);
                    failures.merge(
                            kind < 6 ? FailureClass.REFUSED : kind < 9 ? FailureClass.DEGRADED : FailureClass.DOWN,
                            1,
                            Integer::sum);
                }
                if (weigh(tried, failed, failures, rates).suggestion().type() == Suggestion.Type.BLOCK) {
                    blocked++;
                    days.add(day);
                    break;
                }
            }
        }
        days.sort(null);
        System.out.printf(
                "%s updates told \"block\" within %d days of %d tries: %.1f %%%s%n",
                sort.name(),
                DAYS,
                TRIES_A_DAY,
                100.0 * blocked / UPDATES,
                days.isEmpty() ? "" : ", half of them by day " + days.get(days.size() / 2));
    }
}
