package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import lucid.server.command.UsageException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RunOptionsTest {

    @TempDir
    Path folder;

    @Test
    void defaults() {
        RunOptions options = RunOptions.parse(List.of());
        assertThat(options.folder().path()).isEqualTo(Path.of("data").toAbsolutePath());
        assertThat(options.address("8040")).isEqualTo("http://127.0.0.1:8040");
        assertThat(options.demo()).isFalse();
    }

    @Test
    void badOptionsGetOneSentence() {
        assertThatThrownBy(() -> RunOptions.parse(List.of("--port")))
                .isInstanceOf(UsageException.class)
                .hasMessage("--port needs a value");
        assertThatThrownBy(() -> RunOptions.parse(List.of("--port", "99999"))).hasMessageContaining("0 to 65535");
        assertThatThrownBy(() -> RunOptions.parse(List.of("--fast"))).hasMessageContaining("'--fast'");
    }

    @Test
    void aTakenPortGetsOneSentence() throws IOException {
        try (ServerSocket taken = new ServerSocket(0, 1, InetAddress.getByName("127.0.0.1"))) {
            RunOptions options = RunOptions.parse(
                    List.of("--data", folder.toString(), "--port", String.valueOf(taken.getLocalPort())));
            assertThatThrownBy(options::requireFreeFolderAndPort)
                    .isInstanceOf(UsageException.class)
                    .hasMessageContaining("port " + taken.getLocalPort())
                    .hasMessageContaining("choose another");
        }
    }

    @Test
    void aFolderInUseGetsOneSentence() throws IOException {
        try (FileChannel other =
                FileChannel.open(folder.resolve("in-use"), StandardOpenOption.CREATE, StandardOpenOption.WRITE)) {
            other.lock();
            assertThatThrownBy(() -> RunOptions.parse(List.of("--data", folder.toString(), "--port", "0"))
                            .requireFreeFolderAndPort())
                    .isInstanceOf(UsageException.class)
                    .hasMessageContaining("is in use by another Lucid Verdict");
        }
    }
}
