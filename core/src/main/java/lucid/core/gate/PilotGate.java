package lucid.core.gate;

import org.apache.commons.statistics.distribution.BetaDistribution;

/**
 * The gate of a pilot: when its hosts have shown enough, and when too much. Both are asked after every host that
 * answers, so an update at the limit has more than one chance to pass; {@link #passes} tells how many in all.
 *
 * @param askedLimit highest failure rate that is asked for, above 0 and below 1
 * @param hosts in the sample when the pilot started; from 1
 */
public record PilotGate(double askedLimit, int hosts) {

    private static final double CONFIDENCE = 0.95;
    private static final int FEWEST_FAILURES = 2;

    /** @throws IllegalArgumentException if the limit is not between 0 and 1, or there are no hosts */
    public PilotGate {
        if (!(askedLimit > 0 && askedLimit < 1)) {
            throw new IllegalArgumentException("a limit is a rate between 0 and 1");
        }
        if (hosts < 1) {
            throw new IllegalArgumentException("a pilot has hosts");
        }
    }

    /**
     * The failure rate that it must stay below to be met: what is asked for, but no less than what a sample of this
     * size can show if all of it stays clean. Of 12 hosts .206, of 58 .05.
     */
    public double limit() {
        return Gate.forHosts(askedLimit, hosts).limit();
    }

    /** True if so many clean and failed hosts show that the rate is at most {@link #limit}. */
    public boolean isMet(int clean, int failed) {
        return new Gate(limit()).isMet(clean + failed, failed);
    }

    /**
     * True if they show that the rate is above the one that is asked for: with one host down, or with two failures or
     * more where that is sure to 95 %. With 2 failures of at most 15 tried, 3 of 27, 4 of 39, where 5 % is asked for.
     *
     * @param tried hosts that tried, whether they have answered or not
     */
    public boolean isFailed(int tried, int failed, int down) {
        return down > 0 || failed >= FEWEST_FAILURES && above(tried, failed) >= CONFIDENCE;
    }

    /** Probability that the failure rate is above the one that is asked for. */
    private double above(int tried, int failed) {
        return BetaDistribution.of(1.0 + failed, 1.0 + tried - failed).survivalProbability(askedLimit);
    }

    /** With so many failures, how many hosts must have answered to meet it. */
    public int answeredToMeet(int failed) {
        return new Gate(limit()).triesToMeet(failed);
    }

    /** With so many failures, none of them down, how many hosts that tried are few enough to fail it; 0: none. */
    public int triedToFail(int failed) {
        int tried = failed;
        while (isFailed(tried, failed, 0)) {
            tried++;
        }
        return isFailed(failed, failed, 0) ? tried - 1 : 0;
    }

    /** How many more clean hosts would meet it; 0 if it is met. */
    public int furtherClean(int clean, int failed) {
        return Math.max(0, new Gate(limit()).triesToMeet(failed) - failed - clean);
    }

    /** How many hosts must be clean, with none that fails, to show the rate that is asked for: 58 for 5 %. */
    public int hostsForAskedLimit() {
        return new Gate(askedLimit).triesToMeet(0);
    }

    /**
     * Probability that an update which fails on this share of hosts, without taking one down, meets the gate at some
     * look, each host being looked at as it answers.
     *
     * @param rate 0 to 1
     */
    public double passes(double rate) {
        // State: how many have failed so far; what met or failed the gate is out.
        double[] open = new double[hosts + 1];
        open[0] = 1;
        double passed = 0;
        for (int answered = 1; answered <= hosts; answered++) {
            double[] next = new double[hosts + 1];
            for (int failed = 0; failed < answered; failed++) {
                next[failed] += open[failed] * (1 - rate);
                next[failed + 1] += open[failed] * rate;
            }
            for (int failed = 0; failed <= answered; failed++) {
                if (next[failed] > 0 && isFailed(answered, failed, 0)) {
                    next[failed] = 0;
                } else if (next[failed] > 0 && isMet(answered - failed, failed)) {
                    passed += next[failed];
                    next[failed] = 0;
                }
            }
            open = next;
        }
        return passed;
    }
}
