package lucid.formats.document;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import lucid.formats.csaf.CsafReader;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Whoever reads what is wrong with a document does not know the schema's own words. */
class SchemaWordsTest {

    private static List<String> words(String schema, String document) {
        JsonMapper json = new JsonMapper();
        return Schemas.named(schema).problems(json.readTree(document)).stream()
                .map(problem -> problem.place() + ": " + problem.reason())
                .toList();
    }

    @Test
    void whatIsMissingUnknownOrOfAnotherTypeIsNamed() {
        assertThat(
                        words(
                                "known-issues-1",
                                "{\"format\":\"known-issues-1\",\"source\":7,\"issues\":[{\"updates\":[],\"text\":\"\",\"state\":\"shut\",\"extra\":1}]}"))
                .containsExactlyInAnyOrder(
                        "/source: expected a text, found '7'",
                        "/issues/0: 'id' is missing",
                        "/issues/0: 'extra' is not known here",
                        "/issues/0/updates: has at least one entry",
                        "/issues/0/text: must not be empty",
                        "/issues/0/state: 'shut' is none of open, worked around, fixed");
    }

    @Test
    void whatMayBeOneOfSeveralThingsIsToldAsAllOfThem() {
        assertThat(
                        words(
                                "populations-1",
                                "{\"format\":\"populations-1\",\"populations\":[{\"id\":\"a\",\"name\":\"A\",\"tier\":1,\"rule\":{\"otherwise\":\"soon\"}}],\"fleetRule\":{\"otherwise\":\"never\"}}"))
                .contains(
                        "/populations/0: expected 'condition', or 'predicate'",
                        "/populations/0/rule/otherwise: expected 'never', or a whole number from 0 to 365, found 'soon'");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {"failure-reports-1", "inventory-line-1", "known-issues-1", "populations-1", "update-notice-1"})
    void everyPatternOfOurSchemasHasWords(String schema) {
        List<JsonNode> patterns =
                new JsonMapper().readTree(Schemas.text(schema).orElseThrow()).findValues("pattern");
        assertThat(patterns).extracting(JsonNode::asString).isSubsetOf(SchemaWords.PATTERNS.keySet());
    }

    @Test
    void soHasEveryPatternOfTheStandardsSchema() throws IOException {
        try (InputStream schema = CsafReader.class.getResourceAsStream("csaf-2.schema.json")) {
            assertThat(new JsonMapper().readTree(schema).findValues("pattern"))
                    .hasSize(8)
                    .extracting(JsonNode::asString)
                    .isSubsetOf(SchemaWords.PATTERNS.keySet());
        }
    }

    @Test
    void instantsDaysAndRangesAreToldByExample() {
        assertThat(
                        words(
                                "known-issues-1",
                                "{\"format\":\"known-issues-2\",\"source\":\"V\",\"issues\":[{\"id\":\"1\",\"updates\":[\"A\"],\"text\":\"t\",\"state\":\"open\",\"at\":\"yesterday\"}]}"))
                .containsExactlyInAnyOrder(
                        "/format: expected 'known-issues-1', found 'known-issues-2'",
                        "/issues/0/at: 'yesterday' is not an instant such as 2026-11-24T08:00:00Z");
        assertThat(
                        words(
                                "populations-1",
                                "{\"format\":\"populations-1\",\"populations\":[{\"id\":\"a\",\"name\":\"A\",\"condition\":\"name is set\",\"tier\":9,\"rule\":{\"otherwise\":-3}}],\"fleetRule\":{\"otherwise\":\"never\"}}"))
                .contains("/populations/0/tier: is at most 4, found '9'")
                .contains(
                        "/populations/0/rule/otherwise: expected 'never', or a whole number from 0 to 365, found '-3'");
    }
}
