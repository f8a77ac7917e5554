package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.FirstDay;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Kind;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateNotice;
import org.junit.jupiter.api.Test;

/** A host that has just come is offered no upgrade on its first day. */
class FirstDayTest {

    private static final String DESKTOP = "pkg:generic/lantern-desktop";
    private static final Update UPGRADE = update(Kind.UPGRADE);
    private static final Instant CAME = NOW.plus(Duration.ofDays(9)).truncatedTo(ChronoUnit.HOURS);
    private static final Host OLD = host(0, NOW);
    private static final Host NEW = host(1, CAME);
    private static final Host LATER_THAT_HOUR = host(2, CAME.plus(Duration.ofMinutes(10)));
    private static final Host ALSO = host(3, CAME.plus(Duration.ofMinutes(50)));
    private static final Instant NEXT_DAY = CAME.plus(Duration.ofDays(1));
    private static final Instant AN_HOUR_ON = NEXT_DAY.plus(Duration.ofHours(1));

    private static final StandingRule RULE = new StandingRule(
            List.of(),
            new StandingRule.Offer(Optional.of(Duration.ofDays(5)), Optional.of(Duration.ofDays(2)), Optional.empty()));
    private static final Fleet FLEET = Fleet.EMPTY
            .with(new Ladder(
                    List.of(TestFleet.with(TestFleet.population("all", "platform = \"Fathom OS 31\"", 0), RULE)), RULE))
            .with(List.of(OLD, NEW, LATER_THAT_HOUR, ALSO));

    private static Update update(Kind kind) {
        UpdateNotice plain = TestFleet.notice(
                "LNT-7",
                "1",
                RestartNeed.NONE,
                List.of(),
                List.of(),
                TestFleet.update("LNT-7", DESKTOP + "@7.0").fixes());
        return TestFleet.update(TestFleet.ofKind(kind, plain), Optional.empty(), NOW);
    }

    private static Host host(int number, Instant first) {
        return TestFleet.hostSeen(number, first, Map.of(), DESKTOP + "@6.1");
    }

    private static Timeline timeline(Update update, Decisions decisions) {
        Carriages carriages = TestFleet.carriages(FLEET, List.of(update));
        return Timeline.of(update, decisions, FLEET, carriages.catalogue());
    }

    private static Verdict verdict(VerdictType type) {
        return new Verdict(
                verdictNumber(1),
                new Verdict.Subject(UPGRADE.id(), "1", populationId("all"), Optional.empty()),
                type,
                CAME.plus(Duration.ofDays(30)),
                new Verdict.Reason(Set.of(ReasonWord.ROUTINE), ""),
                new Verdict.Origin("orrin", NOW.plus(Duration.ofDays(1))),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    private static List<String> groups(Timeline timeline, Instant at) {
        return timeline.groups(FLEET.all(), at).stream()
                .map(group -> group.match().clause() + " " + group.match().effect() + " "
                        + group.match().end().map(Instant::toString).orElse("") + " " + group.hosts())
                .toList();
    }

    @Test
    void anUpgradeWaitsForTheHourInWhichTheFirstDayEnds() {
        assertThat(groups(timeline(UPGRADE, Decisions.NONE), CAME.plus(Duration.ofHours(1))))
                .containsExactlyInAnyOrder(
                        "FIRST_DAY WITHHELD " + AN_HOUR_ON + " {2,3}",
                        "STANDING_RULE OFFERED  {0}",
                        "FIRST_DAY WITHHELD " + NEXT_DAY + " {1}");
        assertThat(groups(timeline(UPGRADE, Decisions.NONE), NEXT_DAY))
                .containsExactlyInAnyOrder(
                        "STANDING_RULE OFFERED  {0,1}", "FIRST_DAY WITHHELD " + AN_HOUR_ON + " {2,3}");
        assertThat(timeline(UPGRADE, Decisions.NONE).changes(FLEET.all())).contains(NEXT_DAY, AN_HOUR_ON);
    }

    @Test
    void otherUpdatesReachItAtOnce() {
        for (Kind kind : Kind.values()) {
            Update update = update(kind);
            assertThat(FirstDay.of(NEW, update, CAME).isPresent()).isEqualTo(kind == Kind.UPGRADE);
            assertThat(FirstDay.byEnd(update, FLEET.all(), CAME, FLEET).isEmpty())
                    .isEqualTo(kind != Kind.UPGRADE);
            assertThat(FirstDay.ends(update, FLEET.all(), FLEET).findAny().isPresent())
                    .isEqualTo(kind == Kind.UPGRADE);
        }
    }

    @Test
    void whatIsDueCountsFromTheEndOfTheFirstDay() {
        Ruling ruling = timeline(UPGRADE, Decisions.NONE).ruling(NEW, CarriageState.MISSING, CAME);
        assertThat(ruling.holds().clause()).isEqualTo(RuleMatch.Clause.FIRST_DAY);
        assertThat(ruling.until()).contains(NEXT_DAY);
        assertThat(timeline(UPGRADE, Decisions.NONE)
                        .ruling(NEW, CarriageState.MISSING, NEXT_DAY)
                        .holds()
                        .due())
                .contains(NEXT_DAY.plus(Duration.ofDays(2)));
        assertThat(timeline(UPGRADE, Decisions.NONE)
                        .ruling(OLD, CarriageState.MISSING, CAME)
                        .holds()
                        .due())
                .contains(NOW.plus(Duration.ofDays(7)));
    }

    @Test
    void whatIsDecidedWaitsForItTooWhereItOffersAndSpeaksForItselfWhereItWithholds() {
        Timeline forced = timeline(UPGRADE, Decisions.NONE.with(verdict(VerdictType.FORCE)));
        assertThat(forced.ruling(NEW, CarriageState.MISSING, CAME).chain())
                .extracting(RuleMatch::clause)
                .containsExactly(RuleMatch.Clause.FIRST_DAY, RuleMatch.Clause.VERDICT, RuleMatch.Clause.STANDING_RULE);
        assertThat(forced.ruling(NEW, CarriageState.MISSING, NEXT_DAY).effect()).isEqualTo(Effect.OFFERED);
        assertThat(groups(timeline(UPGRADE, Decisions.NONE.with(verdict(VerdictType.BLOCK))), CAME))
                .singleElement()
                .asString()
                .startsWith("VERDICT WITHHELD");
    }

    @Test
    void theFirstReportIsKeptWhateverFollows() {
        HostReport next = TestFleet.report(1, NEXT_DAY, Optional.empty(), Map.of(), DESKTOP + "@6.1");
        assertThat(NEW.after(next, Host.DEFAULT_RHYTHM).firstReport()).isEqualTo(CAME);
    }
}
