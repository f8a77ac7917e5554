package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.carriage.HostsByRelease;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.TargetRelease;
import lucid.core.fleet.TargetRelease.Standing;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.Product;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateNotice;
import org.junit.jupiter.api.Test;

/** Populations that stay at a release of their platform, and are promoted one after the other. */
class TargetReleaseTest {

    private static final Product DESKTOP =
            PackageReference.parse("pkg:generic/lantern-desktop").build().product();
    private static final StandingRule AFTER_FIVE_DAYS = new StandingRule(List.of(), StandingRule.Offer.afterDays(5));
    private static final Update UPGRADE = upgrade("LNT-7", "7.0.100");
    private static final List<Host> HOSTS =
            List.of(host(0, "kiosk", "6.2.40"), host(1, "kiosk", "7.0.120"), host(2, "tablet", "6.1.0"));
    private static final Instant LATER = NOW.plus(Duration.ofDays(9));

    private static Host host(int number, String role, String release) {
        return TestFleet.host(number, Map.of("role", TestFleet.text(role)), "pkg:generic/lantern-desktop@" + release);
    }

    private static Update upgrade(String id, String release) {
        UpdateNotice plain = TestFleet.notice(
                id,
                "1",
                RestartNeed.HOST,
                List.of(),
                List.of(),
                List.of(new Fix(
                        PackageReference.parse("pkg:generic/lantern-desktop").build(),
                        List.of(AffectedRange.below(release)))));
        return TestFleet.update(TestFleet.ofKind(Kind.UPGRADE, plain), Optional.empty(), NOW);
    }

    private static Population staying(String id, String role, String... releases) {
        Population plain = TestFleet.population(id, "role = " + role, 5);
        return new Population(
                plain.id(),
                plain.name(),
                plain.condition(),
                Set.of(),
                Set.of(),
                plain.tier(),
                plain.owner(),
                Set.of(),
                Optional.empty(),
                plain.timing(),
                List.of(releases).stream()
                        .map(release -> new TargetRelease(DESKTOP, release, Optional.empty()))
                        .toList(),
                plain.rule());
    }

    private static Fleet fleet(Population... populations) {
        return Fleet.EMPTY
                .with(new Ladder(List.of(populations), AFTER_FIVE_DAYS))
                .with(HOSTS);
    }

    private static List<RulingGroup> groups(Fleet fleet, Decisions decisions) {
        Carriages carriages = TestFleet.carriages(fleet, List.of(UPGRADE));
        return Timeline.of(UPGRADE, decisions, fleet, carriages.catalogue())
                .groups(carriages.of(UPGRADE, NOW).lacking(), LATER);
    }

    @Test
    void aReleaseIsAsLongAsItIsSaid() {
        TargetRelease six = new TargetRelease(DESKTOP, "6", Optional.empty());
        assertThat(six.standing("5.9")).isEqualTo(Standing.BELOW);
        assertThat(six.standing("6")).isEqualTo(Standing.AT);
        assertThat(six.standing("6.2.40")).isEqualTo(Standing.AT);
        assertThat(six.standing("60.1")).isEqualTo(Standing.ABOVE);
        assertThat(six.standing("7.0-beta.1")).isEqualTo(Standing.ABOVE);
        TargetRelease sixTwo = new TargetRelease(DESKTOP, "6.2", Optional.empty());
        assertThat(sixTwo.standing("6.1.99")).isEqualTo(Standing.BELOW);
        assertThat(sixTwo.standing("6.2.1")).isEqualTo(Standing.AT);
        assertThat(sixTwo.standing("6.3")).isEqualTo(Standing.ABOVE);
        assertThatThrownBy(() -> new TargetRelease(DESKTOP, "six of them", Optional.empty()))
                .isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void onlyUpgradesToAHigherReleaseAreKeptAway() {
        TargetRelease six = new TargetRelease(DESKTOP, "6", Optional.empty());
        assertThat(six.forbids(UPGRADE)).isTrue();
        assertThat(six.forbids(upgrade("LNT-6", "6.3"))).isFalse();
        assertThat(six.forbids(TestFleet.update("LNT-1", "pkg:generic/lantern-desktop@7.0.130")))
                .as("a fix for those that are at release 7 already")
                .isFalse();
        assertThat(new TargetRelease(DESKTOP, "7", Optional.empty()).forbids(UPGRADE))
                .isFalse();
    }

    @Test
    void nothingAboveTheReleaseIsOffered() {
        assertThat(groups(fleet(staying("kiosks", "kiosk", "6"), staying("tablets", "tablet")), Decisions.NONE))
                .anySatisfy(group -> {
                    assertThat(group.match().clause()).isEqualTo(RuleMatch.Clause.TARGET_RELEASE);
                    assertThat(group.match().isNever()).isTrue();
                    assertThat(group.hosts().toArray())
                            .as("the one above it is not lowered: it has nothing to do")
                            .containsExactly(0);
                })
                .anySatisfy(group -> {
                    assertThat(group.match().effect()).isEqualTo(Effect.OFFERED);
                    assertThat(group.hosts().toArray()).containsExactly(2);
                });
    }

    @Test
    void whoIsAboveItIsNamed() {
        Fleet fleet = fleet(staying("kiosks", "kiosk", "6.2"), staying("tablets", "tablet", "6.2"));
        CarrierIndex installed = TestFleet.carriages(fleet, List.of(UPGRADE)).installed();
        HostsByRelease kiosks = HostsByRelease.of(
                new TargetRelease(DESKTOP, "6.2", Optional.empty()), fleet.members(populationId("kiosks")), installed);
        assertThat(kiosks.at().toArray()).containsExactly(0);
        assertThat(kiosks.above().toArray()).containsExactly(1);
        HostsByRelease all =
                HostsByRelease.of(new TargetRelease(DESKTOP, "6.2", Optional.empty()), fleet.all(), installed);
        assertThat(all.below().toArray()).containsExactly(2);
    }

    @Test
    void aVerdictOnTheUpgradeGoesOverIt() {
        Verdict force = new Verdict(
                verdictNumber(1),
                new Verdict.Subject(UPGRADE.id(), "1", populationId("kiosks"), Optional.empty()),
                VerdictType.FORCE,
                LATER,
                new Verdict.Reason(Set.of(ReasonWord.ROUTINE), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
        assertThat(groups(fleet(staying("kiosks", "kiosk", "6")), Decisions.NONE.with(force)))
                .anySatisfy(group -> assertThat(group.match().effect()).isEqualTo(Effect.OFFERED));
    }

    @Test
    void populationsArePromotedOneAfterTheOther() {
        Fleet both = fleet(staying("kiosks", "kiosk", "6"), staying("tablets", "tablet", "6"));
        Carriages carriages = TestFleet.carriages(both, List.of(UPGRADE));
        Ladder first = new Ladder(
                List.of(staying("kiosks", "kiosk", "7"), staying("tablets", "tablet", "6")), AFTER_FIVE_DAYS);
        LadderChange change = LadderChange.of(carriages, Decisions.NONE, first, LATER);
        assertThat(change.offers()).singleElement().satisfies(offer -> {
            assertThat(offer.offered().toArray()).containsExactly(0);
            assertThat(offer.withheld().isEmpty()).isTrue();
        });
        Ladder second = new Ladder(
                List.of(staying("kiosks", "kiosk", "7"), staying("tablets", "tablet", "7")), AFTER_FIVE_DAYS);
        assertThat(LadderChange.of(
                                TestFleet.carriages(both.with(first), List.of(UPGRADE)), Decisions.NONE, second, LATER)
                        .offers())
                .singleElement()
                .satisfies(offer -> assertThat(offer.offered().toArray()).containsExactly(2));
    }

    @Test
    void aPopulationStaysAtOneReleaseOfAPlatform() {
        assertThatThrownBy(() -> staying("kiosks", "kiosk", "6", "7"))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("two releases");
    }
}
