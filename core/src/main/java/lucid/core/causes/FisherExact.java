package lucid.core.causes;

/**
 * The one-sided exact test of a 2 × 2 table: how likely at least as many failures fall inside by chance. R. A. Fisher,
 * "The logic of inductive inference", Journal of the Royal Statistical Society 98(1), 1935. Logarithms of factorials
 * are computed once for a table size.
 */
final class FisherExact {

    private final double[] logFactorials;

    /** @param most largest number of hosts in all */
    FisherExact(int most) {
        logFactorials = new double[most + 1];
        for (int i = 2; i <= most; i++) {
            logFactorials[i] = logFactorials[i - 1] + Math.log(i);
        }
    }

    /**
     * Probability that of {@code failed} failures among {@code all} hosts at least {@code failedInside} fall on the
     * {@code inside} hosts.
     */
    double p(int failedInside, int inside, int failed, int all) {
        int most = Math.min(inside, failed);
        double term = Math.exp(
                choose(inside, failedInside) + choose(all - inside, failed - failedInside) - choose(all, failed));
        double sum = 0;
        for (int k = failedInside; k <= most; k++) {
            sum += term;
            term *= (double) (inside - k) * (failed - k) / ((k + 1.0) * (all - inside - failed + k + 1.0));
        }
        return Math.min(1, sum);
    }

    private double choose(int n, int k) {
        return logFactorials[n] - logFactorials[k] - logFactorials[n - k];
    }
}
