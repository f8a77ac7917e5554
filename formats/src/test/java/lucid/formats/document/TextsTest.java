package lucid.formats.document;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import lucid.formats.Documents;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class TextsTest {

    private static final ReadingHints NOW = ReadingHints.none(Instant.parse("2026-11-24T09:00:00Z"));

    @ParameterizedTest
    @ValueSource(
            strings = {"\ud800", "a\udc00b", "\0", "a\u0007", "a\u009fb", "\ufffe", "\ufdd0", "a\u202eb", "a\u2066b"})
    void whatCannotBeShownIsRefusedWithItsCodePoint(String text) {
        assertThatIllegalArgumentException().isThrownBy(() -> Texts.line(text)).withMessageContaining("U+");
        assertThatIllegalArgumentException().isThrownBy(() -> Texts.prose(text)).withMessageContaining("U+");
        assertThat(Texts.shown("x" + text + "y"))
                .isIn("x\ufffdy", "xa\ufffdy", "xa\ufffdby")
                .doesNotContain("\0");
    }

    @Test
    void onlyRunningTextHasLinesAndMarksOfDirection() {
        assertThat(Texts.prose("one\n\ttwo\u200f")).isEqualTo("one\n\ttwo\u200f");
        for (String text : List.of("one\ntwo", "one\ttwo", "one\u200ftwo", "one\u2028two")) {
            assertThatIllegalArgumentException().isThrownBy(() -> Texts.line(text));
        }
    }

    @Test
    void equalTextsAreKeptAlikeHoweverTheyAreComposed() {
        assertThat(Texts.line(" e\u0301cluse ")).isEqualTo("\u00e9cluse");
        assertThat(Texts.line("𝔄 \ud83d\udea2 kai")).isEqualTo("𝔄 \ud83d\udea2 kai");
    }

    @Test
    void anIdentifierHasALetterOrDigit() {
        assertThat(Texts.identifier("A/1;%\\2")).isEqualTo("A/1;%\\2");
        assertThatIllegalArgumentException().isThrownBy(() -> Texts.identifier(".."));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {"-0500-01-01T00:00:00Z", "1989-12-31T23:59:59Z", "2101-01-01T00:00:00Z", "9999-01-01T00:00:00Z"})
    void instantsLieWhereAReleaseCan(String instant) {
        assertThatIllegalArgumentException()
                .isThrownBy(() -> Texts.plausible(Instant.parse(instant)))
                .withMessageContaining("1990 to 2100");
    }

    /** Each document is sound but for one text or instant, written with JSON's escapes. */
    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '\0', textBlock = """
            {"format": "update-notice-1", "id": "A\\ud800", "title": "t", "revision": "1", "published": "2026-11-01T00:00:00Z", "kind": "bugfix", "fixes": []} | half a character
            {"format": "update-notice-1", "id": "..", "title": "t", "revision": "1", "published": "2026-11-01T00:00:00Z", "kind": "bugfix", "fixes": []} | neither letter nor digit
            {"format": "update-notice-1", "id": "A", "title": "t\\u0000", "revision": "1", "published": "2026-11-01T00:00:00Z", "kind": "bugfix", "fixes": []} | control characters
            {"format": "update-notice-1", "id": "A", "title": "t", "revision": "1", "published": "-0500-11-01T00:00:00Z", "kind": "bugfix", "fixes": []} | .
            {"format": "update-notice-1", "id": "A", "title": "t", "revision": "1", "published": "9999-11-01T00:00:00Z", "kind": "bugfix", "fixes": []} | 1990 to 2100
            {"format": "populations-1", "fleetRule": {"otherwise": 1}, "populations": [{"id": "none", "name": "n", "condition": "role = x", "tier": 1, "rule": {"otherwise": 1}}]} | stands for the hosts that are in no population
            {"format": "populations-1", "fleetRule": {"otherwise": 9e99999999999}, "populations": []} | .
            {"format": "populations-1", "fleetRule": {"otherwise": 1e400}, "populations": []} | .
            """)
    void oneBadTextOrNumberIsRefusedInWords(String document, String reason) {
        assertThatThrownBy(() -> Documents.read(document.getBytes(StandardCharsets.UTF_8), NOW))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining(reason.equals(".") ? "" : reason);
    }

    @Test
    void aWholeNumberMayBeWrittenAsAFractionOfZero() {
        ReadDocument read = Documents.read(
                "{\"format\": \"populations-1\", \"fleetRule\": {\"otherwise\": 3.0}, \"populations\": []}"
                        .getBytes(StandardCharsets.UTF_8),
                NOW);
        assertThat(((Content.OfPopulations) read.content())
                        .ladder()
                        .fleetRule()
                        .otherwise()
                        .delay())
                .hasValueSatisfying(delay -> assertThat(delay.toDays()).isEqualTo(3));
    }

    @Test
    void aHostWithMoreThanAnyHostHasIsRefusedAsAWhole() {
        StringBuilder report = new StringBuilder(
                "{\"t\":\"host\",\"host\":\"h\",\"platform\":\"p\",\"at\":\"2026-11-24T08:00:00Z\"}\n");
        for (int i = 0; i < 20_001; i++) {
            report.append("{\"t\":\"product\",\"purl\":\"pkg:generic/p")
                    .append(i)
                    .append("\",\"version\":\"1\"}\n");
        }
        report.append("{\"t\":\"end\",\"lines\":20002}\n");
        assertThatThrownBy(() -> Documents.read(report.toString().getBytes(StandardCharsets.UTF_8), NOW))
                .hasMessageContaining("more than 20000 products");
    }
}
