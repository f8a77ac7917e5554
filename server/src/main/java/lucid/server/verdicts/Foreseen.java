package lucid.server.verdicts;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.fleet.Spread;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.WorkingDays;
import lucid.core.forecast.Forecast;
import lucid.core.forecast.Forecasts;
import lucid.core.forecast.GroupForecast;
import lucid.core.forecast.LeftOpen;
import lucid.core.forecast.Slack;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.Removal;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Cadence;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.server.snapshot.Snapshot;
import org.roaringbitmap.RoaringBitmap;

/**
 * What a verdict that is still being worded would do on its hosts, as far as anybody can tell.
 *
 * @param forecast of what it offers, for the hosts for which it would be what holds, of a pilot for those in its
 *     sample; none for a block
 * @param removal of a block that removes: what it can do on the hosts that carry it
 * @param leftOpen of what is withheld
 * @param overtaken when the next release of its kind is to be expected, where that is before it ends
 * @param expectedAnswer of a pilot: when its sample will have answered, if it goes as foreseen
 * @param slack of a pilot: how much time is left then until its answer day
 * @param fewThere why few are there on the day on which a deferral lets it go, or on which a pilot is to be answered
 * @param ruleDue of a deferral: when what it lets go falls due by the rule, for the first of its hosts
 */
record Foreseen(
        Optional<GroupForecast> forecast,
        Optional<Removal> removal,
        Optional<LeftOpen> leftOpen,
        Optional<Instant> overtaken,
        Optional<Instant> expectedAnswer,
        Optional<Slack> slack,
        Optional<WorkingDays.FewThere> fewThere,
        Optional<Instant> ruleDue) {

    static final Foreseen NOTHING = new Foreseen(
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());

    /**
     * @param decided hosts for which it would be what holds
     * @param snapshot without it
     */
    static Foreseen of(
            Verdict verdict,
            Population population,
            RoaringBitmap decided,
            Update update,
            Carriage carriage,
            Snapshot snapshot,
            Instant now) {
        Question question = new Question(verdict, population, decided, update, carriage, snapshot, now);
        Optional<GroupForecast> forecast = question.forecast();
        Optional<Instant> answer = question.expectedAnswer(forecast);
        WorkingDays days = WorkingDays.of(population, snapshot.fleet().ladder());
        return new Foreseen(
                forecast,
                question.removal(),
                question.leftOpen(),
                question.overtaken(),
                answer,
                answer.map(at -> Slack.of(at, verdict.end(), days)),
                question.goesOn().flatMap(days::fewThere),
                question.ruleDue());
    }

    /** What is asked of. */
    private record Question(
            Verdict verdict,
            Population population,
            RoaringBitmap decided,
            Update update,
            Carriage carriage,
            Snapshot snapshot,
            Instant now) {

        private Optional<Removal> removal() {
            if (!verdict.delivery().removes()) {
                return Optional.empty();
            }
            RoaringBitmap carrying =
                    RoaringBitmap.and(snapshot.fleet().members(verdict.populationId()), carriage.having());
            Timeline timeline =
                    Timeline.of(update, snapshot.decisions().with(verdict), snapshot.fleet(), snapshot.catalogue());
            return Optional.of(Removal.of(
                    update,
                    timeline.removed(carrying, now),
                    snapshot.carriages().outcomes(),
                    snapshot.fleet(),
                    now));
        }

        private Optional<LeftOpen> leftOpen() {
            RoaringBitmap withheld = verdict.pilot()
                    .map(pilot -> RoaringBitmap.andNot(decided, pilot.everSampled()))
                    .orElse(decided);
            return verdict.withholdsAt(now)
                    ? Optional.of(LeftOpen.of(verdict, update, withheld, snapshot.carriages(), now))
                    : Optional.empty();
        }

        private Optional<Instant> overtaken() {
            return Cadence.of(update.vendor(), update.kind(), snapshot.catalogue(), now)
                    .map(Cadence::next)
                    .filter(next -> next.isAfter(now) && next.isBefore(verdict.end()) && !verdict.isLetGo());
        }

        /** When something is offered to most of its hosts, or somebody is to say whether it is. */
        private Optional<Instant> goesOn() {
            return switch (verdict.type()) {
                case DEFER ->
                    Optional.of(
                            verdict.isLetGo()
                                    ? now
                                    : verdict.delivery()
                                            .spread()
                                            .map(spread -> spread.parts().get(0).at())
                                            .orElse(verdict.end()));
                // Its answer day is the one that ends then.
                case PILOT -> Optional.of(verdict.end().minusMillis(1));
                default -> Optional.empty();
            };
        }

        /** The last of the sample has it, soaks, and reports once more. */
        private Optional<Instant> expectedAnswer(Optional<GroupForecast> forecast) {
            return verdict.pilot().flatMap(pilot -> forecast.map(GroupForecast::curve)
                    .filter(curve -> curve.size() > 1)
                    .map(curve -> curve.get(curve.size() - 1)
                            .at()
                            .plus(pilot.terms().soak())
                            .plus(population.rhythm().orElse(Host.DEFAULT_RHYTHM))));
        }

        /** A force is due at its end, a deferral offers then, a pilot offers to its sample at once; part by part. */
        private Optional<GroupForecast> forecast() {
            if (verdict.type() == VerdictType.BLOCK) {
                return Optional.empty();
            }
            RoaringBitmap hosts = verdict.pilot()
                    .map(pilot -> RoaringBitmap.and(pilot.everSampled(), decided))
                    .orElse(decided);
            Optional<Spread> spread = verdict.delivery().spread();
            if (spread.isEmpty()) {
                return Optional.of(forecast(hosts, now, verdict.end()));
            }
            List<GroupForecast> parts = new ArrayList<>();
            Instant begins = now;
            for (Spread.Part part : spread.get().of(hosts)) {
                parts.add(forecast(part.hosts(), begins, part.at()));
                begins = part.at();
            }
            return Optional.of(Forecasts.together(parts));
        }

        /** @param begins of a force: when its hosts may begin */
        private GroupForecast forecast(RoaringBitmap hosts, Instant begins, Instant end) {
            return switch (verdict.type()) {
                case FORCE ->
                    forecast(hosts, begins, Optional.of(end), verdict.delivery().allowance());
                case DEFER ->
                    Forecasts.together(dues(hosts, end).entrySet().stream()
                            .map(of -> forecast(
                                    of.getValue(),
                                    end,
                                    of.getKey(),
                                    population.timing().allowance()))
                            .toList());
                default ->
                    forecast(hosts, begins, Optional.empty(), verdict.delivery().allowance());
            };
        }

        private Optional<Instant> ruleDue() {
            return verdict.type() != VerdictType.DEFER
                    ? Optional.empty()
                    : dues(decided, verdict.end()).keySet().stream()
                            .flatMap(Optional::stream)
                            .min(Instant::compareTo)
                            .map(population.timing()::atDueHour);
        }

        /** What a deferral lets go falls due by the rule: counted from its end, but not before the rule offers it. */
        private Map<Optional<Instant>, RoaringBitmap> dues(RoaringBitmap hosts, Instant end) {
            Timeline timeline = Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue());
            Map<Optional<Instant>, RoaringBitmap> dues = new HashMap<>();
            for (Timeline.OfRule of : timeline.offeredByRule(hosts, now)) {
                StandingRule.Offer offer = of.entry()
                        .rule()
                        .offerOf(update, snapshot.fleet().host(of.hosts().first()));
                Optional<Instant> due = of.at()
                        .flatMap(at -> offer.deadline().map(deadline -> (at.isAfter(end) ? at : end).plus(deadline)));
                dues.computeIfAbsent(due, any -> new RoaringBitmap()).or(of.hosts());
            }
            return dues;
        }

        private GroupForecast forecast(
                RoaringBitmap hosts, Instant offered, Optional<Instant> deadline, Duration allowance) {
            Forecast.Plan plan = new Forecast.Plan(
                    offered,
                    deadline,
                    allowance,
                    update.restart() != RestartNeed.NONE,
                    verdict.delivery().outsideWindows(),
                    verdict.delivery().byOperator().isPresent());
            return Forecasts.of(population, hosts, snapshot.fleet(), plan, freezes(), now);
        }

        /** A force waits for no freeze that it goes over. */
        private List<Freeze> freezes() {
            return snapshot.decisions().freezes().stream()
                    .filter(freeze -> !verdict.goesOver().freezes().contains(freeze.number()))
                    .toList();
        }
    }
}
