package lucid.bench;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.TriedHosts;
import lucid.core.exceptions.ExceptionAccounts;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.forecast.Forecast;
import lucid.core.forecast.Forecasts;
import lucid.core.gate.Gate;
import lucid.core.gate.PilotGate;
import lucid.core.order.HostOrders;
import lucid.core.pilot.Candidates;
import lucid.core.pilot.Sample;
import lucid.core.pilot.Sampling;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.FreezeConsequence;
import lucid.core.ruling.InForce;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.weighing.Weights;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;
import org.openjdk.jmh.runner.Runner;
import org.openjdk.jmh.runner.options.OptionsBuilder;
import org.roaringbitmap.RoaringBitmap;

/**
 * What a block on every population of the large fleet would do, and what holds for its hosts: with 10,000 verdicts and
 * 1,000 exceptions on other updates and 40 decisions on this one.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SampleTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Fork(1)
@Warmup(iterations = 3, time = 3)
@Measurement(iterations = 5, time = 4)
public class DecisionsBenchmark {

    private static final Instant NOW = LargeFleet.NOW;
    private static final String JUDGED = "BIG-17";
    private static final int PAGE = 100;

    private Fleet fleet;
    private Catalogue catalogue;
    private Update update;
    private Carriage carriage;
    private Decisions decisions;
    private Carriages carriages;
    /** 4,000 blocks and 1,000 exceptions on 2,000 updates. */
    private Decisions standing;

    public static void main(String[] arguments) throws Exception {
        new Runner(new OptionsBuilder()
                        .include(DecisionsBenchmark.class.getSimpleName())
                        .build())
                .run();
    }

    private static Verdict verdict(
            long number, String of, PopulationId population, Optional<HostCondition> where, VerdictType type) {
        return new Verdict(
                new DecisionNumber.OfVerdict(number),
                new Verdict.Subject(new UpdateId(of), "1", population, where),
                type,
                NOW.plus(Duration.ofDays(20)),
                new Verdict.Reason(Set.of(ReasonWord.ROUTINE), ""),
                new Verdict.Origin("bench", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    @Setup
    public void prepare() {
        LargeFleet large = new LargeFleet();
        List<Host> hosts = large.hosts();
        fleet = Fleet.EMPTY.with(large.ladder).with(hosts);
        catalogue = Catalogue.EMPTY.with(large.updates);
        CarrierIndex index = CarrierIndex.EMPTY.with(hosts.stream()
                .map(h -> new CarrierIndex.Change(h.number(), List.of(), h.products()))
                .toList());
        update = catalogue.update(new UpdateId(JUDGED)).orElseThrow();
        carriages = new Carriages(catalogue, fleet, index, CarrierIndex.EMPTY, Outcomes.NONE);
        carriage = carriages.of(update, NOW);
        List<Population> populations = large.ladder.populations();
        List<Verdict> verdicts = new ArrayList<>();
        for (int i = 1; i <= 10_000; i++) {
            verdicts.add(verdict(
                    i,
                    "BIG-" + (100 + i % 2_000),
                    populations.get(i % populations.size()).id(),
                    Optional.empty(),
                    VerdictType.BLOCK));
        }
        for (int i = 0; i < 36; i++) {
            verdicts.add(verdict(
                    10_001 + i,
                    JUDGED,
                    populations.get(i % populations.size()).id(),
                    Optional.of(HostConditions.parse("spool_free_mb < " + (50 + i * 20))),
                    List.of(VerdictType.BLOCK, VerdictType.DEFER, VerdictType.FORCE)
                            .get(i % 3)));
        }
        List<ExceptionGrant> exceptions = new ArrayList<>();
        for (int i = 1; i <= 1_004; i++) {
            String of = i <= 1_000 ? "BIG-" + (100 + i) : JUDGED;
            exceptions.add(new ExceptionGrant(
                    new DecisionNumber.OfException(i),
                    new ExceptionGrant.Scope.OfUpdate(new UpdateId(of)),
                    HostConditions.parse("name in (host-" + i + ", host-" + 2 * i + ")"),
                    Effect.WITHHELD,
                    NOW.plus(Duration.ofDays(9)),
                    "",
                    "",
                    "",
                    "bench",
                    NOW,
                    Optional.empty()));
        }
        decisions = new Decisions(verdicts, exceptions, List.of());
        standing = new Decisions(verdicts.subList(0, 4_000), exceptions.subList(0, 1_000), List.of());
    }

    /** A force on every population, host by host: 50,000 hosts with busy hours. */
    @Benchmark
    public int forecastOfAForce() {
        Forecast.Plan plan =
                new Forecast.Plan(NOW, Optional.of(NOW.plus(Duration.ofDays(5))), Duration.ZERO, true, false);
        int inBusyHours = 0;
        for (Population population : fleet.ladder().populations()) {
            inBusyHours += Forecasts.of(population, fleet.members(population.id()), fleet, plan, List.of(), NOW)
                    .inBusyHours()
                    .getCardinality();
        }
        return inBusyHours;
    }

    /** A sample of 58 of all hosts that lack an update, with its coverage; and how often its gate would be passed. */
    @Benchmark
    public double sampleOfAPilot() {
        Candidates candidates = Candidates.of(
                carriage.lacking(),
                new TriedHosts(List.of(), List.of(), List.of(), Optional.empty(), List.of()),
                new RoaringBitmap(),
                fleet.unknownAt(NOW),
                true,
                fleet);
        Sample sample = Sampling.draw(candidates, 58, Sampling.USUAL_TRAITS, JUDGED, fleet);
        PilotGate gate = new PilotGate(Gate.USUAL_LIMIT, sample.hosts().size());
        return gate.passes(gate.limit()) + sample.covered();
    }

    /** What one host is told as it checks in, of 3,000 updates with 4,000 blocks and 1,000 exceptions. */
    @Benchmark
    public int ordersOfOneHost() {
        Host host = fleet.host((int) (System.nanoTime() % 50_000));
        return HostOrders.of(host, carriages, standing, NOW).orders().size();
    }

    /** What all 50,000 hosts are told after a verdict that is for everybody, by as many threads as there are. */
    @Benchmark
    public long ordersOfAllHosts() {
        return IntStream.range(0, 50_000)
                .parallel()
                .mapToLong(number -> HostOrders.of(fleet.host(number), carriages, standing, NOW)
                        .orders()
                        .size())
                .sum();
    }

    /** What stopping everything would do, to 3,000 updates on 50,000 hosts. */
    @Benchmark
    public int stopEverything() {
        Freeze everything = new Freeze(
                standing.nextFreeze(), Set.of(), NOW, NOW.plus(Duration.ofDays(1)), "", "bench", NOW, Optional.empty());
        return FreezeConsequence.of(everything, carriages, standing, NOW)
                .updates()
                .size();
    }

    /** What fifty of a thousand exceptions cost, and what their ends bring: a page of the place Exceptions. */
    @Benchmark
    public double pageOfExceptions() {
        ExceptionAccounts accounts =
                new ExceptionAccounts(carriages, standing, Evidence.NONE, Weights.USUAL, NOW.plus(Duration.ofDays(1)));
        return accounts.chains().stream()
                .limit(50)
                .mapToDouble(one -> accounts.of(one).exposure())
                .sum();
    }

    /** As the sentence on screen asks while it is worded. */
    @Benchmark
    public int consequenceOfABlockOnAllPopulations() {
        int decided = 0;
        long number = decisions.nextVerdict().value();
        for (Population population : fleet.ladder().populations()) {
            Verdict draft = verdict(number++, JUDGED, population.id(), Optional.empty(), VerdictType.BLOCK);
            decided += Consequences.of(draft, update, carriage, fleet, decisions, catalogue, NOW)
                    .decided()
                    .getCardinality();
        }
        return decided;
    }

    /**
     * The first page of everything in force: how much there is, and for whom the first are and what comes after them.
     */
    @Benchmark
    public int inForceWithFiveThousandDecisions() {
        List<InForce> all = InForce.at(carriages, standing, NOW);
        return all.size()
                + all.subList(0, PAGE).stream()
                        .mapToInt(
                                one -> one.hosts().getCardinality() + one.then().size())
                        .sum();
    }

    @Benchmark
    public int whatHoldsForAllHostsThatLackIt() {
        return Timeline.of(update, decisions, fleet, catalogue)
                .groups(carriage.lacking(), NOW)
                .size();
    }
}
