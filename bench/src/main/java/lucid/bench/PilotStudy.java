package lucid.bench;

import java.util.SplittableRandom;
import lucid.core.gate.PilotGate;

/**
 * Whether pilots keep what their gate promises: how often an update passes that fails on a share of hosts, looked at
 * after each host; beside it what the gate says of itself. Of the failures one in ten takes the host down; an update
 * with a cause fails on a part of the hosts only, of which a sample drawn by coverage holds its share.
 */
public final class PilotStudy {

    private static final int PILOTS = 20_000;
    private static final int[] HOSTS = {12, 20, 58, 123, 200};
    private static final double[] RATES = {.003, .01, .05, .1, .2};
    private static final double DOWN = .1;

    private PilotStudy() {}

    public static void main(String[] arguments) {
        for (int hosts : HOSTS) {
            PilotGate gate = new PilotGate(.05, hosts);
            System.out.printf("%3d hosts can show at best %.1f %%%n", hosts, 100 * gate.limit());
            for (double rate : RATES) {
                Result mild = play(gate, rate, 0);
                Result some = play(gate, rate, DOWN);
                System.out.printf(
                        "  fails on %4.1f %%: passes %5.1f %% (the gate says %5.1f), failed %5.1f %%, all answered and neither %5.1f %%;"
                                + " with one failure in ten taking the host down: passes %5.1f %%, failed %5.1f %%%n",
                        100 * rate,
                        mild.passed(),
                        100 * gate.passes(rate),
                        mild.failed(),
                        100 - mild.passed() - mild.failed(),
                        some.passed(),
                        some.failed());
            }
        }
    }

    /** In percent. */
    private record Result(double passed, double failed) {}

    private static Result play(PilotGate gate, double rate, double down) {
        SplittableRandom random = new SplittableRandom(gate.hosts() * 1000L + Math.round(rate * 1000));
        int passed = 0;
        int failed = 0;
        for (int pilot = 0; pilot < PILOTS; pilot++) {
            int answered = 0;
            int broken = 0;
            int dark = 0;
            boolean open = true;
            while (open && answered < gate.hosts()) {
                answered++;
                if (random.nextDouble() < rate) {
                    broken++;
                    dark += random.nextDouble() < down ? 1 : 0;
                }
                if (gate.isFailed(answered, broken, dark)) {
                    failed++;
                    open = false;
                } else if (gate.isMet(answered - broken, broken)) {
                    passed++;
                    open = false;
                }
            }
        }
        return new Result(100.0 * passed / PILOTS, 100.0 * failed / PILOTS);
    }
}
