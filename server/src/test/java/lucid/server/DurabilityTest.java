package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/** What was acknowledged is there, whatever happens to the process or the disk. */
class DurabilityTest {

    /** Each costs the start of a program; {@code ./lucid bench} kills more often. */
    private static final int KILLS = Integer.getInteger("lucid.kills", 4);
    /**
     * What was acknowledged is compared as a whole after each kill; a new folder now and then keeps that from growing
     * without end.
     */
    private static final int KILLS_OF_A_FOLDER = 20;

    private static final Random RANDOM = new Random(20261124);

    @TempDir
    Path folder;

    // ---- kill -9

    /** What three clients were told to be done, up to a kill; what they were told nothing of may be there or not. */
    private static final class Acknowledged {
        final Queue<String> updates = new ConcurrentLinkedQueue<>();
        final Queue<String> judged = new ConcurrentLinkedQueue<>();
        final Queue<String> hosts = new ConcurrentLinkedQueue<>();
        final AtomicInteger number = new AtomicInteger();
        /** Some weeks after the server's clock, which begins 90 days ago. */
        final LocalDate until = LocalDate.now(ZoneOffset.UTC).minusDays(60);
    }

    @Test
    void everyAcknowledgedWriteSurvivesAKillAndNoneIsThereByHalf() throws Exception {
        for (int done = 0; done < KILLS; done += KILLS_OF_A_FOLDER) {
            killed(folder.resolve("data-" + done), Math.min(KILLS_OF_A_FOLDER, KILLS - done));
        }
    }

    private static void killed(Path data, int kills) throws Exception {
        Acknowledged acknowledged = new Acknowledged();
        ChildServer server = ChildServer.start(data);
        server.populations(Examples.POPULATIONS);
        for (int kill = 1; kill <= kills; kill++) {
            List<Thread> writers = List.of(
                    importing(server, acknowledged), judging(server, acknowledged), reporting(server, acknowledged));
            // However slow the machine is, something of each was written; the kill comes at any moment after that.
            int round = kill;
            Awaitility.await().atMost(Duration.ofMinutes(3)).until(() -> Stream.of(
                            acknowledged.updates, acknowledged.judged, acknowledged.hosts)
                    .allMatch(written -> written.size() >= round));
            Thread.sleep(RANDOM.nextInt(900));
            server.kill();
            for (Thread writer : writers) {
                writer.join(TimeUnit.SECONDS.toMillis(30));
                assertThat(writer.isAlive()).isFalse();
            }
            server = ChildServer.start(data);
            requireEverything(server.analyst(), acknowledged, kill);
        }
        server.kill();
        ChildServer.Ran verified = ChildServer.run("verify-record", "--data", data.toString());
        assertThat(verified.output()).contains("The record is whole");
        assertThat(verified.exit()).isZero();
        System.out.printf(
                "%d kills survived with %d imports, %d verdicts and %d reports acknowledged%n",
                kills, acknowledged.updates.size(), acknowledged.judged.size(), acknowledged.hosts.size());
    }

    private interface Write {
        void once() throws Exception;
    }

    /** Writes on and on until the server no longer answers. */
    private static Thread writer(Write write) {
        Thread thread = new Thread(() -> {
            try {
                while (true) {
                    write.once();
                }
            } catch (UncheckedIOException | IOException e) {
                // The server was killed.
            } catch (Exception e) {
                throw new IllegalStateException(e);
            }
        });
        thread.start();
        return thread;
    }

    private static Thread importing(ChildServer server, Acknowledged acknowledged) throws IOException {
        LucidServer.Client machine = server.machine();
        return writer(() -> {
            String id = "KILL-" + acknowledged.number.incrementAndGet();
            if (machine.documents(Map.of("n.json", Examples.notice(id, "1", "2.0")))
                    .text()
                    .contains("ACCEPTED")) {
                acknowledged.updates.add(id);
            }
        });
    }

    /**
     * Verdicts for two populations at once, on updates that were acknowledged before. One that a kill left without an
     * answer is sent again after it; by its key it is known then if it was written after all.
     */
    private static Thread judging(ChildServer server, Acknowledged acknowledged) {
        LucidServer.Client analyst = server.analyst();
        return writer(() -> {
            String id = acknowledged.updates.stream()
                    .filter(u -> !acknowledged.judged.contains(u))
                    .findFirst()
                    .orElse(null);
            if (id == null) {
                Thread.sleep(5);
            } else if (analyst.post(
                                    "/api/verdicts",
                                    Map.of(
                                            "update",
                                            id,
                                            "revision",
                                            "1",
                                            "type",
                                            "BLOCK",
                                            "populations",
                                            List.of("kiosks", "desktops"),
                                            "until",
                                            acknowledged.until.toString(),
                                            "reasons",
                                            List.of("UNTESTED")),
                                    "Idempotency-Key",
                                    id,
                                    "If-Match",
                                    "*")
                            .status()
                    == 201) {
                acknowledged.judged.add(id);
            }
        });
    }

    private static Thread reporting(ChildServer server, Acknowledged acknowledged) throws IOException {
        LucidServer.Client machine = server.machine();
        Instant at = Instant.now().minus(Duration.ofDays(91));
        return writer(() -> {
            String name = "kill-" + acknowledged.number.incrementAndGet();
            if (machine.report(Examples.host(name, "kiosk", "1.0", at).getBytes(StandardCharsets.UTF_8))
                            .status()
                    == 200) {
                acknowledged.hosts.add(name);
            }
        });
    }

    private static void requireEverything(LucidServer.Client analyst, Acknowledged acknowledged, int kill) {
        Set<String> updates = new TreeSet<>();
        for (JsonNode page = analyst.get("/api/carriers").json();
                ;
                page = analyst.get("/api/carriers?after=" + page.path("next").asString())
                        .json()) {
            page.path("rows")
                    .forEach(row -> updates.add(row.path("states").path("id").asString()));
            if (!page.has("next")) {
                break;
            }
        }
        assertThat(acknowledged.updates.stream()
                        .filter(u -> !updates.contains(u))
                        .toList())
                .as("lost after kill %d", kill)
                .isEmpty();
        List<String> sentences = new ArrayList<>();
        for (JsonNode page = analyst.get("/api/record").json();
                ;
                page = analyst.get("/api/record?before=" + page.path("next").asLong())
                        .json()) {
            page.path("entries")
                    .forEach(entry -> sentences.add(entry.path("sentence").asString()));
            if (!page.has("next")) {
                break;
            }
        }
        assertThat(sentences.stream()
                        .filter(s -> s.startsWith("Update notice taken"))
                        .map(s -> s.replaceAll(".*: (KILL-\\d+),.*", "$1")))
                .as("an update and its sentence in the record come together")
                .containsExactlyInAnyOrderElementsOf(updates);
        // A verdict for two populations is there for both or for none, with both of its sentences.
        for (String update : updates) {
            long sentencesOfUpdate = sentences.stream()
                    .filter(s -> s.startsWith("Blocked " + update + " "))
                    .count();
            assertThat(sentencesOfUpdate).isIn(0L, 2L);
            if (acknowledged.judged.contains(update)) {
                assertThat(sentencesOfUpdate)
                        .as("%s after kill %d", update, kill)
                        .isEqualTo(2);
            }
        }
        acknowledged.judged.stream().reduce((a, b) -> b).ifPresent(last -> assertThat(analyst.get("/api/cases/" + last)
                        .json()
                        .path("verdicts")
                        .size())
                .isEqualTo(2));
        if (!updates.isEmpty()) {
            Set<String> hosts = new TreeSet<>();
            String any = updates.iterator().next();
            String csv = analyst.get("/api/carriers/" + any + "/hosts.csv").text();
            csv.lines().skip(1).forEach(line -> hosts.add(line.substring(0, line.indexOf(','))));
            assertThat(acknowledged.hosts.stream()
                            .filter(h -> !hosts.contains(h))
                            .toList())
                    .as("lost after kill %d", kill)
                    .isEmpty();
        }
    }

    // ---- Backup, restore, and the record

    @Test
    void aBackupOfARunningInstanceBecomesAnotherOneWithTheSameContent() throws Exception {
        Path data = folder.resolve("running");
        ChildServer server = ChildServer.start(data);
        server.populations(Examples.POPULATIONS);
        server.machine().documents(Map.of("n.json", Examples.notice("BAK-1", "1", "2.0")));
        server.machine()
                .report(Examples.host("bak-host", "kiosk", "1.0", Instant.now().minus(Duration.ofDays(91)))
                        .getBytes(StandardCharsets.UTF_8));
        String carriers = server.analyst().get("/api/carriers/BAK-1/hosts").text();
        Path file = folder.resolve("lucid.zip");
        ChildServer.Ran backup = ChildServer.run("backup", file.toString(), "--data", data.toString());
        assertThat(backup.output()).contains("written to " + file);
        assertThat(ChildServer.run("backup", file.toString(), "--data", data.toString())
                        .output())
                .contains("exists already");
        assertThat(ChildServer.run("verify-record", "--data", data.toString()).output())
                .contains("The record is whole");
        server.kill();

        Path restored = folder.resolve("restored");
        assertThat(ChildServer.run("restore", file.toString(), "--data", restored.toString())
                        .output())
                .contains("Restored")
                .contains("The record is whole");
        assertThat(ChildServer.run("restore", file.toString(), "--data", restored.toString())
                        .output())
                .contains("is not empty");
        ChildServer again = ChildServer.start(restored);
        assertThat(again.analyst().get("/api/carriers/BAK-1/hosts").text())
                .isEqualTo(carriers)
                .contains("bak-host");
        again.kill();
        assertThat(ChildServer.run("backup", folder.resolve("at-rest.zip").toString(), "--data", restored.toString())
                        .exit())
                .as("a folder at rest is read itself")
                .isZero();
        Path broken = Files.writeString(folder.resolve("broken.zip"), "no zip");
        assertThat(ChildServer.run(
                                "restore",
                                broken.toString(),
                                "--data",
                                folder.resolve("other").toString())
                        .output())
                .contains("is no backup");
    }

    @Test
    void aChangedRecordIsFoundOut() throws Exception {
        Path data = folder.resolve("record");
        ChildServer server = ChildServer.start(data);
        for (int i = 0; i < 3; i++) {
            server.machine().documents(Map.of("n.json", Examples.notice("REC-" + i, "1", "2.0")));
        }
        server.kill();
        try (Connection database = DriverManager.getConnection("jdbc:h2:file:" + data.resolve("lucid"), "lucid", "");
                Statement statement = database.createStatement()) {
            assertThat(statement.executeUpdate(
                            "update record_entry set sentence = 'Nothing happened.' where number = 2"))
                    .isEqualTo(1);
        }
        ChildServer.Ran verified = ChildServer.run("verify-record", "--data", data.toString());
        assertThat(verified.exit()).isEqualTo(1);
        assertThat(verified.output()).contains("broken at entry 2");
        assertThat(ChildServer.run(
                                "verify-record",
                                "--data",
                                folder.resolve("nowhere").toString())
                        .output())
                .contains("there is no data in");
    }

    // ---- Full disk

    @Test
    void aFullDiskIsSurvived() throws Exception {
        Path disk = Files.createDirectory(folder.resolve("disk"));
        Process mount = new ProcessBuilder("mount", "-t", "tmpfs", "-o", "size=48m", "tmpfs", disk.toString())
                .redirectErrorStream(true)
                .start();
        String said = new String(mount.getInputStream().readAllBytes()).strip();
        if (mount.waitFor() != 0) {
            System.out.println(
                    "The test of a full disk is skipped: a small disk cannot be mounted here (" + said + ")");
            Assumptions.abort("a small disk cannot be mounted here: " + said);
        }
        try {
            ChildServer server = ChildServer.start(Files.createDirectory(disk.resolve("data")));
            server.populations(Examples.POPULATIONS);
            server.machine().documents(Map.of("n.json", Examples.notice("FULL-1", "1", "2.0")));
            Path filler = disk.resolve("filler");
            // Nearly full: what could no longer be finished is not begun.
            fill(filler, disk, 4 * 1024 * 1024);
            requireRefusedButReadable(server);
            // Not a byte left.
            fill(filler, disk, 0);
            requireRefusedButReadable(server);
            Thread.sleep(1500);
            requireRefusedButReadable(server);
            Files.delete(filler);
            assertThat(server.machine()
                            .documents(Map.of("n.json", Examples.notice("FULL-2", "1", "2.0")))
                            .text())
                    .as("writing goes on by itself")
                    .contains("ACCEPTED");
            // Room for little, but not for one large document.
            fill(filler, disk, 12 * 1024 * 1024);
            assertThat(server.machine()
                            .documents(Map.of("large.json", "x".repeat(20 * 1024 * 1024)))
                            .status())
                    .isEqualTo(507);
            assertThat(server.machine()
                            .documents(Map.of("n.json", Examples.notice("FULL-4", "1", "2.0")))
                            .text())
                    .contains("ACCEPTED");
            assertThat(server.analyst().get("/api/cases/FULL-2").status()).isEqualTo(200);
            Files.delete(filler);
            assertThat(server.machine()
                            .documents(Map.of("n.json", Examples.notice("FULL-3", "1", "2.0")))
                            .text())
                    .contains("ACCEPTED");
            server.kill();
            ChildServer again = ChildServer.start(disk.resolve("data"));
            assertThat(again.analyst().get("/api/carriers").text())
                    .contains("FULL-1", "FULL-2", "FULL-3")
                    .doesNotContain("FULL-X");
            again.kill();
        } finally {
            new ProcessBuilder("umount", "-l", disk.toString()).start().waitFor();
        }
    }

    private static void requireRefusedButReadable(ChildServer server) throws IOException {
        LucidServer.Answer refused =
                server.machine().documents(Map.of("n.json", Examples.notice("FULL-X", "1", "2.0")));
        assertThat(refused.status()).as(refused.text()).isEqualTo(507);
        assertThat(refused.text()).contains("disk is full").contains("Nothing of this was kept");
        LucidServer.Client analyst = server.analyst();
        assertThat(analyst.get("/api/docket").status()).isEqualTo(200);
        assertThat(analyst.get("/api/documents").text()).contains("FULL-1");
        assertThat(analyst.get("/api/record").text()).contains("FULL-1");
    }

    /** Writes zeros until so many bytes are free. */
    static void fill(Path filler, Path disk, long free) throws IOException {
        try (RandomAccessFile file = new RandomAccessFile(filler.toFile(), "rw")) {
            file.seek(file.length());
            byte[] block = new byte[64 * 1024];
            while (disk.toFile().getUsableSpace() > free) {
                file.write(block, 0, (int) Math.min(block.length, disk.toFile().getUsableSpace() - free));
            }
        } catch (IOException e) {
            if (free > 0) {
                throw e;
            }
        }
    }
}
