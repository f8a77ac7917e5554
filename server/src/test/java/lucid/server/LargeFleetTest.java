package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.Random;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/**
 * The hostile requests, hostile reports and kills against the data of the large fleet: no fault, no page that fails,
 * nothing lost. {@code ./lucid bench} makes that data and names its folder here; it is not altered.
 */
@EnabledIfSystemProperty(named = "lucid.large-fleet", matches = ".+")
class LargeFleetTest {

    private static final Path LARGE = Path.of(System.getProperty("lucid.large-fleet", ""));
    private static final List<String> PAGES = List.of(
            "/api/docket",
            "/api/carriers",
            "/api/carriers/BIG-17",
            "/api/carriers/BIG-17/hosts",
            "/api/cases/BIG-17",
            "/api/hosts",
            "/api/hosts/host-4711",
            "/api/hosts/host-4711/updates?lacking=true",
            "/api/populations",
            "/api/documents",
            "/api/record",
            "/api/weights");
    private static final Random RANDOM = new Random(20261128);
    private static final int KILLS = 5;

    @TempDir
    Path folder;

    private Path data;

    @BeforeEach
    void copyTheData() throws IOException {
        data = Files.createDirectory(folder.resolve("data"));
        for (String file : List.of("lucid.mv.db", "record-head", "record-key", "import-token", "backup-token")) {
            Files.copy(LARGE.resolve(file), data.resolve(file));
        }
    }

    private static LucidServer.Client analyst(ChildServer server) {
        return server.signedIn("bench", "chosen-for-the-bench");
    }

    private static LucidServer.Client administrator(ChildServer server) {
        return server.signedIn("administrator", "chosen-for-the-bench");
    }

    private static void requirePages(LucidServer.Client client) {
        for (String page : PAGES) {
            assertThat(client.get(page).status()).as(page).isEqualTo(200);
        }
    }

    private static byte[] report(String host, int products, String version) {
        StringBuilder report = new StringBuilder("{\"t\":\"host\",\"host\":\"" + host
                + "\",\"platform\":\"p\",\"at\":\"" + Instant.now().truncatedTo(ChronoUnit.MILLIS) + "\"}\n");
        for (int i = 0; i < products; i++) {
            report.append("{\"t\":\"product\",\"purl\":\"pkg:generic/made-up-")
                    .append(i)
                    .append("\",\"version\":\"")
                    .append(version)
                    .append("\"}\n");
        }
        return report.append("{\"t\":\"end\",\"lines\":")
                .append(products + 1)
                .append("}\n")
                .toString()
                .getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void hostileRequestsAndReportsBreakNothing() throws Exception {
        ChildServer server = ChildServer.startLarge(data);
        LucidServer.Client analyst = analyst(server);
        requirePages(analyst);
        long hosts = analyst.get("/api/hosts?show=ALL").json().path("all").asLong();
        String carriers = analyst.get("/api/carriers/BIG-17").json().path("row").toString();
        assertThat(hosts).isGreaterThan(1_000);
        assertThat(carriers).contains("BIG-17");
        assertThat(HostileRequests.failures(analyst, administrator(server))).isEmpty();
        LucidServer.Client host = server.withToken(administrator(server)
                .post("/api/tokens", Map.of("name", "hostile", "scope", "HOST", "host", "host-17"))
                .json()
                .path("token")
                .asString());
        assertThat(host.report(report("host-17", 20_001, "1")).text()).contains("more than 20000 products");
        assertThat(host.report(report("host-17", 6_000, "1")).text()).contains("WAITING");
        assertThat(host.report(report("host-18", 1, "1")).status()).isEqualTo(403);
        assertThat(host.report(new byte[9 * 1024 * 1024]).status()).isEqualTo(413);
        assertThat(host.send(
                                "POST",
                                "/api/reports",
                                "application/x-ndjson",
                                BodyPublishers.ofString(
                                        "{\"t\":\"host\",\"host\":\"host-17\",\"platform\":\"\\ud800\"}"))
                        .status())
                .isEqualTo(422);
        requirePages(analyst);
        assertThat(analyst.get("/api/hosts?show=ALL").json().path("all").asLong())
                .isEqualTo(hosts);
        assertThat(analyst.get("/api/carriers/BIG-17").json().path("row").toString())
                .isEqualTo(carriers);
        server.kill();
        assertThat(ChildServer.run("verify-record", "--data", data.toString()).output())
                .contains("The record is whole");
    }

    @Test
    void whatWasAcknowledgedSurvivesKills() throws Exception {
        Queue<String> acknowledged = new ConcurrentLinkedQueue<>();
        for (int kill = 0; kill < KILLS; kill++) {
            ChildServer server = ChildServer.startLarge(data);
            LucidServer.Client machine = server.machine();
            int of = kill;
            List<Thread> writers = new ArrayList<>();
            for (int i = 0; i < 3; i++) {
                int writer = i;
                writers.add(new Thread(() -> {
                    try {
                        for (int n = 0; ; n++) {
                            String name = "kill-" + of + "-" + writer + "-" + n;
                            if (machine.report(report(name, 20, "1")).text().contains("ACCEPTED")) {
                                acknowledged.add(name);
                            }
                        }
                    } catch (UncheckedIOException e) {
                        // The server was killed.
                    }
                }));
            }
            writers.forEach(Thread::start);
            Thread.sleep(1_000 + RANDOM.nextInt(2_000));
            server.kill();
            for (Thread writer : writers) {
                writer.join(TimeUnit.SECONDS.toMillis(60));
            }
        }
        ChildServer server = ChildServer.startLarge(data);
        LucidServer.Client analyst = analyst(server);
        for (String name : acknowledged) {
            JsonNode host = analyst.get("/api/hosts/" + name).json();
            assertThat(host.path("name").asString()).isEqualTo(name);
        }
        assertThat(acknowledged).hasSizeGreaterThan(KILLS);
        requirePages(analyst);
        server.kill();
        assertThat(ChildServer.run("verify-record", "--data", data.toString()).output())
                .contains("The record is whole");
    }
}
