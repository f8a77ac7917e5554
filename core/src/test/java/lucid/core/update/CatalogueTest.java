package lucid.core.update;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.updateIds;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.TestFleet;
import org.junit.jupiter.api.Test;

class CatalogueTest {

    private static Update update(String id, int revisedDay, String... supersedes) {
        Instant at = NOW.plus(Duration.ofDays(revisedDay));
        return TestFleet.update(
                new UpdateNotice(
                        updateId(id),
                        id,
                        "",
                        "",
                        "1",
                        at,
                        Kind.CUMULATIVE,
                        Optional.empty(),
                        Optional.empty(),
                        Removable.NOT_TOLD,
                        updateIds(supersedes),
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of()),
                Optional.empty(),
                NOW);
    }

    private static List<String> ids(List<Update> updates) {
        return updates.stream().map(update -> update.id().value()).toList();
    }

    @Test
    void successionIsTransitiveAndNamesOnlyWhatIsKnown() {
        Catalogue catalogue =
                Catalogue.EMPTY.with(List.of(update("A", 0), update("B", 1, "A", "UNREAD"), update("C", 2, "B")));
        assertThat(ids(catalogue.successorsOf(updateId("A")))).containsExactly("B", "C");
        assertThat(ids(catalogue.predecessorsOf(updateId("C")))).containsExactly("B", "A");
        assertThat(catalogue.brokenEdges()).isEmpty();
    }

    @Test
    void successionGoesThroughAnUpdateThatWasNeverRead() {
        Catalogue catalogue = Catalogue.EMPTY.with(List.of(update("B", 1, "UNREAD"), update("C", 2, "B")));
        assertThat(ids(catalogue.successorsOf(updateId("UNREAD")))).containsExactly("B", "C");
    }

    @Test
    void aCycleIsReportedAndBrokenAtItsNewestEdge() {
        Catalogue catalogue =
                Catalogue.EMPTY.with(List.of(update("A", 5, "C"), update("B", 1, "A"), update("C", 2, "B")));
        assertThat(catalogue.brokenEdges()).containsExactly(new Catalogue.Edge(updateId("A"), updateId("C")));
        assertThat(ids(catalogue.successorsOf(updateId("A")))).containsExactly("B", "C");
        assertThat(ids(catalogue.successorsOf(updateId("C")))).isEmpty();
        // Equally new: the later identifier.
        Catalogue pair = Catalogue.EMPTY.with(List.of(update("A", 1, "B"), update("B", 1, "A")));
        assertThat(pair.brokenEdges()).containsExactly(new Catalogue.Edge(updateId("B"), updateId("A")));
        assertThat(Catalogue.EMPTY.with(List.of(update("A", 1, "A"))).brokenEdges())
                .containsExactly(new Catalogue.Edge(updateId("A"), updateId("A")));
    }

    @Test
    void whatAnUpdateBringsItContainsWithoutSupersedingIt() {
        Catalogue catalogue = Catalogue.EMPTY.with(List.of(
                update("A", 0),
                update("B", 1, "A"),
                TestFleet.bringing("R", List.of("B")),
                TestFleet.bringing("S", List.of("R"))));
        assertThat(ids(catalogue.containedIn(updateId("R")))).containsExactly("B", "A");
        assertThat(ids(catalogue.containedIn(updateId("S")))).containsExactly("R", "B", "A");
        assertThat(ids(catalogue.containing(updateId("A")))).containsExactly("B", "R", "S");
        assertThat(catalogue.predecessorsOf(updateId("R"))).isEmpty();
        Catalogue circle = Catalogue.EMPTY.with(
                List.of(TestFleet.bringing("R", List.of("S")), TestFleet.bringing("S", List.of("R"))));
        assertThat(ids(circle.containedIn(updateId("R"))))
                .as("who brings each other")
                .containsExactly("S");
    }

    @Test
    void aRevisionTakesThePlaceOfTheEarlier() {
        Catalogue catalogue = Catalogue.EMPTY
                .with(List.of(update("A", 0), update("B", 1, "A")))
                .with(List.of(update("B", 2)));
        assertThat(catalogue.successorsOf(updateId("A"))).isEmpty();
        assertThat(catalogue.updates()).hasSize(2);
    }
}
