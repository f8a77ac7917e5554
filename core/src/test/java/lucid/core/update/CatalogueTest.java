package lucid.core.update;

import static lucid.core.TestFleet.NOW;
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
        return TestFleet.update(new UpdateNotice(id, id, "", "", "1", at, Kind.CUMULATIVE, Optional.empty(), Optional.empty(), Optional.empty(), List.of(supersedes), List.of(), List.of(), List.of()),
                Optional.empty(), NOW);
    }

    private static List<String> ids(List<Update> updates) {
        return updates.stream().map(Update::id).toList();
    }

    @Test
    void successionIsTransitiveAndNamesOnlyWhatIsKnown() {
        Catalogue catalogue = Catalogue.EMPTY.with(List.of(update("A", 0), update("B", 1, "A", "UNREAD"), update("C", 2, "B")));
        assertThat(ids(catalogue.successorsOf("A"))).containsExactly("B", "C");
        assertThat(ids(catalogue.predecessorsOf("C"))).containsExactly("B", "A");
        assertThat(catalogue.brokenEdges()).isEmpty();
    }

    @Test
    void successionGoesThroughAnUpdateThatWasNeverRead() {
        Catalogue catalogue = Catalogue.EMPTY.with(List.of(update("B", 1, "UNREAD"), update("C", 2, "B")));
        assertThat(ids(catalogue.successorsOf("UNREAD"))).containsExactly("B", "C");
    }

    @Test
    void aCycleIsReportedAndBrokenAtItsNewestEdge() {
        Catalogue catalogue = Catalogue.EMPTY.with(List.of(update("A", 5, "C"), update("B", 1, "A"), update("C", 2, "B")));
        assertThat(catalogue.brokenEdges()).containsExactly(new Catalogue.Edge("A", "C"));
        assertThat(ids(catalogue.successorsOf("A"))).containsExactly("B", "C");
        assertThat(ids(catalogue.successorsOf("C"))).isEmpty();
        // Equally new: the later identifier.
        Catalogue pair = Catalogue.EMPTY.with(List.of(update("A", 1, "B"), update("B", 1, "A")));
        assertThat(pair.brokenEdges()).containsExactly(new Catalogue.Edge("B", "A"));
        assertThat(Catalogue.EMPTY.with(List.of(update("A", 1, "A"))).brokenEdges()).containsExactly(new Catalogue.Edge("A", "A"));
    }

    @Test
    void whatAnUpdateBringsItContainsWithoutSupersedingIt() {
        Catalogue catalogue = Catalogue.EMPTY.with(List.of(update("A", 0), update("B", 1, "A"), TestFleet.bringing("R", List.of("B")), TestFleet.bringing("S", List.of("R"))));
        assertThat(ids(catalogue.containedIn("R"))).containsExactly("B", "A");
        assertThat(ids(catalogue.containedIn("S"))).containsExactly("R", "B", "A");
        assertThat(ids(catalogue.containing("A"))).containsExactly("B", "R", "S");
        assertThat(catalogue.predecessorsOf("R")).isEmpty();
        Catalogue circle = Catalogue.EMPTY.with(List.of(TestFleet.bringing("R", List.of("S")), TestFleet.bringing("S", List.of("R"))));
        assertThat(ids(circle.containedIn("R"))).as("who brings each other").containsExactly("S");
    }

    @Test
    void aRevisionTakesThePlaceOfTheEarlier() {
        Catalogue catalogue = Catalogue.EMPTY.with(List.of(update("A", 0), update("B", 1, "A"))).with(List.of(update("B", 2)));
        assertThat(catalogue.successorsOf("A")).isEmpty();
        assertThat(catalogue.updates()).hasSize(2);
    }
}
