package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Predicate;
import lucid.core.fleet.Predicates;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Kind;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.roaringbitmap.RoaringBitmap;

/** Random decisions, played against {@link RulingTable}; and what is gathered for many hosts against one host at a time. */
class RulingsFuzzTest {

    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Ladder LADDER = new Ladder(
            List.of(TestFleet.population("kiosks", "role = kiosk", 5), TestFleet.population("tablets", "role = tablet", 12)),
            new StandingRule(List.of(), StandingRule.Offer.NEVER));
    private static final List<Predicate> PREDICATES = Stream.of("reader = R1", "reader = R2", "spool < 300", "role is set", "name in (host-1, host-4)").map(Predicates::parse).toList();

    @ParameterizedTest
    @ValueSource(longs = {11, 12, 13})
    void agreesWithTheTable(long seed) {
        Random random = new Random(seed);
        for (int round = 0; round < 250; round++) {
            List<Host> hosts = hosts(random);
            Fleet fleet = Fleet.EMPTY.with(LADDER).with(hosts);
            Carriage carriage = TestFleet.carriages(fleet, List.of(UPDATE)).of(UPDATE, NOW);
            Decisions decisions = decisions(random);
            Rulings rulings = new Rulings(decisions, LADDER, Catalogue.EMPTY);
            RulingTable table = new RulingTable(decisions, LADDER);
            for (Host host : hosts) {
                CarriageState state = carriage.lastKnown(host.number());
                Instant at = NOW.plus(Duration.ofHours(random.nextInt(24 * 20)));
                Ruling ruling = rulings.ruling(host, UPDATE, state, at);
                assertThat(ruling.answer()).as("seed %d, round %d, %s at %s under %s", seed, round, host, at, decisions).isEqualTo(table.answer(host, UPDATE, state, at));
                assertThat(ruling.chain().get(0)).isEqualTo(ruling.holds());
                requireUntilIsTheFirstChange(table, host, state, at, ruling, decisions);
            }
            requireHoldingsToAddUp(rulings, carriage, fleet, decisions);
        }
    }

    /** Between now and the until the answer stays; at the until it is another one; without an until it stays for good. */
    private static void requireUntilIsTheFirstChange(RulingTable table, Host host, CarriageState state, Instant at, Ruling ruling, Decisions decisions) {
        Set<Instant> moments = new TreeSet<>();
        decisions.verdicts().forEach(v -> moments.add(v.end()));
        decisions.exceptions().forEach(e -> moments.add(e.until()));
        moments.add(NOW.plus(Duration.ofDays(5)));
        moments.add(NOW.plus(Duration.ofDays(12)));
        Optional<Instant> expected = moments.stream().filter(m -> m.isAfter(at))
                .filter(m -> table.answer(host, UPDATE, state, m) != ruling.answer()).findFirst();
        assertThat(ruling.until()).as("%s at %s", host, at).isEqualTo(expected);
    }

    private static void requireHoldingsToAddUp(Rulings rulings, Carriage carriage, Fleet fleet, Decisions decisions) {
        for (RoaringBitmap members : List.of(fleet.members("kiosks"), fleet.members("tablets"), fleet.inNoPopulation())) {
            RoaringBitmap gathered = new RoaringBitmap();
            for (Holding holding : Holdings.of(UPDATE, carriage, fleet, decisions, Catalogue.EMPTY, members, NOW)) {
                assertThat(RoaringBitmap.andCardinality(gathered, holding.hosts())).as("each host once").isZero();
                gathered.or(holding.hosts());
                holding.hosts().forEach((int number) -> assertThat(
                        rulings.ruling(fleet.host(number), UPDATE, carriage.lastKnown(number), NOW).holds()).isEqualTo(holding.finding()));
            }
            assertThat(gathered).isEqualTo(RoaringBitmap.and(members, carriage.lacking()));
        }
    }

    private static List<Host> hosts(Random random) {
        List<Host> hosts = new ArrayList<>();
        for (int number = 0; number < 8; number++) {
            hosts.add(TestFleet.host(number, Map.of(
                    "role", TestFleet.text(List.of("kiosk", "tablet", "loan").get(random.nextInt(3))),
                    "reader", TestFleet.text("R" + (1 + random.nextInt(2))),
                    "spool", TestFleet.number(random.nextInt(600))), "pkg:deb/fathom/libtls@" + (random.nextInt(5) == 0 ? "2.0" : "1.0")));
        }
        return hosts;
    }

    private static Decisions decisions(Random random) {
        Decisions decisions = Decisions.NONE;
        for (long number = 1; number <= random.nextInt(5); number++) {
            decisions = decisions.with(new Verdict(number, random.nextInt(6) == 0 ? "OTHER" : "FTM-1", "1", random.nextBoolean() ? "kiosks" : "tablets", predicate(random),
                    VerdictType.values()[random.nextInt(3)], day(random), Set.of(), "", "a", NOW, numbers(random), numbers(random), takenBack(random)));
        }
        for (long number = 1; number <= random.nextInt(3); number++) {
            ExceptionGrant.Scope scope = switch (random.nextInt(3)) {
                case 0 -> new ExceptionGrant.Scope.OfUpdate("FTM-1");
                case 1 -> new ExceptionGrant.Scope.OfProduct(UPDATE.fixes().get(0).build().product());
                default -> new ExceptionGrant.Scope.OfKind(random.nextBoolean() ? Kind.BUGFIX : Kind.DRIVER);
            };
            decisions = decisions.with(new ExceptionGrant(number, scope, PREDICATES.get(random.nextInt(PREDICATES.size())),
                    List.of(Answer.WITHHELD, Answer.OFFERED, Answer.BY_OPERATOR).get(random.nextInt(3)), day(random), "", "", "", "a", NOW, takenBack(random)));
        }
        return decisions;
    }

    private static Optional<Predicate> predicate(Random random) {
        return random.nextBoolean() ? Optional.empty() : Optional.of(PREDICATES.get(random.nextInt(PREDICATES.size())));
    }

    private static Instant day(Random random) {
        return NOW.plus(Duration.ofDays(random.nextInt(16)));
    }

    private static Set<Long> numbers(Random random) {
        return random.nextInt(3) > 0 ? Set.of() : Set.of(1L + random.nextInt(3));
    }

    private static Optional<Instant> takenBack(Random random) {
        return random.nextInt(5) > 0 ? Optional.empty() : Optional.of(NOW);
    }
}
