package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.number;
import static lucid.core.TestFleet.text;
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
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.TakenInstead;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Requirements;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.Trait;
import lucid.core.update.Product;
import lucid.core.update.Requirement;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/** What a notice requires of a host, and what becomes of hosts that are known to lack it. */
class RequirementsTest {

    private static final String DESKTOP = "pkg:generic/lantern-desktop";
    private static final Requirement LOADER =
            new Requirement.OfProduct(new Product("pkg:generic/lantern-loader"), Optional.of("2.10"));
    private static final Requirement MODEL = new Requirement.OneOf("model", List.of("K2", "K3"));
    private static final Requirement SPACE = new Requirement.AtLeast("root_free_mb", 4096);
    private static final Instant LATER = NOW.plus(Duration.ofDays(9));

    private static final Update OLDER = TestFleet.update("LNT-6", DESKTOP + "@6.9");
    private static final Update RELEASE = requiring(LOADER, MODEL, SPACE);

    private static Update requiring(Requirement... requires) {
        return TestFleet.update(
                TestFleet.requiring(
                        TestFleet.notice(
                                "LNT-7",
                                "1",
                                RestartNeed.NONE,
                                List.of("LNT-6"),
                                List.of(),
                                TestFleet.update("LNT-7", DESKTOP + "@7.0").fixes()),
                        requires),
                Optional.empty(),
                NOW.plus(Duration.ofDays(1)));
    }

    private static Host host(int number, String loader, Map<String, Trait> traits) {
        return TestFleet.host(number, traits, DESKTOP + "@6.1", "pkg:generic/lantern-loader@" + loader);
    }

    private static final Host ABLE = host(0, "2.10", Map.of("model", text("K2"), "root_free_mb", number(4096)));
    private static final Host OLD_LOADER = host(1, "2.9", Map.of("model", text("K2"), "root_free_mb", number(9000)));
    private static final Host OLD_MODEL = host(2, "2.11", Map.of("model", text("K1"), "root_free_mb", number(100)));
    private static final Host TELLS_NOTHING = host(3, "3.0", Map.of());
    private static final Host NO_LOADER = TestFleet.host(4, Map.of("model", text("K3")), DESKTOP + "@6.9");

    private static final Fleet FLEET = Fleet.EMPTY
            .with(new Ladder(
                    List.of(TestFleet.population("all", "platform = \"Fathom OS 31\"", 5)),
                    new StandingRule(List.of(), StandingRule.Offer.afterDays(5))))
            .with(List.of(ABLE, OLD_LOADER, OLD_MODEL, TELLS_NOTHING, NO_LOADER));
    private static final Carriages CARRIAGES = TestFleet.carriages(FLEET, List.of(OLDER, RELEASE));
    private static final RoaringBitmap CANNOT = RoaringBitmap.bitmapOf(1, 2, 4);

    private static Timeline timeline(Decisions decisions) {
        return Timeline.of(RELEASE, decisions, FLEET, CARRIAGES.catalogue());
    }

    private static Verdict verdict(VerdictType type) {
        return new Verdict(
                verdictNumber(1),
                new Verdict.Subject(RELEASE.id(), "1", populationId("all"), Optional.empty()),
                type,
                LATER.plus(Duration.ofDays(30)),
                new Verdict.Reason(Set.of(ReasonWord.ROUTINE), ""),
                new Verdict.Origin("orrin", LATER),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    @Test
    void onlyWhatAHostIsKnownToLackCounts() {
        assertThat(Requirements.notMetBy(ABLE, RELEASE)).isEmpty();
        assertThat(Requirements.notMetBy(OLD_LOADER, RELEASE)).containsExactly(LOADER);
        assertThat(Requirements.notMetBy(OLD_MODEL, RELEASE)).containsExactly(MODEL, SPACE);
        assertThat(Requirements.notMetBy(TELLS_NOTHING, RELEASE))
                .as("it tells no traits: it may be of a model that does")
                .isEmpty();
        assertThat(Requirements.notMetBy(NO_LOADER, RELEASE)).containsExactly(LOADER);
        assertThat(Requirements.lacked(RELEASE, FLEET.all(), FLEET))
                .containsOnly(
                        Map.entry(LOADER, RoaringBitmap.bitmapOf(1, 4)),
                        Map.entry(MODEL, RoaringBitmap.bitmapOf(2)),
                        Map.entry(SPACE, RoaringBitmap.bitmapOf(2)));
    }

    @Test
    void aTraitOfAnotherTypeSaysNothing() {
        Host odd = host(9, "2.10", Map.of("model", number(2), "root_free_mb", text("plenty")));
        assertThat(Requirements.notMetBy(odd, RELEASE)).isEmpty();
    }

    @Test
    void anyVersionWillDoWhereNoneIsNamed() {
        Requirement any = new Requirement.OfProduct(new Product("pkg:generic/lantern-loader"), Optional.empty());
        assertThat(Requirements.notMetBy(OLD_LOADER, requiring(any))).isEmpty();
        assertThat(Requirements.notMetBy(NO_LOADER, requiring(any))).containsExactly(any);
        assertThatThrownBy(() -> new Requirement.OfProduct(new Product("pkg:generic/x"), Optional.of("two of them")))
                .isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void itIsOfferedToThoseAloneThatCanTakeIt() {
        for (Decisions decisions : List.of(Decisions.NONE, Decisions.NONE.with(verdict(VerdictType.FORCE)))) {
            assertThat(timeline(decisions).groups(FLEET.all(), LATER))
                    .hasSize(2)
                    .anySatisfy(group -> {
                        assertThat(group.match().clause()).isEqualTo(RuleMatch.Clause.CANNOT_TAKE);
                        assertThat(group.match().effect()).isEqualTo(Effect.WITHHELD);
                        assertThat(group.match().isNever())
                                .as("it asks for no verdict")
                                .isFalse();
                        assertThat(group.hosts()).isEqualTo(CANNOT);
                    });
        }
        assertThat(timeline(Decisions.NONE).offeredByRule(FLEET.all(), LATER))
                .singleElement()
                .satisfies(of -> assertThat(of.hosts().toArray()).containsExactly(0, 3));
        Ruling ruling = timeline(Decisions.NONE.with(verdict(VerdictType.FORCE)))
                .ruling(OLD_MODEL, CarriageState.MISSING, LATER);
        assertThat(ruling.chain())
                .extracting(RuleMatch::clause)
                .containsExactly(
                        RuleMatch.Clause.CANNOT_TAKE, RuleMatch.Clause.VERDICT, RuleMatch.Clause.STANDING_RULE);
    }

    @Test
    void aForceNamesThoseThatItDoesNotReach() {
        Consequence force = Consequences.of(
                verdict(VerdictType.FORCE),
                RELEASE,
                CARRIAGES.of(RELEASE, LATER),
                FLEET,
                Decisions.NONE,
                CARRIAGES.catalogue(),
                LATER);
        assertThat(force.decided().toArray()).containsExactly(0, 3);
        assertThat(force.claimed()).singleElement().satisfies(group -> assertThat(group.hosts())
                .isEqualTo(CANNOT));
    }

    @Test
    void aHostThatCarriesItLosesItAllTheSame() {
        Host upgraded = TestFleet.host(2, Map.of("model", text("K1")), DESKTOP + "@7.0");
        Verdict block = verdict(VerdictType.BLOCK).with(Verdict.Delivery.USUAL.removing());
        assertThat(timeline(Decisions.NONE.with(block))
                        .ruling(upgraded, CarriageState.CARRIES, LATER)
                        .holds()
                        .effect())
                .isEqualTo(Effect.REMOVE);
    }

    @Test
    void whatTheyCanTakeInsteadIsTheNewestThatTheyLack() {
        assertThat(TakenInstead.of(RELEASE, CANNOT, CARRIAGES, LATER))
                .as("host 4 has it already")
                .containsExactly(Map.entry(OLDER, RoaringBitmap.bitmapOf(1, 2)));
    }
}
