package lucid.server.access;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Timing;
import lucid.core.fleet.Trait;
import lucid.core.update.PackageReference;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import org.junit.jupiter.api.Test;

/** What each caller gets to see of a fleet of two populations and a host in none. */
class VisibleSnapshotTest {

    private static final InstalledProduct DESK =
            new InstalledProduct(PackageReference.parse("pkg:generic/desk").build(), "1.0");
    private static final Snapshot WHOLE = Snapshot.EMPTY
            .with(new Ladder(List.of(population("kiosks"), population("desktops")), Ladder.EMPTY.fleetRule()))
            .withHosts(List.of(host(0, "kiosks"), host(1, "desktops"), host(2, "nowhere")));

    private final SnapshotStore store = mock();
    private final VisibleSnapshot visible = new VisibleSnapshot(store);

    private static Population population(String id) {
        return new Population(
                new PopulationId(id),
                id,
                HostConditions.parse("role = " + id),
                Set.of(),
                Set.of(),
                1,
                "",
                Set.of(),
                Optional.empty(),
                Timing.ANY_TIME,
                Ladder.EMPTY.fleetRule());
    }

    private static Host host(int number, String role) {
        return Host.first(
                number,
                new HostReport(
                        new HostName("h-" + number),
                        "Fathom OS 31",
                        Instant.EPOCH,
                        Map.of("role", new Trait.Text(role)),
                        List.of(DESK),
                        Optional.empty(),
                        Optional.empty(),
                        List.of()));
    }

    private Snapshot seenBy(Caller caller) {
        when(store.snapshot()).thenReturn(WHOLE);
        return visible.of(AccessConfiguration.authentication(caller));
    }

    private static Caller person(Role role, Caller.Pending pending, String... populations) {
        return new Caller.Person("p", "P", role, Set.of(populations), pending, 1);
    }

    @Test
    void anOperatorSeesItsOwnPopulationsAndNothingElse() {
        Snapshot seen = seenBy(person(Role.OPERATOR, Caller.Pending.NOTHING, "kiosks"));
        assertThat(seen.fleet().all().toArray()).containsExactly(0);
        assertThat(seen.fleet().host(new HostName("h-0"))).isPresent();
        assertThat(seen.fleet().host(new HostName("h-1"))).isEmpty();
        assertThat(seen.fleet().ladder().populations())
                .extracting(Population::name)
                .containsExactly("kiosks");
        assertThat(seen.fleet().inNoPopulation().isEmpty()).isTrue();
        assertThat(seen.carriages()
                        .installed()
                        .versions(DESK.build().product())
                        .get("1.0")
                        .toArray())
                .containsExactly(0);
        assertThat(seen.fleet().traits().get("role").values()).containsExactly("kiosks");
        assertThat(seenBy(person(Role.OPERATOR, Caller.Pending.NOTHING, "kiosks")))
                .isSameAs(seen);
    }

    @Test
    void anAddressOfAnOperatorSeesNoMore() {
        Caller address =
                new Caller.Machine("slots-p", Scope.SLOTS, Optional.empty(), Optional.of(Set.of("kiosks")), Set.of());
        assertThat(seenBy(address)).isSameAs(seenBy(person(Role.OPERATOR, Caller.Pending.NOTHING, "kiosks")));
    }

    @Test
    void anOperatorOfNothingSeesNothing() {
        assertThat(seenBy(person(Role.OPERATOR, Caller.Pending.NOTHING))
                        .fleet()
                        .all()
                        .isEmpty())
                .isTrue();
    }

    @Test
    void otherPeopleSeeEverythingOnceTheyMaySeeAnything() {
        assertThat(seenBy(person(Role.READER, Caller.Pending.NOTHING))).isSameAs(WHOLE);
        assertThat(seenBy(person(Role.ANALYST, Caller.Pending.CHOOSE_PASSWORD))).isSameAs(Snapshot.EMPTY);
    }

    @Test
    void machinesThatReportSeeWhatOrdersAreMadeOfAndOthersAndStrangersNothing() {
        assertThat(seenBy(new Caller.Machine("m", Scope.REPORT, Optional.empty(), Set.of())))
                .isSameAs(WHOLE);
        assertThat(seenBy(new Caller.Machine("m", Scope.BACKUP, Optional.empty(), Set.of())))
                .isSameAs(Snapshot.EMPTY);
        assertThat(visible.of(null)).isSameAs(Snapshot.EMPTY);
    }
}
