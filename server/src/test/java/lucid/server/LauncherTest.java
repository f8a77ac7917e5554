package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** {@code ./lucid} on machines where something is missing. */
class LauncherTest {

    @TempDir
    Path bin;

    private String run(String... arguments) throws Exception {
        for (String tool : List.of("sh", "sed", "find", "dirname", "cat", "grep", "head")) {
            script(
                    tool,
                    "exec "
                            + new String(new ProcessBuilder("sh", "-c", "command -v " + tool)
                                            .start()
                                            .getInputStream()
                                            .readAllBytes())
                                    .strip()
                            + " \"$@\"");
        }
        ProcessBuilder builder = new ProcessBuilder("sh", Path.of("..", "lucid").toString()).redirectErrorStream(true);
        builder.command().addAll(List.of(arguments));
        builder.environment().put("PATH", bin.toString());
        Process process = builder.start();
        String output = new String(process.getInputStream().readAllBytes());
        assertThat(process.waitFor(30, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue()).isEqualTo(2);
        return output;
    }

    private void tool(String name, String prints) throws IOException {
        script(name, "echo '" + prints + "'");
    }

    private void script(String name, String line) throws IOException {
        Path file = Files.writeString(bin.resolve(name), "#!/bin/sh\n" + line + "\n");
        assertThat(file.toFile().setExecutable(true)).isTrue();
    }

    @Test
    void namesEverythingThatIsMissingInOneSentence() throws Exception {
        assertThat(run("demo").strip())
                .isEqualTo(
                        "lucid: this needs JDK 17 or newer, a JDK with javac, Maven, Node 20 or newer, npm; please install what is missing and start again.");
    }

    @Test
    void namesWhatIsTooOld() throws Exception {
        tool("java", "openjdk version \"11.0.2\" 2019-01-15");
        tool("javac", "javac 11");
        tool("mvn", "3");
        tool("npm", "9");
        tool("node", "v18.1.0");
        assertThat(run("run").strip())
                .isEqualTo(
                        "lucid: this needs JDK 17 or newer, Node 20 or newer; please install what is missing and start again.");
    }

    @Test
    void saysWhatItDoes() throws Exception {
        assertThat(run()).contains("./lucid demo").contains("./lucid test");
        assertThat(run("dance")).contains("'dance' is no command");
    }
}
