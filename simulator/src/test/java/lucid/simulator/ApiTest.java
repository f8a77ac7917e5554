package lucid.simulator;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.Test;

/** The player of the hosts goes on playing whatever becomes of one connection. */
class ApiTest {

    private static final String NOW = "2026-12-02T09:00:00Z";

    @Test
    void aConnectionThatIsClosedAsItIsUsedAgainIsNoServerThatHasGone() throws Exception {
        try (ServerSocket server = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            CompletableFuture<Void> served = CompletableFuture.runAsync(() -> {
                try {
                    try (Socket first = server.accept()) {
                        heard(first);
                    }
                    try (Socket second = server.accept()) {
                        heard(second);
                        String body = "{\"now\":\"" + NOW + "\"}";
                        second.getOutputStream()
                                .write(("HTTP/1.1 200 OK\r\nContent-Length: " + body.length() + "\r\n\r\n" + body)
                                        .getBytes(StandardCharsets.US_ASCII));
                    }
                } catch (IOException e) {
                    throw new IllegalStateException(e);
                }
            });
            Api api = new Api(
                    URI.create("http://" + server.getInetAddress().getHostAddress() + ":" + server.getLocalPort()),
                    "t");
            assertThat(api.step()).isEqualTo(Instant.parse(NOW));
            served.join();
        }
    }

    private static void heard(Socket socket) throws IOException {
        assertThat(socket.getInputStream().read(new byte[2_000])).isPositive();
    }
}
