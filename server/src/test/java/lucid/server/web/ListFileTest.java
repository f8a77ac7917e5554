package lucid.server.web;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.springframework.http.ResponseEntity;

class ListFileTest {

    private static String csv(ResponseEntity<ListFile> file) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        file.getBody().writeCsv(out);
        return out.toString(StandardCharsets.UTF_8);
    }

    @Test
    void quotesWhatNeedsIt() throws IOException {
        var file = ListFile.csv(
                "hosts.csv",
                List.of("host", "versions"),
                Stream.of(List.of("ksk-1", "a 1, \"b\" 2"), List.of("ksk-2", "")));
        assertThat(csv(file))
                .isEqualTo("host,versions\r\nksk-1,\"a 1, \"\"b\"\" 2\"\r\nksk-2,\"\"\r\n"
                        .replace("ksk-2,\"\"", "ksk-2,"));
        assertThat(file.getHeaders().getFirst("Content-Disposition")).isEqualTo("attachment; filename=\"hosts.csv\"");
    }

    @Test
    void aTextThatASpreadsheetWouldRunStaysAText() throws IOException {
        var file = ListFile.csv(
                "x.csv", List.of("a"), Stream.of(List.of("=1+1"), List.of("@SUM(A1)"), List.of("-2"), List.of(-2)));
        assertThat(csv(file).lines().skip(1)).containsExactly("'=1+1", "'@SUM(A1)", "'-2", "-2");
    }

    @Test
    void asJsonEachRowIsAnObjectThatTellsNumbersFromTexts() throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ListFile.json("x.json", List.of("host", "n"), Stream.of(List.of("=a\"", 3)))
                .getBody()
                .writeJson(out);
        assertThat(out.toString(StandardCharsets.UTF_8)).isEqualTo("[{\"host\":\"=a\\\"\",\"n\":3}]");
    }
}
