package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.population;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.exceptionNumber;
import static lucid.core.TestIds.hostName;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;

class LadderChangeTest {

    private static final StandingRule NEVER = new StandingRule(List.of(), StandingRule.Offer.NEVER);
    private static final Update UPDATE = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Population BENCH = population("bench", "role = bench", 0);
    private static final Population KIOSKS = population("kiosks", "role = kiosk", 5);
    private static final Instant TOMORROW = NOW.plus(Duration.ofDays(1));

    private static Host host(int number, String role, String site) {
        return TestFleet.host(number, Map.of("role", text(role), "site", text(site)), "pkg:deb/fathom/libtls@1.0");
    }

    private static final List<Host> HOSTS = List.of(
            host(0, "bench", "fell"), host(1, "kiosk", "fell"), host(2, "kiosk", "quay"), host(3, "loan", "quay"));

    private static LadderChange change(Decisions decisions, Population... next) {
        Fleet fleet =
                Fleet.EMPTY.with(new Ladder(List.of(BENCH, KIOSKS), NEVER)).with(HOSTS);
        Carriages carriages = TestFleet.carriages(fleet, List.of(UPDATE));
        return LadderChange.of(carriages, decisions, new Ladder(List.of(next), NEVER), TOMORROW);
    }

    private static Population including(Population p, Set<HostName> includes, Set<HostName> excludes) {
        return new Population(
                p.id(),
                p.name(),
                p.condition(),
                includes,
                excludes,
                p.tier(),
                p.owner(),
                p.protectedHosts(),
                p.supply(),
                p.timing(),
                p.rule());
    }

    private static Verdict block(Optional<String> where) {
        return new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("kiosks"), where.map(HostConditions::parse)),
                VerdictType.BLOCK,
                NOW.plus(Duration.ofDays(9)),
                new Verdict.Reason(Set.of(ReasonWord.UNTESTED), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    @Test
    void theSameLadderChangesNothing() {
        LadderChange change = change(Decisions.NONE.with(block(Optional.empty())), BENCH, KIOSKS);
        assertThat(change).isEqualTo(new LadderChange(List.of(), List.of(), List.of(), List.of()));
    }

    @Test
    void anIncludedHostMovesAndIsOfferedByItsNewRule() {
        LadderChange change = change(Decisions.NONE, including(BENCH, Set.of(hostName("host-1")), Set.of()), KIOSKS);
        assertThat(change.moves()).singleElement().satisfies(move -> {
            assertThat(move.from().map(Population::id)).contains(populationId("kiosks"));
            assertThat(move.to().map(Population::id)).contains(populationId("bench"));
            assertThat(move.hosts().toArray()).containsExactly(1);
        });
        assertThat(change.offers()).singleElement().satisfies(offer -> {
            assertThat(offer.offered().toArray()).containsExactly(1);
            assertThat(offer.withheld().isEmpty()).isTrue();
        });
    }

    @Test
    void anExcludedHostFallsThroughToNone() {
        LadderChange change = change(Decisions.NONE, including(BENCH, Set.of(), Set.of(hostName("host-0"))), KIOSKS);
        assertThat(change.moves()).singleElement().satisfies(move -> assertThat(move.to())
                .isEmpty());
        assertThat(change.offers())
                .singleElement()
                .satisfies(offer -> assertThat(offer.withheld().toArray()).containsExactly(0));
    }

    @Test
    void aVerdictGainsAndLosesHostsWithinItsNarrowing() {
        Population wider = population("kiosks", "site = quay", 5);
        LadderChange whole = change(Decisions.NONE.with(block(Optional.empty())), BENCH, wider);
        assertThat(whole.verdicts()).singleElement().satisfies(v -> {
            assertThat(v.gains().toArray()).containsExactly(3);
            assertThat(v.loses().toArray()).containsExactly(1);
        });
        LadderChange narrowed = change(Decisions.NONE.with(block(Optional.of("role = kiosk"))), BENCH, wider);
        assertThat(narrowed.verdicts()).singleElement().satisfies(v -> {
            assertThat(v.gains().isEmpty()).isTrue();
            assertThat(v.loses().toArray()).containsExactly(1);
        });
    }

    @Test
    void withItsPopulationAVerdictLosesEveryHost() {
        LadderChange change = change(Decisions.NONE.with(block(Optional.empty())), BENCH);
        assertThat(change.verdicts())
                .singleElement()
                .satisfies(v -> assertThat(v.loses().toArray()).containsExactly(1, 2));
        Verdict ended = block(Optional.empty()).revoked(NOW);
        assertThat(change(Decisions.NONE.with(ended), BENCH).verdicts()).isEmpty();
    }

    @Test
    void anExceptionStaysWithItsHosts() {
        ExceptionGrant exception = new ExceptionGrant(
                exceptionNumber(7),
                new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")),
                HostConditions.parse("site = fell"),
                Effect.WITHHELD,
                NOW.plus(Duration.ofDays(9)),
                "certificate",
                "orrin",
                "",
                "orrin",
                NOW,
                Optional.empty());
        LadderChange change =
                change(Decisions.NONE.with(exception), including(BENCH, Set.of(hostName("host-1")), Set.of()), KIOSKS);
        assertThat(change.exceptions())
                .singleElement()
                .satisfies(kept -> assertThat(kept.hosts().toArray()).containsExactly(1));
        assertThat(change.offers()).as("the exception withholds on either side").isEmpty();
    }

    @Test
    void anotherRuleOffersWithoutAnyMove() {
        LadderChange change = change(Decisions.NONE, BENCH, population("kiosks", "role = kiosk", 1));
        assertThat(change.moves()).isEmpty();
        assertThat(change.offers())
                .singleElement()
                .satisfies(offer -> assertThat(offer.offered().toArray()).containsExactly(1, 2));
    }

    @Test
    void anotherOrderMovesWhoBothMatch() {
        Population all = population("all", "role is set", 3);
        Fleet fleet = Fleet.EMPTY.with(new Ladder(List.of(BENCH, all), NEVER)).with(HOSTS);
        LadderChange change = LadderChange.of(
                TestFleet.carriages(fleet, List.of(UPDATE)),
                Decisions.NONE,
                new Ladder(List.of(all, BENCH), NEVER),
                TOMORROW);
        assertThat(change.moves())
                .singleElement()
                .satisfies(move -> assertThat(move.hosts().toArray()).containsExactly(0));
    }
}
