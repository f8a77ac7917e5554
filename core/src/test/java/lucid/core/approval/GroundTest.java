package lucid.core.approval;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.exceptionNumber;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.TestFleet;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.Timing;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class GroundTest {

    private static final RoaringBitmap NOBODY = new RoaringBitmap();
    private static final RoaringBitmap ONE = RoaringBitmap.bitmapOf(1);
    private static final RoaringBitmap THREE = RoaringBitmap.bitmapOf(1, 2, 3);
    private static final ExceptionGrant MARSHS = new ExceptionGrant(
            exceptionNumber(4),
            new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1")),
            HostConditions.parse("role = console"),
            Effect.WITHHELD,
            NOW.plus(Duration.ofDays(9)),
            "certificate",
            "marsh",
            "",
            "marsh",
            NOW.minus(Duration.ofDays(1)),
            Optional.empty());

    private static Population tier(int tier) {
        return new Population(
                populationId("consoles"),
                "Consoles",
                HostConditions.parse("role = console"),
                Set.of(),
                Set.of(),
                tier,
                "marsh",
                Set.of(),
                Optional.empty(),
                Timing.ANY_TIME,
                new StandingRule(List.of(), StandingRule.Offer.NEVER));
    }

    private static Verdict verdict(VerdictType type, String author, Long... overridden) {
        return new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId("FTM-1"), "1", populationId("consoles"), Optional.empty()),
                type,
                NOW.plus(Duration.ofDays(3)),
                new Verdict.Reason(Set.of(), ""),
                new Verdict.Origin(author, NOW),
                new Verdict.Overrides(
                        Set.of(),
                        Set.of(overridden).stream()
                                .map(number -> exceptionNumber(number))
                                .collect(Collectors.toSet())),
                Optional.empty());
    }

    @Test
    void forcingTheCostliestNeedsASecondPerson() {
        Verdict force = verdict(VerdictType.FORCE, "aldane");
        assertThat(Ground.of(force, tier(1), THREE, ONE, Decisions.NONE, ApprovalRules.USUAL))
                .containsExactly(Ground.parse("FORCES_TIER_1"), Ground.parse("DISTURBS_TIER_1"));
        assertThat(Ground.of(force, tier(1), THREE, NOBODY, Decisions.NONE, ApprovalRules.USUAL))
                .containsExactly(Ground.parse("FORCES_TIER_1"));
        assertThat(Ground.of(force, tier(1), NOBODY, NOBODY, Decisions.NONE, ApprovalRules.USUAL))
                .as("nothing would come of it")
                .isEmpty();
        assertThat(Ground.of(force, tier(2), THREE, ONE, Decisions.NONE, ApprovalRules.USUAL))
                .isEmpty();
    }

    @Test
    void holdingItBackNeedsNone() {
        assertThat(Ground.of(
                        verdict(VerdictType.BLOCK, "aldane"),
                        tier(1),
                        THREE,
                        NOBODY,
                        Decisions.NONE,
                        ApprovalRules.USUAL))
                .isEmpty();
    }

    @Test
    void goingOverSomebodysExceptionNeedsASecondPerson() {
        Decisions decisions = Decisions.NONE.with(MARSHS);
        assertThat(Ground.of(
                        verdict(VerdictType.FORCE, "aldane", 4L),
                        tier(3),
                        THREE,
                        NOBODY,
                        decisions,
                        ApprovalRules.USUAL))
                .containsExactly(Ground.parse("OVERRIDES_EXCEPTION"));
        assertThat(Ground.of(
                        verdict(VerdictType.FORCE, "marsh", 4L),
                        tier(3),
                        THREE,
                        NOBODY,
                        decisions,
                        ApprovalRules.USUAL))
                .as("one's own")
                .isEmpty();
        assertThat(Ground.of(
                        verdict(VerdictType.FORCE, "aldane", 4L),
                        tier(3),
                        THREE,
                        NOBODY,
                        Decisions.NONE.with(MARSHS.revoked(NOW)),
                        ApprovalRules.USUAL))
                .as("one that was taken back")
                .isEmpty();
    }

    @Test
    void eachTierIsAskedByItself() {
        ApprovalRules rules = new ApprovalRules(Set.of(2, 3), Set.of(), Set.of());
        Verdict force = verdict(VerdictType.FORCE, "aldane");
        assertThat(Ground.of(force, tier(1), THREE, ONE, Decisions.NONE, rules)).isEmpty();
        assertThat(Ground.of(force, tier(3), THREE, ONE, Decisions.NONE, rules))
                .containsExactly(Ground.parse("FORCES_TIER_3"));
        assertThatThrownBy(() -> new ApprovalRules(Set.of(), Set.of(5), Set.of()))
                .hasMessageContaining("from 1 to 4");
    }

    @Test
    void anExceptionAsksForTheTiersOfTheHostsThatItNames() {
        Ladder ladder = new Ladder(List.of(tier(1)), new StandingRule(List.of(), StandingRule.Offer.NEVER));
        Fleet fleet = Fleet.EMPTY
                .with(ladder)
                .with(List.of(
                        TestFleet.host(0, Map.of("role", text("console")), "pkg:deb/fathom/lib@1"),
                        TestFleet.host(1, Map.of("role", text("loan")), "pkg:deb/fathom/lib@1")));
        assertThat(Ground.of(MARSHS, fleet, ApprovalRules.USUAL)).isEmpty();
        assertThat(Ground.of(MARSHS, fleet, new ApprovalRules(Set.of(), Set.of(), Set.of(1, 3))))
                .as("the host in no population is not named")
                .containsExactly(Ground.parse("EXCEPTS_TIER_1"));
    }

    @Test
    void aGroundIsReadAsItIsWritten() {
        for (String text : List.of("FORCES_TIER_1", "DISTURBS_TIER_4", "EXCEPTS_TIER_2", "OVERRIDES_EXCEPTION")) {
            assertThat(Ground.parse(text)).hasToString(text);
        }
    }
}
