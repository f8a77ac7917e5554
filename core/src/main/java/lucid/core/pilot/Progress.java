package lucid.core.pilot;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;

/**
 * How a pilot goes: what each of its hosts has shown, and what that says about its gate.
 *
 * <p>A host has <em>soaked</em> once it has reported after the soak time since its install, restarted since where the
 * update needs that, without a failure. Whoever tried keeps counting after leaving the sample.
 *
 * @param hosts of every host that is or was in the sample, in the order in which they were drawn
 * @param path how the hosts tried, one after the other
 * @param since when the last host answered; none: none has
 */
public record Progress(State state, List<OfHost> hosts, Tally tally, List<Step> path, Optional<Instant> since) {

    /** After one more host has tried: how many have, and how many of them failed. */
    public record Step(Instant at, int tried, int failed) {}

    /** The state of a pilot while its verdict stands. */
    public enum State {
        SOAKING,
        /** The gate is met, and every sign-off that was asked for is given. */
        MET,
        /** The gate is met; somebody whose sign-off was asked for has not given it. */
        AWAITS_SIGN_OFF,
        FAILED,
        /** Every host has answered, and the gate is neither met nor failed; or a revision has other fixes. */
        EXHAUSTED
    }

    /** The state of one host of the sample. */
    public enum HostState {
        NOT_TRIED,
        SOAKING,
        SOAKED,
        FAILED,
        /** It failed, and the failure was dismissed: it shows nothing. */
        DISMISSED,
        /** It left the sample, or another took its place, before it tried. */
        REPLACED
    }

    /**
     * @param at when it installed, failed or was replaced; none where it has not tried
     * @param failure what failed
     */
    public record OfHost(int host, HostState state, Optional<Instant> at, Optional<TriedHosts.Failure> failure) {}

    /** How many hosts of the sample are in which state. */
    public record Tally(int notTried, int soaking, int soaked, int failed, int down, int dismissed, int replaced) {
        /** Hosts that tried, whether they have answered or not. */
        public int tried() {
            return soaking + soaked + failed;
        }

        static Tally of(List<OfHost> hosts) {
            Map<HostState, Integer> count = new HashMap<>();
            hosts.forEach(host -> count.merge(host.state(), 1, Integer::sum));
            int down = (int) hosts.stream()
                    .flatMap(host -> host.failure().stream())
                    .filter(failure -> failure.failureClass() == FailureClass.DOWN)
                    .count();
            return new Tally(
                    count.getOrDefault(HostState.NOT_TRIED, 0),
                    count.getOrDefault(HostState.SOAKING, 0),
                    count.getOrDefault(HostState.SOAKED, 0),
                    count.getOrDefault(HostState.FAILED, 0),
                    down,
                    count.getOrDefault(HostState.DISMISSED, 0),
                    count.getOrDefault(HostState.REPLACED, 0));
        }
    }

    public static Progress of(Pilot pilot, Update update, TriedHosts tried, Outcomes outcomes, Fleet fleet) {
        Map<Integer, TriedHosts.Try> failures = new HashMap<>();
        tried.tries().stream().filter(TriedHosts.Try::failed).forEach(one -> failures.put(one.host(), one));
        Set<Integer> dismissed = new HashSet<>(tried.dismissed());
        Map<Integer, Outcome> last = outcomes.last(update.id());
        List<OfHost> hosts = new ArrayList<>();
        Map<Instant, Integer> trying = new TreeMap<>();
        Map<Instant, Integer> failing = new HashMap<>();
        List<Instant> answers = new ArrayList<>();
        for (Pilot.Place place : pilot.places()) {
            int host = place.host();
            Optional<TriedHosts.Failure> failure = Optional.ofNullable(failures.get(host))
                    .flatMap(TriedHosts.Try::failure)
                    .filter(one -> !one.at().isBefore(place.since()));
            Optional<Instant> installed = Optional.ofNullable(last.get(host))
                    .filter(outcome -> outcome.what() == Outcome.What.INSTALLED
                            && !outcome.at().isBefore(place.since()))
                    .map(Outcome::at);
            OfHost of;
            if (failure.isPresent()) {
                of = new OfHost(host, HostState.FAILED, failure.map(TriedHosts.Failure::at), failure);
                trying.merge(failure.get().at(), 1, Integer::sum);
                failing.merge(failure.get().at(), 1, Integer::sum);
                answers.add(failure.get().at());
            } else if (dismissed.contains(host)) {
                of = new OfHost(host, HostState.DISMISSED, Optional.empty(), Optional.empty());
            } else if (installed.isPresent()) {
                boolean soaked = hasSoaked(host, installed.get(), pilot, update, fleet);
                of = new OfHost(host, soaked ? HostState.SOAKED : HostState.SOAKING, installed, Optional.empty());
                trying.merge(installed.get(), 1, Integer::sum);
                if (soaked) {
                    answers.add(installed.get().plus(pilot.terms().soak()));
                }
            } else {
                of = new OfHost(
                        host,
                        place.isOpen() ? HostState.NOT_TRIED : HostState.REPLACED,
                        place.until(),
                        Optional.empty());
            }
            hosts.add(of);
        }
        Tally tally = Tally.of(hosts);
        boolean otherFixes = update.newFixesAfter(pilot.startedAt()).isPresent();
        return new Progress(
                state(pilot, tally, otherFixes),
                List.copyOf(hosts),
                tally,
                path(trying, failing),
                answers.stream().max(Instant::compareTo));
    }

    private static List<Step> path(Map<Instant, Integer> trying, Map<Instant, Integer> failing) {
        List<Step> path = new ArrayList<>();
        int tried = 0;
        int failed = 0;
        for (Map.Entry<Instant, Integer> one : trying.entrySet()) {
            tried += one.getValue();
            failed += failing.getOrDefault(one.getKey(), 0);
            path.add(new Step(one.getKey(), tried, failed));
        }
        return List.copyOf(path);
    }

    private static boolean hasSoaked(int number, Instant installed, Pilot pilot, Update update, Fleet fleet) {
        boolean restarted = fleet.host(number).restartFor(update) != RestartNeed.HOST
                || fleet.host(number)
                        .lastStart()
                        .filter(start -> !start.isBefore(installed))
                        .isPresent();
        return restarted
                && !fleet.host(number)
                        .lastReport()
                        .isBefore(installed.plus(pilot.terms().soak()));
    }

    private static State state(Pilot pilot, Tally tally, boolean otherFixes) {
        if (pilot.failedAt().isPresent() || isFailed(pilot, tally)) {
            return State.FAILED;
        }
        if (!otherFixes && pilot.terms().gate().isMet(tally.soaked(), tally.failed())) {
            return pilot.unsigned().isEmpty() ? State.MET : State.AWAITS_SIGN_OFF;
        }
        return otherFixes || tally.notTried() + tally.soaking() == 0 ? State.EXHAUSTED : State.SOAKING;
    }

    private static boolean isFailed(Pilot pilot, Tally tally) {
        return pilot.terms().gate().isFailed(tally.tried(), tally.failed(), tally.down());
    }

    /** How many more hosts of the sample must soak without failure until the gate is met. */
    public int furtherClean(Pilot pilot) {
        return pilot.terms().gate().furtherClean(tally.soaked(), tally.failed());
    }
}
