package lucid.core.docket;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.StandingRule;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;

class HostUpdateTest {

    private static final Ladder LADDER = new Ladder(
            List.of(TestFleet.population("kiosks", "role = kiosk", 5)),
            new StandingRule(List.of(), StandingRule.Offer.NEVER));
    private static final List<Update> UPDATES = List.of(
            TestFleet.update("L-1", "pkg:generic/desk@1"),
            successor("L-2", "L-1", "2"),
            successor("L-3", "L-2", "3"),
            successor("L-4", "L-3", "4"),
            TestFleet.update("OTHER", "pkg:generic/other@1"));

    private static Update successor(String id, String of, String version) {
        return TestFleet.update(id, RestartNeed.NONE, List.of(of), "pkg:generic/desk@" + version);
    }

    private static Host host(String version) {
        return TestFleet.host(3, Map.of("role", text("kiosk")), "pkg:generic/desk@" + version);
    }

    private static Carriages carriages(Host host) {
        return TestFleet.carriages(
                Fleet.EMPTY.with(LADDER).with(List.of(TestFleet.host(0, Map.of(), "pkg:generic/desk@9"), host)),
                UPDATES);
    }

    private static Decisions block(String update) {
        return Decisions.NONE.with(verdict(update, VerdictType.BLOCK));
    }

    private static Verdict verdict(String update, VerdictType type) {
        return new Verdict(
                verdictNumber(1),
                new Verdict.Subject(updateId(update), "1", populationId("kiosks"), Optional.empty()),
                type,
                NOW.plus(Duration.ofDays(9)),
                new Verdict.Reason(Set.of(ReasonWord.UNTESTED), ""),
                new Verdict.Origin("orrin", NOW),
                new Verdict.Overrides(Set.of(), Set.of()),
                Optional.empty());
    }

    private static List<String> words(List<HostUpdate> updates) {
        return updates.stream()
                .map(u -> u.update().id() + " " + u.state() + " " + u.contains())
                .toList();
    }

    @Test
    void whatAHostLacksFoldsUnderTheNewestAndWhatItHasUnderTheNewestThatItHas() {
        Host host = host("2");
        assertThat(words(HostUpdate.of(host, carriages(host), Decisions.NONE, NOW)))
                .containsExactlyInAnyOrder("L-4 MISSING [L-3]", "L-2 CARRIES [L-1]");
    }

    @Test
    void itUnfoldsWhenTheNewestIsBlockedHere() {
        Host host = host("2");
        List<HostUpdate> updates = HostUpdate.of(host, carriages(host), block("L-4"), NOW);
        assertThat(words(updates)).containsExactlyInAnyOrder("L-4 MISSING []", "L-3 MISSING []", "L-2 CARRIES [L-1]");
    }

    @Test
    void whatIsOfferedStandsBesideWhatIsYetWithheld() {
        Host host = host("2");
        Decisions forced = Decisions.NONE.with(verdict("L-3", VerdictType.FORCE));
        assertThat(words(HostUpdate.of(host, carriages(host), forced, NOW)))
                .containsExactlyInAnyOrder("L-4 MISSING []", "L-3 MISSING []", "L-2 CARRIES [L-1]");
        Host older = host("1");
        assertThat(words(HostUpdate.of(older, carriages(older), forced, NOW)))
                .as("what the offered one contains and the same clause would withhold folds under the newest")
                .containsExactlyInAnyOrder("L-4 MISSING []", "L-3 MISSING [L-2]", "L-1 CARRIES []");
    }

    @Test
    void oneHostAloneHasTheStatesThatItHasAmongAll() {
        Host host = host("2");
        Carriages all = carriages(host);
        Outcome failed = new Outcome(
                3,
                updateId("L-3"),
                Optional.of("1"),
                Outcome.What.FAILED,
                NOW.plus(Duration.ofHours(1)),
                Optional.of("0x1"),
                Optional.empty());
        Carriages told = new Carriages(
                all.catalogue(),
                all.fleet(),
                all.installed(),
                all.running(),
                all.outcomes().with(List.of(failed)));
        for (Update update : UPDATES) {
            Carriage among = told.of(update, NOW.plus(Duration.ofHours(2)));
            Carriage alone = told.only(host).of(update, NOW.plus(Duration.ofHours(2)));
            assertThat(alone.of(3)).as(update.id().value()).isEqualTo(among.of(3));
            assertThat(alone.lastKnown(3)).as(update.id().value()).isEqualTo(among.lastKnown(3));
        }
        assertThat(told.only(host)
                        .of(UPDATES.get(2), NOW.plus(Duration.ofHours(2)))
                        .of(3))
                .isEqualTo(CarriageState.FAILED);
    }
}
