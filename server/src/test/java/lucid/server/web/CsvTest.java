package lucid.server.web;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

class CsvTest {

    @Test
    void quotesWhatNeedsIt() {
        var file = Csv.file(
                "hosts.csv",
                List.of("host", "versions"),
                Stream.of(List.of("ksk-1", "a 1, \"b\" 2"), List.of("ksk-2", "")));
        assertThat(file.getBody())
                .isEqualTo("host,versions\r\nksk-1,\"a 1, \"\"b\"\" 2\"\r\nksk-2,\"\"\r\n"
                        .replace("ksk-2,\"\"", "ksk-2,"));
        assertThat(file.getHeaders().getFirst("Content-Disposition")).isEqualTo("attachment; filename=\"hosts.csv\"");
    }

    @Test
    void aTextThatASpreadsheetWouldRunStaysAText() {
        var file = Csv.file(
                "x.csv", List.of("a"), Stream.of(List.of("=1+1"), List.of("@SUM(A1)"), List.of("-2"), List.of(-2)));
        assertThat(file.getBody().lines().skip(1)).containsExactly("'=1+1", "'@SUM(A1)", "'-2", "-2");
    }
}
