package lucid.core.carriage;

import static lucid.core.TestFleet.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import lucid.core.TestFleet;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Inventories;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.roaringbitmap.RoaringBitmap;

class PastCarriagesTest {

    private static final Update FIRST = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Update NEXT =
            TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/libtls@3.0");
    private static final Update TWO = TestFleet.update(
            "FTM-3", RestartNeed.NONE, List.of(), "pkg:deb/fathom/libtls@2.0", "pkg:deb/fathom/tools@2.0");
    private static final List<Update> UPDATES = List.of(FIRST, NEXT, TWO);

    /** A fleet that reports, and what a server keeps of it. */
    private static final class Run {
        private final Random random;
        private Instant now = NOW;
        private Carriages carriages = TestFleet.carriages(Fleet.EMPTY, UPDATES);
        private final List<PastCarriages.Change> changes = new ArrayList<>();
        private final List<Outcome> outcomes = new ArrayList<>();
        private final Map<Integer, Instant> begun = new HashMap<>();
        private final Map<Integer, Instant> retired = new HashMap<>();
        /** What was true at some instants, as it was seen then. */
        private final Map<Instant, Carriages> seen = new LinkedHashMap<>();
        /** The same without what hosts told after their last report. */
        private final Map<Instant, Carriages> confirmed = new LinkedHashMap<>();

        Run(long seed) {
            random = new Random(seed);
        }

        private HostReport report(int number) {
            List<String> purls = new ArrayList<>(List.of("pkg:deb/fathom/libtls@" + (1 + random.nextInt(3)) + ".0"));
            if (random.nextBoolean()) {
                purls.add("pkg:deb/fathom/tools@" + (1 + random.nextInt(2)) + ".0");
            }
            return TestFleet.report(number, now, Optional.empty(), Map.of(), purls.toArray(String[]::new));
        }

        void step() {
            now = now.plus(Duration.ofHours(1 + random.nextInt(60)));
            int number = random.nextInt(8);
            if (retired.containsKey(number)) {
                return;
            }
            if (random.nextInt(6) == 0 && begun.containsKey(number)) {
                outcomes.add(new Outcome(
                        number,
                        UPDATES.get(random.nextInt(3)).id(),
                        Optional.empty(),
                        random.nextBoolean() ? Outcome.What.INSTALLED : Outcome.What.FAILED,
                        now,
                        Optional.empty(),
                        Optional.empty()));
            } else if (random.nextInt(25) == 0 && begun.containsKey(number)) {
                retired.put(number, now);
                RoaringBitmap all = carriages.fleet().retired().clone();
                all.add(number);
                carriages = carriages.retiring(all);
            } else {
                take(number);
            }
            carriages = with(Outcomes.NONE.with(outcomes));
            if (random.nextInt(4) == 0) {
                seen.put(now, carriages);
                confirmed.put(
                        now,
                        with(Outcomes.NONE.with(outcomes.stream()
                                .filter(outcome -> !outcome.at()
                                        .isAfter(carriages
                                                .fleet()
                                                .host(outcome.host())
                                                .lastReport()))
                                .toList())));
            }
        }

        private Carriages with(Outcomes told) {
            return new Carriages(
                    carriages.catalogue(), carriages.fleet(), carriages.installed(), CarrierIndex.EMPTY, told);
        }

        private void take(int number) {
            HostReport report = report(number);
            Optional<Host> before =
                    begun.containsKey(number) ? Optional.of(carriages.fleet().host(number)) : Optional.empty();
            Host after = before.map(host -> host.after(report, Host.DEFAULT_RHYTHM))
                    .orElseGet(() -> Host.first(number, report));
            before.ifPresentOrElse(
                    host -> Inventories.differences(host.products(), after.products())
                            .forEach((build, difference) ->
                                    changes.add(new PastCarriages.Change(number, build, difference.before(), now))),
                    () -> begun.put(number, now));
            carriages = new Carriages(
                    carriages.catalogue(),
                    carriages.fleet().with(List.of(after)),
                    carriages
                            .installed()
                            .with(List.of(new CarrierIndex.Change(
                                    number, before.map(Host::products).orElse(List.of()), after.products()))),
                    CarrierIndex.EMPTY,
                    carriages.outcomes());
        }

        Carriages at(Instant then) {
            return PastCarriages.at(
                    then,
                    carriages,
                    new PastCarriages.History(changes, outcomes, begun, retired),
                    InstalledProduct::new);
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6})
    void isWhatWasSeenThen(long seed) {
        for (int i = 0; i < 25; i++) {
            Run run = new Run(1000 * seed + i);
            for (int step = 0; step < 60; step++) {
                run.step();
            }
            run.seen.forEach((then, seen) -> {
                Carriages past = run.at(then);
                assertThat(past.fleet().all())
                        .as("hosts of then")
                        .isEqualTo(seen.fleet().all());
                for (Update update : UPDATES) {
                    for (int host : seen.fleet().all()) {
                        assertThat(past.of(update, then).of(host))
                                .as("%s on host %d at %s of run %d", update.id(), host, then, 1000 * seed)
                                .isIn(
                                        seen.of(update, then).of(host),
                                        run.confirmed.get(then).of(update, then).of(host));
                    }
                }
            });
        }
    }

    @Test
    void theDifferenceNamesWhoHasGottenAndLostIt() {
        Run run = new Run(1);
        Fleet fleet = Fleet.EMPTY.with(List.of(
                TestFleet.host(0, Map.of(), "pkg:deb/fathom/libtls@2.0"),
                TestFleet.host(1, Map.of(), "pkg:deb/fathom/libtls@2.0"),
                TestFleet.host(2, Map.of(), "pkg:deb/fathom/libtls@1.0"),
                TestFleet.host(3, Map.of(), "pkg:deb/fathom/libtls@2.0"),
                TestFleet.host(4, Map.of(), "pkg:deb/fathom/libtls@1.0"),
                TestFleet.host(5, Map.of(), "pkg:deb/fathom/libtls@2.0")));
        run.carriages = TestFleet.carriages(fleet, UPDATES);
        ProductBuild libtls = PackageReference.parse("pkg:deb/fathom/libtls").build();
        Instant now = NOW.plus(Duration.ofDays(1));
        Carriages before = PastCarriages.at(
                NOW,
                run.carriages,
                new PastCarriages.History(
                        List.of(
                                new PastCarriages.Change(1, libtls, List.of("1.0"), now),
                                new PastCarriages.Change(2, libtls, List.of("2.0"), now)),
                        List.of(),
                        Map.of(3, now),
                        Map.of()),
                InstalledProduct::new);
        Carriages after = run.carriages.retiring(RoaringBitmap.bitmapOf(5));
        CarriageDifference difference = CarriageDifference.of(FIRST, before, NOW, after, now);
        assertThat(difference.kept().toArray()).containsExactly(0);
        assertThat(difference.gained().toArray()).containsExactly(1);
        assertThat(difference.lost().toArray()).containsExactly(2);
        assertThat(difference.joined().toArray()).containsExactly(3);
        assertThat(difference.left().toArray()).containsExactly(5);
    }

    @Test
    void aBuildIsReadAsItIsWritten() {
        for (String text : List.of(
                "pkg:deb/fathom/libtls?arch=amd64&distro=fathom-31",
                "pkg:deb/fathom/libtls?distro=Fathom%20OS%2031",
                "pkg:rpm/tarn/libtls?arch=x86_64",
                "pkg:generic/cistern")) {
            ProductBuild build = PackageReference.parse(text).build();
            assertThat(ProductBuild.parse(build.toString())).isEqualTo(build);
        }
    }
}
