package lucid.core.carriage;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import lucid.core.TestFleet;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateNotice;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Random reports and questions, played against {@link NaiveCarriage}. */
class CarrierIndexFuzzTest {

    private static final int OPERATIONS = 12_000;
    private static final int HOSTS = 40;
    private static final String[] BUILDS = {
        "pkg:deb/fathom/libtls", "pkg:deb/fathom/libtls?arch=amd64", "pkg:deb/fathom/libtls?arch=i386", "pkg:deb/fathom/libtls?arch=amd64&distro=fathom-31",
        "pkg:rpm/tarn/libtls", "pkg:generic/cistern",
    };

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3})
    void agreesWithTheNaiveScan(long seed) {
        Random random = new Random(seed);
        Fleet fleet = Fleet.EMPTY;
        CarrierIndex index = CarrierIndex.EMPTY;
        Map<Integer, Host> hosts = new TreeMap<>();
        Instant now = TestFleet.NOW;
        for (int operation = 0; operation < OPERATIONS; operation++) {
            if (random.nextInt(3) > 0) {
                List<Host> batch = new ArrayList<>();
                List<CarrierIndex.Change> changes = new ArrayList<>();
                for (int i = 0; i <= random.nextInt(3); i++) {
                    Host host = randomHost(random, now);
                    Host before = hosts.put(host.number(), host);
                    batch.add(host);
                    changes.add(new CarrierIndex.Change(host.number(), before == null ? List.of() : before.products(), host.products()));
                }
                fleet = fleet.with(batch);
                index = index.with(changes);
            } else if (random.nextInt(10) == 0) {
                now = now.plus(Duration.ofHours(random.nextInt(30)));
            } else {
                Update update = randomUpdate(random);
                Carriage carriage = Carriages.of(update, fleet, index, now);
                for (Host host : hosts.values()) {
                    CarriageState expected = NaiveCarriage.of(update, host, now);
                    assertThat(carriage.of(host.number())).as("operation %d, %s, %s", operation, update, host).isEqualTo(expected);
                    assertThat(carriage.lastKnown(host.number())).isEqualTo(NaiveCarriage.lastKnown(update, host));
                    assertThat(carriage.in(expected).contains(host.number())).isTrue();
                }
                assertThat(carriage.counts(fleet.all()).values().stream().mapToInt(i -> i).sum()).isEqualTo(hosts.size());
            }
        }
    }

    private static Host randomHost(Random random, Instant now) {
        List<InstalledProduct> products = new ArrayList<>();
        for (int i = random.nextInt(6); i > 0; i--) {
            ProductBuild build = build(random);
            products.add(new InstalledProduct(build, version(random)));
        }
        int number = random.nextInt(HOSTS);
        return new Host(number, "host-" + number, random.nextBoolean() ? "Fathom OS 31" : "Tarn Linux 4", Map.of(), products, Optional.empty(), Optional.empty(), now);
    }

    private static Update randomUpdate(Random random) {
        List<Fix> fixes = new ArrayList<>();
        for (int i = random.nextInt(3); i >= 0; i--) {
            List<AffectedRange> tracks = new ArrayList<>(List.of(random.nextBoolean() ? AffectedRange.below("2." + random.nextInt(4)) : AffectedRange.between("1." + random.nextInt(2), "2." + random.nextInt(4))));
            if (random.nextBoolean()) {
                tracks.add(new AffectedRange(Optional.of("3." + random.nextInt(2)), Optional.of("3." + (2 + random.nextInt(3))), random.nextBoolean()));
            }
            fixes.add(new Fix(build(random), tracks));
        }
        List<Fix> oneEach = fixes.stream().collect(Collectors.toMap(Fix::build, f -> f, (a, b) -> a)).values().stream().toList();
        return Update.join(Optional.empty(), Optional.of(new UpdateNotice("U", "U", "", "", "1", TestFleet.NOW, Kind.BUGFIX, Optional.empty(), RestartNeed.NONE,
                Optional.empty(), List.of(), random.nextInt(4) == 0 ? List.of("Tarn Linux 4") : List.of(), oneEach)), TestFleet.NOW);
    }

    private static ProductBuild build(Random random) {
        return PackageReference.parse(BUILDS[random.nextInt(BUILDS.length)]).build();
    }

    private static String version(Random random) {
        return random.nextInt(4) + "." + random.nextInt(6);
    }
}
