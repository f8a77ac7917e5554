package lucid.core.weighing;

import java.util.Arrays;
import java.util.List;
import org.apache.commons.numbers.gamma.LogBeta;
import org.apache.commons.numbers.gamma.RegularizedBeta;

/**
 * What is believed of the rate at which an update fails on hosts that are alike, after some of them tried it.
 *
 * <p>Before any try an update is one of three sorts: <em>sound</em>, and fails as updates of its kind usually do;
 * <em>flawed</em>, and fails now and then; or <em>bad</em>, and fails more often than not. Each sort is a beta
 * distribution, and their mixture is the prior. Tries move weight between the sorts: a few failures make it likely that
 * the update is bad, long clean histories that it is sound. A mixture of conjugate priors has a mixture of the same
 * family as posterior (P. Diaconis and D. Ylvisaker, "Quantifying prior opinion", Bayesian Statistics 2, 1985).
 *
 * <p>The shares and shapes were chosen by the calibration study of the bench: with them the 90 % intervals cover the
 * true rate of sound, flawed and bad updates about as often as they say.
 *
 * @param usual how often sound updates of its kind fail, above 0 and below 1
 * @param tries 0 and up; reports from elsewhere can add parts of one
 * @param failures of them
 */
public record FailureRate(double usual, double tries, double failures) {

    private static final double SOUND = 0.90;
    private static final double FLAWED = 0.07;
    private static final double BAD = 0.03;
    /** A wide sound sort: half a failure was seen before anything is known. */
    private static final double SOUND_FAILURES = 0.5;
    /** Distance of two probabilities, or of the square roots of two rates, that are taken for one. */
    private static final double PRECISION = 1e-10;

    /** A sort of updates: its share among all, and the shape of its failure rates. */
    private record Sort(double share, double alpha, double beta) {
        double mean() {
            return alpha / (alpha + beta);
        }
    }

    /**
     * How likely it is that the update is of a sort, and how often it would fail then.
     *
     * @param share 0 to 1; of all sorts they add up to 1
     * @param rate mean, 0 to 1
     */
    public record Likely(double share, double rate) {}

    /** @param sound fails as usual; @param flawed now and then; @param bad more often than not */
    public record Sorts(Likely sound, Likely flawed, Likely bad) {}

    private Sort[] sorts() {
        return new Sort[] {
            new Sort(SOUND, SOUND_FAILURES, SOUND_FAILURES * (1 - usual) / usual),
            new Sort(FLAWED, 1, 15),
            new Sort(BAD, 2, 1)
        };
    }

    /** What remains possible, with the tries counted in; the shares add up to 1. */
    private Sort[] posterior() {
        Sort[] sorts = sorts();
        double[] logShares = new double[sorts.length];
        double largest = Double.NEGATIVE_INFINITY;
        for (int i = 0; i < sorts.length; i++) {
            Sort prior = sorts[i];
            logShares[i] = Math.log(prior.share())
                    + LogBeta.value(prior.alpha() + failures, prior.beta() + tries - failures)
                    - LogBeta.value(prior.alpha(), prior.beta());
            largest = Math.max(largest, logShares[i]);
        }
        double sum = 0;
        for (double logShare : logShares) {
            sum += Math.exp(logShare - largest);
        }
        for (int i = 0; i < sorts.length; i++) {
            sorts[i] = new Sort(
                    Math.exp(logShares[i] - largest) / sum,
                    sorts[i].alpha() + failures,
                    sorts[i].beta() + tries - failures);
        }
        return sorts;
    }

    /** The rate that is expected: over the sorts, share times mean. */
    public double mean() {
        double mean = 0;
        for (Sort sort : posterior()) {
            mean += sort.share() * sort.mean();
        }
        return mean;
    }

    /** Of what sort the update is, after these tries. */
    public Sorts sortsNow() {
        List<Likely> likely = Arrays.stream(posterior())
                .map(sort -> new Likely(sort.share(), sort.mean()))
                .toList();
        return new Sorts(likely.get(0), likely.get(1), likely.get(2));
    }

    /** How sure it is that the rate is above {@code rate}, 0 to 1. */
    public double above(double rate) {
        double above = 0;
        for (Sort sort : posterior()) {
            above += sort.share() * RegularizedBeta.complement(rate, sort.alpha(), sort.beta());
        }
        return above;
    }

    /** The mean with its 90 % interval: the rates below and above which 5 % of the belief lies. */
    Range range() {
        Sort[] posterior = posterior();
        return new Range(mean(), quantile(posterior, 0.05), quantile(posterior, 0.95));
    }

    /**
     * By false position with halved weights, and a bisection every third step (M. Dowell and P. Jarratt, "A modified
     * regula falsi method for computing the root of an equation", BIT 11, 1971), over the square root of the rate, in
     * which the probability below a small rate is nearly a straight line.
     */
    private static double quantile(Sort[] sorts, double probability) {
        double low = 0;
        double high = 1;
        double atLow = -probability;
        double atHigh = 1 - probability;
        for (int step = 1; high - low > PRECISION; step++) {
            double root = step % 3 == 0 ? (low + high) / 2 : (low * atHigh - high * atLow) / (atHigh - atLow);
            double at = below(sorts, root * root) - probability;
            if (Math.abs(at) < PRECISION) {
                return root * root;
            }
            if (at < 0) {
                low = root;
                atLow = at;
                atHigh /= 2;
            } else {
                high = root;
                atHigh = at;
                atLow /= 2;
            }
        }
        return low * high;
    }

    private static double below(Sort[] sorts, double rate) {
        double below = 0;
        for (Sort sort : sorts) {
            if (sort.share() > PRECISION) {
                below += sort.share() * RegularizedBeta.value(rate, sort.alpha(), sort.beta());
            }
        }
        return below;
    }
}
