package lucid.formats.csaf;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.ProductMappings;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.Problem;
import lucid.formats.document.RefusedDocumentException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.json.JsonMapper;

/** Version range specifiers, and what product status lists mean together. */
class CsafRangesTest {

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "vers:generic/<2.0; [lowest, 2.0)",
                "vers:generic/<=2.0; [lowest, 2.0]",
                "vers:generic/>=1.0; [1.0, no end)",
                "vers:generic/*; [lowest, no end)",
                "vers:generic/>=1.0|<1.4|>=2.0|<=2.3; [1.0, 1.4) [2.0, 2.3]",
                "vers:generic/<1.4|>=2.0|<2.3; [lowest, 1.4) [2.0, 2.3)",
                "vers:deb/>=1%3A2.0%2Bu1|<1%3A2.1; [1:2.0+u1, 1:2.1)",
                "vers:deb/<2.0+u1; [lowest, 2.0+u1)",
                "vers:generic/1.0|=1.2|>2.0|<3.0; [1.0, 1.0] [1.2, 1.2] (2.0, 3.0)",
                ">=1.0|<1.4; [1.0, 1.4)",
                "vers:generic/>=1.0|!=1.2|<2.0; [1.0, 1.2) (1.2, 2.0)",
                "vers:generic/!=1.2; [lowest, 1.2) (1.2, no end)",
                "vers:generic/<1.0|!=5.0; [lowest, 1.0)",
            })
    void rangesOfASpecifier(String text, String ranges) {
        assertThat(VersRange.parse(text, text.startsWith("vers:deb") ? "deb" : "generic").stream()
                        .map(AffectedRange::toString)
                        .collect(Collectors.joining(" ")))
                .isEqualTo(ranges);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "1.0 to 2.0; no version range such as",
                "vers:generic; no version range such as",
                "vers:generic/==1.0; is no constraint",
                "vers:generic/>=; no version range such as",
                "vers:rpm/<1.0; orders versions as rpm does",
                "vers:generic/>=1.0|1.5|<2.0; names 1.5 inside a range",
                "vers:generic/>=%zz; not correctly percent-encoded",
                "vers:generic/>=1.0|>=2.0; opens a range twice, at 2.0",
                "vers:generic/<1.0|<2.0; closes a range twice, at 2.0",
            })
    void refusesOtherSpecifiersAndSaysWhich(String text, String reason) {
        assertThatThrownBy(() -> VersRange.parse(text, "generic"))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining(reason);
    }

    private static ProductTree tree(String json) {
        return new ProductTree(
                JsonPlace.root(new JsonMapper().readTree(json)), "Tarn", ProductMappings.NONE, new ArrayList<>());
    }

    /**
     * A tree of versions v1, v2 … of one product, a range r, and an open range o, and the fixes that a status makes of
     * it.
     */
    private static List<Fix> fixes(String... statuses) {
        String tree = """
                {"branches": [
                  %s, {"category": "product_version_range", "name": "vers:generic/>=1.0|<1.5", "product": {"product_id": "r", "name": "r", "product_identification_helper": {"purl": "pkg:generic/x"}}},
                  {"category": "product_version_range", "name": "vers:generic/>=2.0", "product": {"product_id": "o", "name": "o", "product_identification_helper": {"purl": "pkg:generic/x"}}},
                  {"category": "product_version", "name": "n", "product": {"product_id": "n", "name": "n"}}]}
                """.formatted(List.of("1.4", "1.5", "2.3", "3.0").stream()
                .map(v ->
                        "{\"category\": \"product_version\", \"name\": \"%s\", \"product\": {\"product_id\": \"%s\", \"name\": \"%s\", \"product_identification_helper\": {\"purl\": \"pkg:generic/x@%s\"}}}"
                                .formatted(v, v, v, v))
                .collect(Collectors.joining(",")));
        StatusRanges ranges = new StatusRanges(tree(tree), new ArrayList<>());
        for (String status : statuses) {
            ranges.add(JsonPlace.root(new JsonMapper().readTree(status)));
        }
        return ranges.fixes();
    }

    @Test
    void aFixedVersionMeansEverythingBelowIt() {
        assertThat(fixes("{\"fixed\": [\"1.5\"], \"known_affected\": [\"1.4\"]}")
                        .get(0)
                        .tracks())
                .containsExactly(AffectedRange.below("1.5"));
        assertThat(fixes("{\"first_fixed\": [\"1.5\"]}").get(0).tracks()).containsExactly(AffectedRange.below("1.5"));
    }

    @Test
    void whoHasTheLastOfSeveralFixesHasThemAll() {
        assertThat(fixes("{\"fixed\": [\"1.5\"]}", "{\"fixed\": [\"2.3\"]}")
                        .get(0)
                        .tracks())
                .containsExactly(AffectedRange.below("2.3"));
    }

    @Test
    void aRangeIsTakenAsItIs() {
        assertThat(fixes("{\"fixed\": [\"1.5\"], \"known_affected\": [\"r\"]}")
                        .get(0)
                        .tracks())
                .containsExactly(AffectedRange.between("1.0", "1.5"));
    }

    @Test
    void anOpenRangeEndsAtTheFirstFixAboveItsBeginning() {
        assertThat(fixes("{\"fixed\": [\"1.5\", \"3.0\", \"2.3\"], \"known_affected\": [\"r\", \"o\"]}")
                        .get(0)
                        .tracks())
                .containsExactly(AffectedRange.between("1.0", "1.5"), AffectedRange.between("2.0", "2.3"));
        assertThat(fixes("{\"known_affected\": [\"o\"]}").get(0).tracks())
                .containsExactly(new AffectedRange(Optional.of("2.0"), Optional.empty(), false));
    }

    @Test
    void aFirstAffectedVersionOpensARangeThatTheNextFixOrLastAffectedCloses() {
        assertThat(fixes("{\"first_affected\": [\"1.4\"], \"fixed\": [\"2.3\"]}")
                        .get(0)
                        .tracks())
                .containsExactly(AffectedRange.between("1.4", "2.3"));
        assertThat(fixes("{\"first_affected\": [\"1.4\"], \"last_affected\": [\"2.3\"]}")
                        .get(0)
                        .tracks())
                .containsExactly(new AffectedRange(Optional.of("1.4"), Optional.of("2.3"), true));
        assertThat(fixes("{\"first_affected\": [\"2.3\"]}").get(0).tracks())
                .containsExactly(new AffectedRange(Optional.of("2.3"), Optional.empty(), false));
    }

    @Test
    void whatSeveralVulnerabilitiesAffectIsTheUnion() {
        assertThat(fixes(
                                "{\"known_affected\": [\"r\"]}",
                                "{\"first_affected\": [\"1.4\"], \"last_affected\": [\"2.3\"]}",
                                "{\"known_affected\": [\"r\"]}")
                        .get(0)
                        .tracks())
                .containsExactly(new AffectedRange(Optional.of("1.0"), Optional.of("2.3"), true));
        assertThat(fixes("{\"known_affected\": [\"r\"]}", "{\"fixed\": [\"2.3\"]}")
                        .get(0)
                        .tracks())
                .as("the second vulnerability is fixed later in the same track")
                .containsExactly(AffectedRange.between("1.0", "2.3"));
    }

    @Test
    void anAffectedVersionAloneLeavesNothingToInstall() {
        assertThat(fixes("{\"known_affected\": [\"1.4\", \"2.3\"]}").get(0).tracks())
                .containsExactly(AffectedRange.upTo("2.3"));
        assertThat(fixes("{\"known_not_affected\": [\"1.4\"], \"under_investigation\": [\"2.3\"]}"))
                .isEmpty();
    }

    @Test
    void aProductWithoutPackageUrlIsNamedOnce() {
        List<Problem> problems = new ArrayList<>();
        StatusRanges ranges = new StatusRanges(
                tree("{\"full_product_names\": [{\"product_id\": \"n\", \"name\": \"n\"}]}"), problems);
        ranges.add(JsonPlace.root(new JsonMapper().readTree("{\"fixed\": [\"n\"]}")));
        ranges.add(JsonPlace.root(new JsonMapper().readTree("{\"fixed\": [\"n\"]}")));
        assertThat(ranges.fixes()).isEmpty();
        assertThat(ranges.unread()).singleElement().satisfies(unread -> {
            assertThat(unread.place()).isEqualTo("/full_product_names/0");
            assertThat(unread.name()).isEqualTo("n");
        });
    }

    @Test
    void aTreeThatDefinesAProductTwiceOrRelatesAnUnknownOneIsRefused() {
        assertThatThrownBy(
                        () -> tree(
                                "{\"full_product_names\": [{\"product_id\": \"a\", \"name\": \"a\"}, {\"product_id\": \"a\", \"name\": \"b\"}]}"))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("defined twice");
        assertThatThrownBy(
                        () -> tree(
                                "{\"relationships\": [{\"product_reference\": \"a\", \"relates_to_product_reference\": \"b\", \"full_product_name\": {\"product_id\": \"c\"}}]}"))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("/relationships/0/product_reference")
                .hasMessageContaining("no product 'a'");
    }
}
