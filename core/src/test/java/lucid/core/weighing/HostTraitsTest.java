package lucid.core.weighing;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import lucid.core.fleet.Trait;
import org.junit.jupiter.api.Test;

class HostTraitsTest {

    private static Map<String, Trait> facing(String value) {
        return Map.of("facing", new Trait.Text(value));
    }

    @Test
    void aHostNeverMakesItselfLessExposedThanATableSays() {
        assertThat(HostTraits.joined(facing("public"), facing("isolated"))).isEqualTo(facing("public"));
        assertThat(HostTraits.joined(facing("internal"), facing("public")))
                .as("more open is believed")
                .isEqualTo(facing("public"));
        assertThat(HostTraits.joined(facing("internal"), facing("nowhere")))
                .as("what is no facing says nothing")
                .isEqualTo(facing("internal"));
        assertThat(HostTraits.joined(Map.of("role", new Trait.Text("kiosk")), Map.of("role", new Trait.Text("bench"))))
                .as("nor goes to another population")
                .isEqualTo(Map.of("role", new Trait.Text("kiosk")));
    }

    @Test
    void whatOnlyOneSideKnowsAndWhatTheHostMeasuresIsTheHosts() {
        Map<String, Trait> imported = Map.of("site", new Trait.Text("north"), "spool_free_mb", new Trait.Number(900));
        Map<String, Trait> reported = Map.of("model", new Trait.Text("R2"), "spool_free_mb", new Trait.Number(120));
        assertThat(HostTraits.joined(imported, reported))
                .isEqualTo(Map.of(
                        "site",
                        new Trait.Text("north"),
                        "model",
                        new Trait.Text("R2"),
                        "spool_free_mb",
                        new Trait.Number(120)));
    }
}
