package lucid.core.order;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.populationIds;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.StandingRule;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/** A host that is not named as concerned is told the same before and after. */
class ConcernedHostsTest {

    private static final List<String> PLACES = List.of("kiosks", "desks", "vans");
    private static final Instant AT = NOW.plus(Duration.ofDays(8));

    private static Host host(int number, int desk) {
        return TestFleet.host(
                number, Map.of("role", TestFleet.text(PLACES.get(number % 3))), "pkg:generic/desk@" + desk);
    }

    private static Carriages carriages(int newest) {
        List<Host> hosts = new ArrayList<>();
        for (int number = 0; number < 12; number++) {
            hosts.add(host(number, 1 + number % 2));
        }
        return TestFleet.carriages(
                Fleet.EMPTY
                        .with(new Ladder(
                                PLACES.stream()
                                        .map(place -> TestFleet.population(place, "role = " + place, 5))
                                        .toList(),
                                new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                        .with(hosts),
                List.of(
                        TestFleet.update("D-2", "pkg:generic/desk@2"),
                        TestFleet.update("D-3", "pkg:generic/desk@" + newest)));
    }

    private static Verdict verdict(int number, String update, String place, VerdictType type) {
        return new Verdict(
                verdictNumber(number),
                new Verdict.Subject(updateId(update), "1", populationId(place), Optional.empty()),
                type,
                NOW.plus(Duration.ofDays(20)),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    @Test
    void aVerdictConcernsItsPopulationOnly() {
        Carriages carriages = carriages(3);
        Decisions blocked = Decisions.NONE.with(verdict(1, "D-2", "vans", VerdictType.BLOCK));
        assertThat(ConcernedHosts.between(carriages, Decisions.NONE, carriages, blocked, AT))
                .isEqualTo(RoaringBitmap.bitmapOf(2, 5, 8, 11));
        assertThat(ConcernedHosts.between(carriages, blocked, carriages, blocked, AT)
                        .isEmpty())
                .isTrue();
    }

    @Test
    void aReportConcernsItsHostAndANewerLadderEverybody() {
        Carriages carriages = carriages(3);
        Carriages reported = new Carriages(
                carriages.catalogue(),
                carriages.fleet().with(List.of(host(4, 3))),
                carriages.installed(),
                carriages.running(),
                carriages.outcomes());
        assertThat(ConcernedHosts.between(carriages, Decisions.NONE, reported, Decisions.NONE, AT))
                .isEqualTo(RoaringBitmap.bitmapOf(4));
        Carriages other = new Carriages(
                carriages.catalogue(),
                carriages.fleet().with(Ladder.EMPTY),
                carriages.installed(),
                carriages.running(),
                carriages.outcomes());
        assertThat(ConcernedHosts.between(carriages, Decisions.NONE, other, Decisions.NONE, AT)
                        .getCardinality())
                .isEqualTo(12);
    }

    @Test
    void whoIsNotConcernedIsToldTheSameInAHundredHistories() {
        Random random = new Random(16);
        int spared = 0;
        for (int history = 0; history < 100; history++) {
            Carriages before = carriages(3);
            Decisions decided = Decisions.NONE;
            for (int step = 1; step <= 6; step++) {
                Carriages after = random.nextInt(4) == 0 ? carriages(3 + random.nextInt(2)) : before;
                Decisions next = after == before ? decided(decided, step, random) : decided;
                RoaringBitmap concerned = ConcernedHosts.between(before, decided, after, next, AT);
                for (int number = 0; number < 12; number++) {
                    if (!concerned.contains(number)) {
                        spared++;
                        assertThat(told(number, after, next)).isEqualTo(told(number, before, decided));
                    }
                }
                before = after;
                decided = next;
            }
        }
        assertThat(spared).as("most are spared").isGreaterThan(2_000);
    }

    private static List<HostOrders.Order> told(int number, Carriages carriages, Decisions decisions) {
        return HostOrders.of(carriages.fleet().host(number), carriages, decisions, AT)
                .orders();
    }

    private static Decisions decided(Decisions decided, int step, Random random) {
        String place = PLACES.get(random.nextInt(3));
        List<Verdict> verdicts = decided.verdicts();
        if (random.nextInt(4) == 0) {
            return decided.with(new Freeze(
                    new DecisionNumber.OfFreeze(step),
                    populationIds(place),
                    NOW,
                    NOW.plus(Duration.ofDays(30)),
                    "holiday",
                    "orrin",
                    NOW,
                    Optional.empty()));
        }
        if (!verdicts.isEmpty() && random.nextInt(3) == 0) {
            return decided.with(verdicts.get(0).revoked(AT));
        }
        return decided.with(verdict(
                step,
                random.nextBoolean() ? "D-2" : "D-3",
                place,
                List.of(VerdictType.BLOCK, VerdictType.FORCE, VerdictType.DEFER).get(random.nextInt(3))));
    }
}
