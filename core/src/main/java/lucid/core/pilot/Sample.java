package lucid.core.pilot;

import java.util.List;

/**
 * Hosts as they were drawn, and whom they stand for.
 *
 * @param hosts in the order in which they were drawn
 * @param traits by which hosts are told apart: those of which they have different values
 * @param kinds kinds of hosts: how many combinations of the traits there are among the hosts that the sample stands for
 * @param uncovered kinds of which no host is in the sample, the largest first
 */
public record Sample(List<Integer> hosts, List<String> traits, int kinds, List<Kind> uncovered) {

    /**
     * Hosts that have the same traits, as far as the sample is drawn by them.
     *
     * @param words the values of the traits, as in "R2 · Fishmarket · kiosk"
     */
    public record Kind(String words, int hosts) {}

    public int covered() {
        return kinds - uncovered.size();
    }
}
