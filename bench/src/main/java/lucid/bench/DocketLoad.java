package lucid.bench;

import com.sun.management.OperatingSystemMXBean;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.function.Function;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.causes.SuspectedCauses;
import lucid.core.causes.SuspectedCauses.TriedHost;
import lucid.core.docket.Docket;
import lucid.core.docket.Parallelism;
import lucid.core.evidence.Evidence;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.Trait;
import lucid.core.ruling.Decisions;
import lucid.core.update.Catalogue;
import lucid.core.update.UpdateId;
import lucid.core.weighing.Weights;
import lucid.formats.Documents;
import lucid.formats.document.ReadingHints;

/**
 * The docket of the large fleet from nothing and after one report, suspected causes among 5,000 tried hosts, and a
 * day's exploit probabilities.
 */
public final class DocketLoad {

    private static final Instant NOW = LargeFleet.NOW;

    /** As the server does. */
    private static final Parallelism TWO_CORES = new Parallelism() {
        @Override
        public <A, B> List<B> each(List<A> parts, Function<A, B> work) {
            return parts.parallelStream().map(work).toList();
        }
    };

    private DocketLoad() {}

    public static void main(String[] arguments) {
        LargeFleet large = new LargeFleet();
        docket(large);
        causes(large);
        probabilities();
    }

    private static void docket(LargeFleet large) {
        List<Host> hosts = large.hosts();
        CarrierIndex index = CarrierIndex.EMPTY.with(hosts.stream()
                .map(h -> new CarrierIndex.Change(h.number(), List.of(), h.products()))
                .toList());
        Carriages carriages = new Carriages(
                Catalogue.EMPTY.with(large.updates),
                Fleet.EMPTY.with(large.ladder).with(hosts),
                index,
                CarrierIndex.EMPTY,
                outcomes());
        for (int run = 0; run < 8; run++) {
            Parallelism parallelism = run % 2 == 0 ? Parallelism.NONE : TWO_CORES;
            long begun = System.nanoTime();
            long used = processorNanos();
            Docket docket = Docket.of(facts(carriages), NOW, parallelism);
            print(
                    "docket of %,d updates x %d populations from nothing on %s, run %d: %,d ms (%,d ms of processors),"
                            + " %,d need judgement%n",
                    LargeFleet.UPDATES,
                    LargeFleet.POPULATIONS,
                    parallelism == Parallelism.NONE ? "one core" : "both cores",
                    run / 2 + 1,
                    millis(begun),
                    Duration.ofNanos(processorNanos() - used).toMillis(),
                    docket.cases().stream().filter(c -> c.needsJudgement()).count());
        }
        Docket docket = Docket.of(facts(carriages), NOW);
        double[] times = new double[300];
        Carriages now = carriages;
        for (int i = 0; i < times.length; i++) {
            Host before = now.fleet().host(i * 7919 % LargeFleet.HOSTS);
            Host after = changed(large, before, i);
            now = new Carriages(
                    now.catalogue(),
                    now.fleet().with(List.of(after)),
                    now.installed()
                            .with(List.of(
                                    new CarrierIndex.Change(after.number(), before.products(), after.products()))),
                    now.running()
                            .with(List.of(new CarrierIndex.Change(after.number(), before.running(), after.running()))),
                    now.outcomes());
            long begun = System.nanoTime();
            docket = docket.next(facts(now), NOW.plusSeconds(i));
            times[i] = (System.nanoTime() - begun) / 1e6;
        }
        Arrays.sort(times, 100, times.length);
        print(
                "docket after one host report with 1 %% changed facts: median %.1f ms, 95 %% %.1f ms%n",
                times[200], times[289]);
    }

    private static Docket.Facts facts(Carriages carriages) {
        return new Docket.Facts(carriages, Evidence.NONE, Weights.USUAL, Decisions.NONE);
    }

    /** Every tenth update was tried by 200 hosts; one of ten of these updates fails often, the others hardly ever. */
    private static Outcomes outcomes() {
        SplittableRandom random = new SplittableRandom(7);
        List<Outcome> outcomes = new ArrayList<>();
        for (int u = 0; u < LargeFleet.UPDATES; u += 10) {
            int failing = u % 100 == 0 ? 40 : 4;
            for (int i = 0; i < 200; i++) {
                boolean failed = random.nextInt(1000) < failing;
                outcomes.add(new Outcome(
                        random.nextInt(LargeFleet.HOSTS),
                        new UpdateId("BIG-" + u),
                        Optional.empty(),
                        failed ? Outcome.What.FAILED : Outcome.What.INSTALLED,
                        NOW.minus(Duration.ofHours(30 + random.nextInt(300))),
                        failed ? Optional.of("E" + random.nextInt(3)) : Optional.empty(),
                        failed ? Optional.of(FailureClass.REFUSED) : Optional.empty()));
            }
        }
        return Outcomes.NONE.with(outcomes);
    }

    private static Host changed(LargeFleet large, Host before, int turn) {
        List<InstalledProduct> products = new ArrayList<>(before.products());
        for (int i = 0; i < 4; i++) {
            int at = (turn * 31 + i * 97) % products.size();
            List<InstalledProduct> known = large.facts.get(large.products[large.inventoryOf(before.number())][at]);
            products.set(at, known.get((known.indexOf(products.get(at)) + 1) % known.size()));
        }
        return before.after(large.report(before.number(), NOW.plusSeconds(turn), products), Host.DEFAULT_RHYTHM);
    }

    /** 5,000 tried hosts with 40 traits and 400 products each, of which some fail for a hidden pair. */
    private static void causes(LargeFleet large) {
        SplittableRandom random = new SplittableRandom(40);
        List<TriedHost> tried = new ArrayList<>();
        for (int i = 0; i < 5_000; i++) {
            Map<String, Trait> traits = new HashMap<>();
            for (int t = 0; t < 40; t++) {
                traits.put(
                        "trait-" + t,
                        t % 2 == 0
                                ? new Trait.Text("v" + random.nextInt(2 + t))
                                : new Trait.Number(random.nextInt(5000)));
            }
            Host host = Host.first(
                    i,
                    new HostReport(
                            new HostName("h" + i),
                            "Tarn Linux 4",
                            NOW,
                            traits,
                            large.productsOf(i),
                            Optional.empty(),
                            Optional.empty(),
                            List.of()));
            boolean inside = traits.get("trait-4").toString().equals("v1")
                    && Integer.parseInt(traits.get("trait-5").toString()) < 1500;
            tried.add(new TriedHost(
                    host,
                    NOW.plusSeconds(i),
                    Optional.empty(),
                    random.nextDouble() < (inside ? .75 : .02)
                            ? Optional.of("E" + random.nextInt(2))
                            : Optional.empty()));
        }
        for (int run = 0; run < 3; run++) {
            long begun = System.nanoTime();
            List<String> found = SuspectedCauses.find(tried).stream()
                    .map(cause -> cause.shared().toString())
                    .toList();
            print(
                    "suspected causes among 5,000 hosts x 40 traits and 400 products, run %d: %,d ms, found %s%n",
                    run + 1, millis(begun), found);
        }
    }

    private static void probabilities() {
        StringBuilder csv =
                new StringBuilder("#model_version:v1,score_date:2026-11-25T00:00:00+0000\ncve,epss,percentile\n");
        SplittableRandom random = new SplittableRandom(300);
        for (int i = 0; i < 300_000; i++) {
            csv.append("CVE-")
                    .append(1999 + i % 28)
                    .append('-')
                    .append(10_000 + i)
                    .append(',')
                    .append(String.format("%.5f", random.nextDouble()))
                    .append(",0.5\n");
        }
        byte[] document = csv.toString().getBytes(StandardCharsets.UTF_8);
        for (int run = 0; run < 3; run++) {
            long begun = System.nanoTime();
            String subject = Documents.read(document, ReadingHints.none(NOW)).subject();
            print("exploit probabilities read, run %d: %,d ms, %s%n", run + 1, millis(begun), subject);
        }
    }

    /** What the whole process used of all processors: steadier than the clock where other processes run. */
    private static long processorNanos() {
        return ((OperatingSystemMXBean) ManagementFactory.getOperatingSystemMXBean()).getProcessCpuTime();
    }

    private static long millis(long begun) {
        return Duration.ofNanos(System.nanoTime() - begun).toMillis();
    }

    private static void print(String format, Object... values) {
        System.out.printf(format, values);
    }
}
