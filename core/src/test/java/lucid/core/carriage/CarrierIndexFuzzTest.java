package lucid.core.carriage;

import static lucid.core.TestIds.hostName;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import lucid.core.TestFleet;
import lucid.core.docket.HostUpdate;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostProducts;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.ruling.Decisions;
import lucid.core.update.AffectedRange;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.PackageReference;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.roaringbitmap.RoaringBitmap;

/** Random reports, outcomes and questions, played against {@link NaiveCarriage}. */
class CarrierIndexFuzzTest {

    private static final int OPERATIONS = 12_000;
    private static final int HOSTS = 25;
    private static final String[] BUILDS = {
        "pkg:deb/fathom/libtls",
        "pkg:deb/fathom/libtls?arch=amd64",
        "pkg:deb/fathom/libtls?arch=i386",
        "pkg:deb/fathom/libtls?arch=amd64&distro=fathom-31",
        "pkg:deb/fathom/libtls-tools?distro=fathom-30",
        "pkg:rpm/tarn/libtls",
        "pkg:generic/cistern",
    };
    /** What advisories speak of beside builds. */
    private static final String[] SPOKEN_OF = {
        "pkg:deb/fathom/libtls?arch=source",
        "pkg:deb/fathom/tls?arch=source&distro=31",
        "pkg:deb/fathom/libtls?distro=Fathom%20OS%2031",
        "pkg:rpm/tarn/libtls?arch=src&distro=4",
    };

    /** One run: what the product keeps, and beside it everything that was ever said. */
    private static final class Run {
        private final Random random;
        private final Map<Integer, List<HostReport>> reports = new TreeMap<>();
        private final Map<Integer, List<Outcome>> outcomes = new TreeMap<>();
        private final List<Update> updates = new ArrayList<>();
        private Carriages carriages =
                new Carriages(Catalogue.EMPTY, Fleet.EMPTY, CarrierIndex.EMPTY, CarrierIndex.EMPTY, Outcomes.NONE);
        private final Set<CarriageState> met = EnumSet.noneOf(CarriageState.class);
        private Instant now = TestFleet.NOW;

        Run(long seed) {
            random = new Random(seed);
        }

        void report() {
            List<Host> batch = new ArrayList<>();
            List<CarrierIndex.Change> installed = new ArrayList<>();
            List<CarrierIndex.Change> running = new ArrayList<>();
            for (int i = 0; i <= random.nextInt(3); i++) {
                HostReport report = randomReport();
                int number = Integer.parseInt(report.name().value().substring("host-".length()));
                if (batch.stream().anyMatch(h -> h.number() == number)) {
                    continue;
                }
                Optional<Host> before = carriages.fleet().host(report.name());
                Host host = before.map(
                                known -> known.after(report, carriages.fleet().rhythmOf(known)))
                        .orElseGet(() -> Host.first(number, report));
                reports.computeIfAbsent(number, n -> new ArrayList<>()).add(report);
                batch.add(host);
                installed.add(new CarrierIndex.Change(
                        number, before.map(Host::products).orElse(List.of()), host.products()));
                running.add(new CarrierIndex.Change(
                        number, before.map(Host::running).orElse(List.of()), host.running()));
            }
            carriages = new Carriages(
                    carriages.catalogue(),
                    carriages.fleet().with(batch),
                    carriages.installed().with(installed),
                    carriages.running().with(running),
                    carriages.outcomes());
        }

        void outcome() {
            Optional<Integer> host =
                    reports.keySet().stream().skip(random.nextInt(HOSTS)).findFirst();
            if (host.isPresent() && !updates.isEmpty()) {
                Outcome outcome = new Outcome(
                        host.get(),
                        updates.get(random.nextInt(updates.size())).id(),
                        random.nextBoolean() ? Optional.empty() : Optional.of("" + (1 + random.nextInt(2))),
                        Outcome.What.values()[random.nextInt(6)],
                        now.minus(Duration.ofHours(random.nextInt(60))),
                        Optional.empty(),
                        Optional.empty());
                outcomes.computeIfAbsent(host.get(), n -> new ArrayList<>()).add(outcome);
                carriages = new Carriages(
                        carriages.catalogue(),
                        carriages.fleet(),
                        carriages.installed(),
                        carriages.running(),
                        carriages.outcomes().with(List.of(outcome)));
            }
        }

        void release() {
            if (updates.size() >= 12) {
                updates.remove(random.nextInt(updates.size()));
            }
            updates.add(randomUpdate());
            carriages = new Carriages(
                    Catalogue.EMPTY.with(updates),
                    carriages.fleet(),
                    carriages.installed(),
                    carriages.running(),
                    carriages.outcomes());
        }

        /** What is known of some hosts, and of the others, is together what is known. */
        void partAndJoin() {
            RoaringBitmap some = new RoaringBitmap();
            reports.keySet().stream().filter(host -> random.nextBoolean()).forEach(some::add);
            RoaringBitmap others = RoaringBitmap.andNot(carriages.fleet().all(), some);
            carriages = new Carriages(
                    carriages.catalogue(),
                    carriages.fleet(),
                    carriages
                            .installed()
                            .only(some)
                            .joined(carriages.installed().only(others)),
                    carriages.running().only(some).joined(carriages.running().only(others)),
                    carriages.outcomes());
        }

        void ask(int operation) {
            if (updates.isEmpty()) {
                return;
            }
            Update update = updates.get(random.nextInt(updates.size()));
            Carriage carriage = carriages.of(update, now);
            reports.forEach((number, said) -> {
                CarriageState expected =
                        new NaiveCarriage(updates, said, outcomes.getOrDefault(number, List.of())).state(update, now);
                assertThat(carriage.of(number))
                        .as(
                                "operation %d, %s, %s, %s",
                                operation, update, lastOf(said), lastOf(outcomes.getOrDefault(number, List.of())))
                        .isEqualTo(expected);
                met.add(expected);
                for (CarriageState state : CarriageState.values()) {
                    assertThat(carriage.in(state).contains(number)).isEqualTo(state == expected);
                }
                boolean lacks = carriage.lacking().contains(number);
                assertThat(carriage.having().contains(number))
                        .isEqualTo(expected != CarriageState.NOT_APPLICABLE && !lacks);
                assertThat(lacks).isEqualTo(carriage.lastKnown(number).lacks());
                Host host = carriages.fleet().host(number);
                HostProducts products = new HostProducts(host);
                update.fixes().forEach(fix -> assertThat(products.spokenOf(fix))
                        .containsExactlyElementsOf(host.spokenOf(fix)));
                host.products().forEach(product -> {
                    Product of = product.build().product();
                    for (String version : List.of(product.version(), product.version() + ".never")) {
                        assertThat(carriages.installed().has(of, version))
                                .isEqualTo(carriages.installed().versions(of).containsKey(version));
                    }
                });
                if (operation % 10 == 0) {
                    assertThat(words(HostUpdate.lackedBy(host, carriages, Decisions.NONE, now)))
                            .as("%s %s %s", host.platform(), host.products(), update.fixes())
                            .isEqualTo(words(HostUpdate.of(host, carriages, Decisions.NONE, now).stream()
                                    .filter(HostUpdate::isLacking)
                                    .toList()));
                }
            });
            assertThat(carriage.counts(carriages.fleet().all()).values().stream()
                            .mapToInt(i -> i)
                            .sum())
                    .isEqualTo(reports.size());
        }

        private static List<String> words(List<HostUpdate> updates) {
            return updates.stream()
                    .map(one -> one.update().id() + " " + one.state() + " " + one.contains())
                    .toList();
        }

        /** Enough to see why; everything would fill pages. */
        private static <T> List<T> lastOf(List<T> said) {
            return said.subList(Math.max(0, said.size() - 4), said.size());
        }

        private HostReport randomReport() {
            List<InstalledProduct> products = new ArrayList<>();
            for (int i = random.nextInt(6); i > 0; i--) {
                products.add(new InstalledProduct(build(), version(), source()));
            }
            int number = random.nextInt(HOSTS);
            now = now.plus(Duration.ofMinutes(2));
            // A new start lies between two reports; now and then a host tells none.
            List<HostReport> before = reports.getOrDefault(number, List.of());
            Optional<Instant> lastStart = before.isEmpty() || random.nextInt(3) == 0
                    ? Optional.of(now.minus(Duration.ofMinutes(1)))
                    : random.nextInt(8) == 0
                            ? Optional.empty()
                            : before.get(before.size() - 1).lastStart();
            return new HostReport(
                    hostName("host-" + number),
                    random.nextInt(4) > 0 ? "Fathom OS 31" : "Tarn Linux 4",
                    now,
                    Map.of(),
                    products,
                    Optional.empty(),
                    lastStart,
                    List.of());
        }

        private Update randomUpdate() {
            List<Fix> fixes = new ArrayList<>();
            for (int i = random.nextInt(3); i >= 0; i--) {
                List<AffectedRange> tracks = new ArrayList<>(List.of(
                        switch (random.nextInt(3)) {
                            case 0 -> AffectedRange.below("2." + random.nextInt(4));
                            case 1 -> AffectedRange.between("1." + random.nextInt(2), "2." + random.nextInt(4));
                            default -> AffectedRange.only("1." + random.nextInt(6));
                        }));
                if (random.nextBoolean()) {
                    tracks.add(new AffectedRange(
                            Optional.of("3." + random.nextInt(2)),
                            random.nextBoolean(),
                            Optional.of("3." + (2 + random.nextInt(3))),
                            random.nextBoolean()));
                }
                fixes.add(new Fix(
                        random.nextInt(3) == 0
                                ? PackageReference.parse(SPOKEN_OF[random.nextInt(SPOKEN_OF.length)])
                                        .build()
                                : build(),
                        tracks));
            }
            List<Fix> oneEach =
                    fixes.stream().collect(Collectors.toMap(Fix::build, f -> f, (a, b) -> a)).values().stream()
                            .toList();
            List<String> supersedes = updates.isEmpty() || random.nextBoolean()
                    ? List.of()
                    : List.of(updates.get(random.nextInt(updates.size())).id().value());
            Map<ProductBuild, RestartNeed> ofProducts = new HashMap<>();
            oneEach.stream()
                    .filter(fix -> random.nextBoolean())
                    .forEach(fix -> ofProducts.put(
                            fix.build(), RestartNeed.values()[random.nextInt(RestartNeed.values().length)]));
            return TestFleet.update(
                    TestFleet.notice(
                            "U-" + random.nextInt(1_000_000_000),
                            "1",
                            random.nextBoolean() ? RestartNeed.HOST : RestartNeed.SERVICE,
                            supersedes,
                            random.nextInt(5) == 0 ? List.of("Tarn Linux 4") : List.of(),
                            oneEach),
                    ofProducts,
                    now);
        }

        private ProductBuild build() {
            return PackageReference.parse(BUILDS[random.nextInt(BUILDS.length)]).build();
        }

        private Optional<InstalledProduct.SourcePackage> source() {
            return random.nextBoolean()
                    ? Optional.empty()
                    : Optional.of(
                            new InstalledProduct.SourcePackage(random.nextBoolean() ? "tls" : "libtls", version()));
        }

        private String version() {
            return random.nextInt(4) + "." + random.nextInt(6);
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3})
    void agreesWithTheNaiveScan(long seed) {
        Run run = new Run(seed);
        for (int operation = 0; operation < OPERATIONS; operation++) {
            if (operation % 500 == 499) {
                run.partAndJoin();
            }
            switch (run.random.nextInt(12)) {
                case 0 -> run.release();
                case 1 -> run.now = run.now.plus(Duration.ofHours(run.random.nextInt(30)));
                case 2, 3 -> run.outcome();
                case 4, 5, 6, 7 -> run.report();
                default -> run.ask(operation);
            }
            run.reports.values().forEach(said -> {
                if (said.size() > 90) {
                    // The naive scan reads everything ever said; 90 reports are more than 90 days of this run.
                    said.subList(0, said.size() - 90).clear();
                }
            });
        }
        assertThat(run.met).as("states that the run met").containsExactly(CarriageState.values());
    }
}
