package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.acknowledgementNumber;
import static lucid.core.TestIds.exceptionNumber;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.populationIds;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Kind;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;

class InForceTest {

    private static final Update FIRST = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Update CARRIED = TestFleet.update("FTM-2", "pkg:deb/fathom/libtls@0.5");
    private static final Fleet FLEET = Fleet.EMPTY
            .with(new Ladder(
                    List.of(TestFleet.population("kiosks", "role = kiosk", 5)),
                    new StandingRule(List.of(), StandingRule.Offer.NEVER)))
            .with(IntStream.range(0, 4)
                    .mapToObj(i -> TestFleet.host(
                            i, Map.of("role", text(i < 3 ? "kiosk" : "loan")), "pkg:deb/fathom/libtls@1.0"))
                    .toList());
    private static final Carriages CARRIAGES = TestFleet.carriages(FLEET, List.of(FIRST, CARRIED));

    private static Instant day(double days) {
        return NOW.plus(Duration.ofMinutes((long) (days * 24 * 60)));
    }

    private static Verdict verdict(long number, String update, VerdictType type, double end) {
        return new Verdict(
                verdictNumber(number),
                new Verdict.Subject(updateId(update), "1", populationId("kiosks"), Optional.empty()),
                type,
                day(end),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    private static ExceptionGrant exception(long number, ExceptionGrant.Scope scope, String hosts, double until) {
        return new ExceptionGrant(
                exceptionNumber(number),
                scope,
                HostConditions.parse(hosts),
                Effect.WITHHELD,
                day(until),
                "",
                "",
                "",
                "orrin",
                NOW,
                Optional.empty());
    }

    @Test
    void whatEndsFirstStandsInFrontWithItsHostsAndWhatComesAfter() {
        Decisions decisions = new Decisions(
                List.of(
                        verdict(1, "FTM-1", VerdictType.BLOCK, 20),
                        verdict(2, "FTM-2", VerdictType.FORCE, 3),
                        verdict(3, "FTM-1", VerdictType.DEFER, 0).revoked(NOW)),
                List.of(
                        exception(1, new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")), "name = host-0", 30),
                        exception(2, new ExceptionGrant.Scope.OfKind(Kind.FIRMWARE), "name is set", 10)),
                List.of(
                        new Acknowledgement(
                                acknowledgementNumber(1),
                                updateId("FTM-1"),
                                populationIds("none"),
                                Optional.of(day(15)),
                                "orrin",
                                NOW,
                                Optional.empty()),
                        new Acknowledgement(
                                acknowledgementNumber(2),
                                updateId("FTM-2"),
                                Set.of(),
                                Optional.of(day(15)),
                                "orrin",
                                NOW,
                                Optional.empty())));
        List<InForce> all = InForce.at(CARRIAGES, decisions, day(1));
        assertThat(all)
                .as("every host carries what is forced, and nobody waits for the other")
                .extracting(one -> one.decision().getClass().getSimpleName() + " "
                        + one.decision().number())
                .containsExactly("ExceptionGrant 2", "Acknowledgement 1", "Verdict 1", "ExceptionGrant 1");
        assertThat(all).extracting(InForce::end).containsExactly(day(10), day(15), day(20), day(30));
        assertThat(all.get(0).update()).isEmpty();
        assertThat(all.get(0).hosts().toArray()).containsExactly(0, 1, 2, 3);
        assertThat(all.get(1).hosts().toArray())
                .as("the rule never offers it in no population")
                .containsExactly(3);
        assertThat(all.get(2).hosts().toArray()).as("but for who is excepted").containsExactly(1, 2);
        assertThat(all.get(2).then())
                .singleElement()
                .satisfies(group -> assertThat(group.match().effect()).isEqualTo(Effect.OFFERED));
        assertThat(all.get(3).hosts().toArray()).containsExactly(0);
    }

    @Test
    void aForceStandsUntilEveryHostCarriesIt() {
        Decisions forced = Decisions.NONE.with(verdict(1, "FTM-1", VerdictType.FORCE, 3));
        assertThat(InForce.at(CARRIAGES, forced, day(9))).singleElement().satisfies(one -> {
            assertThat(one.hosts().toArray()).containsExactly(0, 1, 2);
            assertThat(one.then()).as("it does not end by itself").isEmpty();
        });
    }
}
