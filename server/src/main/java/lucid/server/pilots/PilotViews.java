package lucid.server.pilots;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.gate.PilotGate;
import lucid.core.pilot.Candidates;
import lucid.core.pilot.Pilot;
import lucid.core.pilot.PilotNumber;
import lucid.core.pilot.Progress;
import lucid.core.pilot.Sample;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ReasonWord;
import lucid.core.update.UpdateId;
import lucid.server.views.Views.HostList;

/** Shapes of the API of pilots. */
public final class PilotViews {

    private static final double OFTEN_GOOD = .01;
    private static final int MOST_FAILURES_DRAWN = 12;

    private PilotViews() {}

    /**
     * The gate with its arithmetic.
     *
     * @param askedLimit highest failure rate that is asked for, as a share
     * @param limit the rate that it must stay below to be met: no less than its hosts can show
     * @param hosts in the sample as it started
     * @param hostsForAskedLimit how many clean hosts would show the rate that is asked for
     * @param passesAtLimit how often an update whose failure rate is the limit would pass, as a share
     * @param passesAtOnePercent how often one that fails on 1 % of hosts would pass
     * @param answeredToMeet how many hosts must have answered to meet it, by the number of failures from 0 on
     * @param triedToFail how many hosts that tried are few enough to fail it, by the number of failures from 0 on; 0:
     *     none
     */
    public record GateView(
            double askedLimit,
            double limit,
            int hosts,
            int hostsForAskedLimit,
            double passesAtLimit,
            double passesAtOnePercent,
            List<Integer> answeredToMeet,
            List<Integer> triedToFail) {
        static GateView of(PilotGate gate) {
            return new GateView(
                    gate.askedLimit(),
                    gate.limit(),
                    gate.hosts(),
                    gate.hostsForAskedLimit(),
                    gate.passes(gate.limit()),
                    gate.passes(OFTEN_GOOD),
                    IntStream.rangeClosed(0, MOST_FAILURES_DRAWN)
                            .mapToObj(gate::answeredToMeet)
                            .toList(),
                    IntStream.rangeClosed(0, MOST_FAILURES_DRAWN)
                            .mapToObj(gate::triedToFail)
                            .toList());
        }
    }

    /** @param words values of the traits by which the sample is drawn */
    public record KindView(String words, int hosts) {}

    /**
     * Whom the sample stands for.
     *
     * @param kinds combinations of the traits among the hosts that it is for
     * @param covered of them, those of which a host is in the sample
     * @param uncovered the largest of the others
     */
    public record CoverageView(List<String> traits, int kinds, int covered, List<KindView> uncovered) {
        private static final int MOST = 50;

        static CoverageView of(Sample sample) {
            return new CoverageView(
                    sample.traits(),
                    sample.kinds(),
                    sample.covered(),
                    sample.uncovered().stream()
                            .limit(MOST)
                            .map(kind -> new KindView(kind.words(), kind.hosts()))
                            .toList());
        }
    }

    /** A host that would try it, with the values of the traits by which it was drawn. */
    public record SampledHostView(HostName name, PopulationId population, String words) {
        static SampledHostView of(int number, Fleet fleet, List<String> traits) {
            Host host = fleet.host(number);
            return new SampledHostView(
                    host.name(),
                    fleet.ladder().entryOf(host).id(),
                    String.join(
                            " · ",
                            traits.stream()
                                    .flatMap(trait -> host.trait(trait).stream())
                                    .map(Object::toString)
                                    .toList()));
        }
    }

    public record LeftOutView(Candidates.LeftOut why, HostList hosts) {}

    /**
     * A pilot that is being worded.
     *
     * @param sample the hosts that would try it
     * @param others how many more could be drawn
     */
    public record DrawnView(
            GateView gate,
            long soakDays,
            List<SampledHostView> sample,
            int others,
            List<LeftOutView> leftOut,
            CoverageView coverage) {
        public static DrawnView of(DrawnPilot drawn, Fleet fleet) {
            List<String> traits = drawn.pilot().terms().traits();
            return new DrawnView(
                    GateView.of(drawn.pilot().terms().gate()),
                    drawn.pilot().terms().soak().toDays(),
                    drawn.sample().hosts().stream()
                            .map(host -> SampledHostView.of(host, fleet, traits))
                            .toList(),
                    drawn.candidates().eligible().getCardinality()
                            - drawn.sample().hosts().size(),
                    drawn.candidates().leftOut().entrySet().stream()
                            .sorted(Map.Entry.comparingByKey())
                            .map(one -> new LeftOutView(one.getKey(), HostList.of(fleet, one.getValue())))
                            .toList(),
                    CoverageView.of(drawn.sample()));
        }
    }

    /** The state of a pilot, also after it has ended. */
    public enum State {
        SOAKING,
        MET,
        AWAITS_SIGN_OFF,
        FAILED,
        EXHAUSTED,
        /** Its answer day has gone by. */
        ENDED,
        /** It was taken back. */
        STOPPED
    }

    public record PilotPopulationView(PopulationId id, String name) {
        static PilotPopulationView of(Population population) {
            return new PilotPopulationView(population.id(), population.name());
        }
    }

    /** @param at when it installed, failed or was replaced */
    public record PilotHostView(
            SampledHostView host,
            Progress.HostState state,
            Instant since,
            Optional<Instant> at,
            Optional<String> code,
            Optional<FailureClass> failureClass) {}

    public record DepartmentView(String name, Optional<String> signedOffBy, Optional<Instant> signedOffAt) {}

    public record PilotStepView(Instant at, int tried, int failed) {}

    /** @param low and high: Wilson 95 % interval of the failure rate of the hosts that tried it */
    public record PilotRateView(double rate, double low, double high) {}

    /**
     * A pilot.
     *
     * @param verdicts numbers of its verdicts
     * @param ended when it ended or was taken back, if it has
     * @param answerDay when it is to have answered, which ends it
     * @param furtherClean how many more hosts must soak without failure until the gate is met
     * @param withheld how many hosts it withholds the update from
     * @param others how many more could be drawn into the sample
     * @param undo address to which a DELETE takes it back
     */
    public record PilotView(
            PilotNumber number,
            UpdateId update,
            String title,
            String revision,
            List<PilotPopulationView> populations,
            Optional<String> where,
            State state,
            List<DecisionNumber.OfVerdict> verdicts,
            Set<ReasonWord> reasons,
            String words,
            String author,
            Instant startedAt,
            Instant answerDay,
            Optional<Instant> ended,
            Optional<Instant> failedAt,
            GateView gate,
            long soakDays,
            Progress.Tally tally,
            int furtherClean,
            Optional<PilotRateView> rate,
            int withheld,
            int others,
            List<DepartmentView> departments,
            CoverageView coverage,
            List<PilotHostView> hosts,
            List<PilotStepView> path,
            Optional<OnceMetView> onceMet,
            String undo) {}

    /** @param forcedWithin days until it is due; none: it is let go */
    public record OnceMetView(Optional<Integer> forcedWithin, Optional<Instant> doneAt) {
        static Optional<OnceMetView> of(Pilot pilot) {
            return pilot.terms().then().map(then -> new OnceMetView(then.forcedWithin(), pilot.metAt()));
        }
    }
}
