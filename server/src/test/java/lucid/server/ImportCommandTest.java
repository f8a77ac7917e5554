package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lucid.server.command.UsageException;
import lucid.server.intake.ImportCommand;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.api.io.TempDir;

class ImportCommandTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    @TempDir
    Path folder;

    private record Ran(int exit, String output) {}

    private Ran run(String... files) throws Exception {
        List<String> words = new ArrayList<>(List.of(
                "--server",
                SERVER.address().toString(),
                "--token-file",
                SERVER.tokenFile().toString()));
        words.addAll(List.of(files));
        PrintStream before = System.out;
        ByteArrayOutputStream output = new ByteArrayOutputStream();
        System.setOut(new PrintStream(output, true));
        try {
            return new Ran(ImportCommand.run(words), output.toString());
        } finally {
            System.setOut(before);
        }
    }

    private String file(String name, String content) throws Exception {
        return Files.writeString(folder.resolve(name), content).toString();
    }

    @Test
    void printsALineForEachFileAndGoesOnAfterABadOne() throws Exception {
        Path large = folder.resolve("large.json");
        try (RandomAccessFile sparse = new RandomAccessFile(large.toFile(), "rw")) {
            sparse.setLength(65L * 1024 * 1024);
        }
        Ran ran = run(
                file("bad.json", "{\"format\": \"update-notice-1\"}"),
                large.toString(),
                folder.resolve("absent.json").toString(),
                file("good.json", Examples.notice("IMP-1", "1", "2.0")));
        assertThat(ran.exit()).isEqualTo(1);
        assertThat(ran.output().lines())
                .anyMatch(line -> line.startsWith("rejected  bad.json"))
                .anyMatch(line -> line.contains("'id' is missing"))
                .anyMatch(line ->
                        line.startsWith("rejected  ") && line.endsWith("large.json: longer than 64 MB, not sent"))
                .anyMatch(line -> line.endsWith("absent.json: there is no such file"))
                .contains("accepted  good.json IMP-1");
        assertThat(run(folder.resolve("good.json").toString())).isEqualTo(new Ran(0, "duplicate good.json IMP-1\n"));
    }

    @Test
    void wrongUseGetsOneSentence() throws Exception {
        String good = file("g.json", Examples.notice("IMP-2", "1", "2.0"));
        assertThatThrownBy(() -> ImportCommand.run(List.of()))
                .isInstanceOf(UsageException.class)
                .hasMessageContaining("one file or more");
        assertThatThrownBy(() -> ImportCommand.run(List.of("--server"))).hasMessage("--server needs a value");
        assertThatThrownBy(() -> ImportCommand.run(
                        List.of("--token-file", folder.resolve("none").toString(), good)))
                .hasMessageContaining("cannot be read");
        assertThatThrownBy(() -> ImportCommand.run(
                        List.of("--token-file", SERVER.tokenFile().toString(), "--server", "http://127.0.0.1:1", good)))
                .hasMessageContaining("no server answers");
        String wrong = file("token", "wrong");
        assertThatThrownBy(() -> ImportCommand.run(List.of(
                        "--token-file", wrong, "--server", SERVER.address().toString(), good)))
                .hasMessageContaining("401");
    }
}
