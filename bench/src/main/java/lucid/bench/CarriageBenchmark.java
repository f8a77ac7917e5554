package lucid.bench;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.carriage.PastCarriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
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

/** What the carrier index costs, with the large fleet in memory. */
@State(Scope.Benchmark)
@Fork(value = 1, jvmArgsAppend = "-Xmx3g")
@Warmup(iterations = 3, time = 2)
@Measurement(iterations = 5, time = 3)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
public class CarriageBenchmark {

    private static final Instant NOW = LargeFleet.NOW;
    private static final int CHANGES = 1_000_000;
    private static final int DAYS = 90;

    private LargeFleet large;
    private List<CarrierIndex.Change> arrivals;
    private Carriages carriages;
    private PastCarriages.History history;
    private int turn;

    public static void main(String[] arguments) throws Exception {
        new Runner(new OptionsBuilder()
                        .include(CarriageBenchmark.class.getSimpleName())
                        .build())
                .run();
    }

    @Setup
    public void setUp() {
        large = new LargeFleet();
        List<Host> hosts = large.hosts();
        arrivals = hosts.stream()
                .map(h -> new CarrierIndex.Change(h.number(), List.of(), h.products()))
                .toList();
        carriages = new Carriages(
                Catalogue.EMPTY.with(large.updates),
                Fleet.EMPTY.with(large.ladder).with(hosts),
                CarrierIndex.EMPTY.with(arrivals),
                CarrierIndex.EMPTY,
                Outcomes.NONE);
        history = history(hosts);
    }

    /** Twenty changes a host within ninety days, one product of it each. */
    private PastCarriages.History history(List<Host> hosts) {
        List<PastCarriages.Change> changes = new ArrayList<>();
        for (int i = 0; i < CHANGES; i++) {
            Host host = hosts.get(i % hosts.size());
            InstalledProduct product =
                    host.products().get(i / hosts.size() * 17 % host.products().size());
            changes.add(new PastCarriages.Change(
                    host.number(),
                    product.build(),
                    List.of("0.1"),
                    NOW.minus(Duration.ofMinutes(i % (DAYS * 24 * 60)))));
        }
        return new PastCarriages.History(changes, List.of(), Map.of(), Map.of());
    }

    /** Who carried one update ninety days ago, from a million changes that were read already. */
    @Benchmark
    @BenchmarkMode(Mode.AverageTime)
    public int carriersOnAPastDay() {
        Instant then = NOW.minus(Duration.ofDays(DAYS));
        return PastCarriages.at(then, carriages, history, InstalledProduct::new)
                .of(next(), then)
                .having()
                .getCardinality();
    }

    /** From nothing to the index of 20 million facts. */
    @Benchmark
    @BenchmarkMode(Mode.SingleShotTime)
    @Warmup(iterations = 2)
    @Measurement(iterations = 5)
    public CarrierIndex indexBuild() {
        return CarrierIndex.EMPTY.with(arrivals);
    }

    /** Every state of one update by population, each update in turn. */
    @Benchmark
    @BenchmarkMode({Mode.AverageTime, Mode.SampleTime})
    public int carriersOfOneUpdateByPopulation() {
        Carriage carriage = carriages.of(next(), NOW);
        int all = 0;
        for (int p = 0; p < LargeFleet.POPULATIONS; p++) {
            all += carriage.counts(carriages.fleet().members(new PopulationId("p" + p)))
                    .size();
        }
        return all + carriage.counts(carriages.fleet().inNoPopulation()).size();
    }

    /** Only how many lack it and how many are spoken of, which is what the SQL asks. */
    @Benchmark
    @BenchmarkMode({Mode.AverageTime, Mode.SampleTime})
    public int lackingByPopulation() {
        CarrierIndex.Split split = carriages.installed().split(next().fixes().get(0), carriages.fleet()::onRelease);
        int all = 0;
        for (int p = 0; p < LargeFleet.POPULATIONS; p++) {
            RoaringBitmap members = carriages.fleet().members(new PopulationId("p" + p));
            all += RoaringBitmap.andCardinality(split.lacks(), members)
                    + RoaringBitmap.andCardinality(split.has(), members);
        }
        return all;
    }

    private Update next() {
        turn = (turn + 1) % LargeFleet.UPDATES;
        return large.updates.get(turn);
    }

    /** A host reports that 1 % of its facts have changed: the next index and the next fleet. */
    @Benchmark
    @BenchmarkMode(Mode.AverageTime)
    public Object oneHostReport() {
        turn = (turn + 7919) % LargeFleet.HOSTS;
        Host before = carriages.fleet().host(turn);
        List<InstalledProduct> products = new ArrayList<>(before.products());
        for (int i = 0; i < 4; i++) {
            int at = (turn + i * 97) % products.size();
            List<InstalledProduct> known = large.facts.get(large.products[large.inventoryOf(turn)][at]);
            products.set(at, known.get((known.indexOf(products.get(at)) + 1) % known.size()));
        }
        Host after = before.after(large.report(turn, NOW.plusSeconds(60), products), Host.DEFAULT_RHYTHM);
        CarrierIndex index =
                carriages.installed().with(List.of(new CarrierIndex.Change(turn, before.products(), after.products())));
        return List.of(index, carriages.fleet().with(List.of(after)));
    }
}
