package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.InputStream;
import java.io.RandomAccessFile;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Random;
import java.util.stream.Stream;
import lucid.server.command.UsageException;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A data folder that was damaged, emptied, rolled back, cut short in an upgrade or shared is never started as if
 * nothing had happened.
 */
class SafekeepingTest {

    /** Each costs the start of a program or two; {@code ./lucid bench} tries more. */
    private static final int KILLS = Integer.getInteger("lucid.upgrade-kills", 3);

    private static final int DAMAGES = Integer.getInteger("lucid.damages", 4);
    private static final int OTHER_KILLS = Integer.getInteger("lucid.other-kills", 1);
    private static final Random RANDOM = new Random(20261128);

    @TempDir
    Path folder;

    private Path filled(String name, int updates) throws Exception {
        Path data = folder.resolve(name);
        ChildServer server = ChildServer.start(data);
        for (int i = 0; i < updates; i++) {
            server.machine().documents(Map.of("n.json", Examples.notice("SAFE-" + i, "1", "2.0")));
        }
        server.kill();
        return data;
    }

    private static void copy(Path from, Path to) throws IOException {
        Files.createDirectories(to);
        try (Stream<Path> files = Files.list(from)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                Files.copy(file, to.resolve(file.getFileName()), StandardCopyOption.REPLACE_EXISTING);
            }
        }
    }

    private static String refusal(Path data, String... more) {
        try {
            ChildServer.start(data, more).kill();
            return "started";
        } catch (IllegalStateException e) {
            assertThat(e.getMessage())
                    .as("told in a sentence, without a stack")
                    .doesNotContain("\tat ")
                    .doesNotContain("Exception in thread");
            return e.getMessage();
        } catch (IOException | InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    // ---- upgrades

    private Path older(String name) throws Exception {
        Path data = folder.resolve(name);
        Path zip = folder.resolve("schema-1.zip");
        try (InputStream in =
                Objects.requireNonNull(SafekeepingTest.class.getResourceAsStream("/older/schema-1.zip"))) {
            Files.copy(in, zip, StandardCopyOption.REPLACE_EXISTING);
        }
        ChildServer.run("restore", zip.toString(), "--data", data.toString());
        return data;
    }

    @Test
    void killedAtAnyPointOfAnUpgradeItStartsWithEverything() throws Exception {
        Path original = older("original");
        long length = upgradeMillis(original);
        for (int kill = 0; kill < KILLS; kill++) {
            Path data = folder.resolve("upgrade-" + kill);
            copy(original, data);
            ChildServer.killWhileStarting(data, length * kill / KILLS + RANDOM.nextInt(100));
            ChildServer server = ChildServer.start(data);
            LucidServer.Client analyst = server.analyst();
            assertThat(analyst.get("/api/cases/OLD-1").json().path("verdicts").size())
                    .as("kill %d", kill)
                    .isEqualTo(1);
            assertThat(analyst.get("/api/carriers/OLD-1/hosts.csv").text()).contains("old-1,Ticket kiosks,");
            server.kill();
            assertThat(ChildServer.run("verify-record", "--data", data.toString())
                            .output())
                    .contains("The record is whole");
        }
    }

    /** How long a start with an upgrade takes until it answers. */
    private long upgradeMillis(Path original) throws Exception {
        Path data = folder.resolve("timed");
        copy(original, data);
        long begun = System.nanoTime();
        ChildServer.start(data).kill();
        return Duration.ofNanos(System.nanoTime() - begun).toMillis();
    }

    /** While it starts, and while it takes a backup: what was there is there, and nothing half is left behind. */
    @Test
    void killedWhileItStartsOrBacksUpItHasEverything() throws Exception {
        Path data = filled("killed", 3);
        for (int kill = 0; kill < OTHER_KILLS; kill++) {
            ChildServer.killWhileStarting(data, 200 + RANDOM.nextInt(4_000));
            ChildServer server = ChildServer.start(data);
            LucidServer.Client administrator = server.administrator();
            Thread backup = new Thread(() -> {
                try {
                    administrator.get("/api/backup");
                } catch (UncheckedIOException e) {
                    // The server was killed.
                }
            });
            backup.start();
            Thread.sleep(RANDOM.nextInt(150));
            server.kill();
            backup.join();
            ChildServer again = ChildServer.start(data);
            try (Stream<Path> files = Files.list(data)) {
                assertThat(files.filter(file -> file.getFileName().toString().contains("backup.part")))
                        .isEmpty();
            }
            assertThat(again.analyst().get("/api/carriers").text()).contains("SAFE-0", "SAFE-1", "SAFE-2");
            again.kill();
        }
        assertThat(ChildServer.run("verify-record", "--data", data.toString()).output())
                .contains("The record is whole");
    }

    // ---- damage

    @Test
    void aDatabaseThatFellBackIsNotStartedUnlessSomebodyAcceptsIt() throws Exception {
        Path data = filled("fell", 3);
        Path before = folder.resolve("before.mv.db");
        Files.copy(data.resolve("lucid.mv.db"), before);
        ChildServer server = ChildServer.start(data);
        for (int i = 10; i < 14; i++) {
            server.machine().documents(Map.of("n.json", Examples.notice("SAFE-" + i, "1", "2.0")));
        }
        server.kill();
        Files.copy(before, data.resolve("lucid.mv.db"), StandardCopyOption.REPLACE_EXISTING);
        assertThat(ChildServer.run("verify-record", "--data", data.toString()).output())
                .containsPattern("The record ends at \\d+, \\d+ were written: restore a backup");
        assertThat(refusal(data))
                .containsPattern("the record ends at \\d+, \\d+ were written")
                .contains("Restore a backup")
                .contains("--accept-loss");
        ChildServer accepted = ChildServer.start(data, "--accept-loss");
        assertThat(accepted.analyst().get("/api/record").text())
                .contains("Started although something is missing: the record ends at");
        accepted.kill();
        ChildServer.start(data).kill();
    }

    /** Reports of hosts make no entry of the record. */
    @Test
    void aDatabaseThatLacksOnlyReportsIsNotStartedEither() throws Exception {
        Path data = filled("reports", 1);
        ChildServer server = ChildServer.start(data);
        LucidServer.Client host = server.machine();
        Path before = folder.resolve("before.mv.db");
        Files.copy(data.resolve("lucid.mv.db"), before);
        for (int i = 0; i < 3; i++) {
            assertThat(host.report(Examples.host(
                                            "lost-" + i,
                                            "kiosk",
                                            "1.0",
                                            Instant.now().minus(Duration.ofDays(91)))
                                    .getBytes(StandardCharsets.UTF_8))
                            .text())
                    .contains("ACCEPTED");
        }
        server.kill();
        Files.copy(before, data.resolve("lucid.mv.db"), StandardCopyOption.REPLACE_EXISTING);
        ChildServer.Ran verified = ChildServer.run("verify-record", "--data", data.toString());
        assertThat(verified.output())
                .containsPattern("But the last 3 of \\d+ writes are missing, such as reports of hosts");
        assertThat(verified.exit()).isEqualTo(1);
        assertThat(refusal(data))
                .contains("the last 3 of")
                .contains("Restore a backup")
                .contains("--accept-loss");
        ChildServer accepted = ChildServer.start(data, "--accept-loss");
        assertThat(accepted.analyst().get("/api/record").text())
                .contains("Started although something is missing: the last 3 of");
        accepted.kill();
        ChildServer.start(data).kill();
    }

    @Test
    void anEmptyOrMissingDatabaseIsNoNewInstance() throws Exception {
        Path data = filled("emptied", 1);
        Files.write(data.resolve("lucid.mv.db"), new byte[0]);
        assertThat(refusal(data)).contains("its database is empty").contains("Restore a backup");
        Files.delete(data.resolve("lucid.mv.db"));
        assertThat(refusal(data)).containsPattern("held \\d+ entries of the record, but its database is gone");
        assertThat(data.resolve("lucid.mv.db")).doesNotExist();
    }

    /** A damaged page may read as if the content had never been there. */
    @Test
    void aDocumentWhoseContentIsGoneIsDamageAndToldAsThat() throws Exception {
        Path data = filled("gone", 2);
        try (Connection database = DriverManager.getConnection("jdbc:h2:file:" + data.resolve("lucid"), "lucid", "");
                Statement statement = database.createStatement()) {
            assertThat(statement.executeUpdate("update document set content = null where name = 'n.json'"))
                    .isEqualTo(2);
        }
        assertThat(refusal(data)).contains("the content of document").containsIgnoringCase("restore a backup");
    }

    /**
     * Wherever a stretch of the file is lost: it is refused in a sentence, or it starts with everything that was
     * recorded.
     */
    @Test
    void whereverTheFileIsDamagedNothingIsLostInSilence() throws Exception {
        Path data = filled("whole", 40);
        long head = Long.parseLong(Files.readString(data.resolve("record-head"))
                .lines()
                .findFirst()
                .orElseThrow());
        long size = Files.size(data.resolve("lucid.mv.db"));
        for (int damage = 0; damage < DAMAGES; damage++) {
            Path damaged = folder.resolve("damaged-" + damage);
            copy(data, damaged);
            try (RandomAccessFile file =
                    new RandomAccessFile(damaged.resolve("lucid.mv.db").toFile(), "rw")) {
                file.seek(size * damage / DAMAGES / 4096 * 4096);
                file.write(new byte[4096 * (1 + RANDOM.nextInt(4))]);
            }
            ChildServer.Ran verified = ChildServer.run("verify-record", "--data", damaged.toString());
            assertThat(verified.output()).as("damage %d", damage).doesNotContain("\tat ");
            if (verified.exit() == 0) {
                assertThat(verified.output()).contains("The record is whole: " + head + " entries");
            }
            String started = refusal(damaged);
            if (!started.equals("started")) {
                assertThat(started).as("damage %d", damage).containsIgnoringCase("restore a backup");
            }
        }
    }

    @Test
    void aHeadThatWasAlteredIsNotBelieved() throws Exception {
        Path data = filled("head", 1);
        Path head = data.resolve("record-head");
        Files.writeString(head, Files.readString(head).replaceFirst("^\\d", "7"));
        assertThat(refusal(data)).contains("was altered or is damaged");
    }

    // ---- who may look

    @Test
    void whatIsKeptIsItsOwnersAlone() throws Exception {
        Path data = folder.resolve("private");
        Files.createDirectory(data);
        Files.setPosixFilePermissions(data, PosixFilePermissions.fromString("rwxr-xr-x"));
        ChildServer server = ChildServer.start(data);
        Path backup = folder.resolve("private.zip");
        assertThat(ChildServer.run("backup", backup.toString(), "--data", data.toString())
                        .output())
                .contains("and checked: its record is whole");
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(backup)))
                .isEqualTo("rw-------");
        server.kill();
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(data)))
                .isEqualTo("rwx------");
        try (Stream<Path> files = Files.list(data)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                        .as(file.toString())
                        .isEqualTo("rw-------");
            }
        }
        Path restored = folder.resolve("restored");
        ChildServer.run("restore", backup.toString(), "--data", restored.toString());
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(restored.resolve("lucid.mv.db"))))
                .isEqualTo("rw-------");
    }

    @Test
    void aDemoAndRealDataNeverShareAFolder() throws Exception {
        Path demo = filled("demo", 1);
        assertThat(ChildServer.run("run", "--data", demo.toString(), "--port", "0")
                        .output())
                .contains("is a demo's, whose passwords everybody knows");
        Files.delete(demo.resolve("demo"));
        assertThat(ChildServer.run("run", "--demo", "--data", demo.toString(), "--port", "0")
                        .output())
                .contains("is not a demo's");
        assertThat(ChildServer.run(
                                "run",
                                "--demo",
                                "--bind",
                                "0.0.0.0",
                                "--data",
                                folder.resolve("other").toString())
                        .output())
                .contains("listens on this machine only");
    }

    @Test
    void whatIsSaidOnTheCommandLineWinsOverTheEnvironment() throws Exception {
        Path data = folder.resolve("environment");
        ChildServer server = ChildServer.startWith(
                Map.of(
                        "SERVER_PORT",
                        "1",
                        "SERVER_ADDRESS",
                        "192.0.2.1",
                        "LUCID_DATA",
                        "/nowhere",
                        "LUCID_DEMO",
                        "false"),
                data);
        assertThat(server.analyst().get("/api/docket").status()).isEqualTo(200);
        server.kill();
    }

    // ---- room

    @Test
    void withoutAByteFreeItStartsAndReads() throws Exception {
        Path disk = Files.createDirectory(folder.resolve("disk"));
        Process mount = new ProcessBuilder("mount", "-t", "tmpfs", "-o", "size=64m", "tmpfs", disk.toString())
                .redirectErrorStream(true)
                .start();
        mount.getInputStream().readAllBytes();
        Assumptions.assumeTrue(mount.waitFor() == 0, "a small disk cannot be mounted here");
        try {
            Path data = Files.createDirectory(disk.resolve("data"));
            ChildServer server = ChildServer.start(data);
            server.populations(Examples.POPULATIONS);
            server.machine().documents(Map.of("n.json", Examples.notice("ROOM-1", "1", "2.0")));
            server.machine()
                    .report(Examples.host(
                                    "room-1", "kiosk", "1.0", Instant.now().minus(Duration.ofDays(91)))
                            .getBytes(StandardCharsets.UTF_8));
            Path filler = disk.resolve("filler");
            DurabilityTest.fill(filler, disk, 6 * 1024 * 1024);
            LucidServer.Answer backup = server.machine().get("/api/clock");
            assertThat(backup.status()).isEqualTo(200);
            assertThat(server.administrator().get("/api/backup").status())
                    .as("no room for a backup and its check")
                    .isEqualTo(507);
            server.kill();
            DurabilityTest.fill(filler, disk, 0);
            ChildServer full = ChildServer.start(data);
            assertThat(full.analyst().get("/api/carriers/ROOM-1/hosts").text()).contains("room-1");
            assertThat(full.analyst().get("/api/clock").json().path("refusal").asString())
                    .as("told before anybody has worded anything")
                    .contains("only reads");
            LucidServer.Answer refused =
                    full.machine().documents(Map.of("n.json", Examples.notice("ROOM-2", "1", "2.0")));
            assertThat(refused.status()).isEqualTo(507);
            assertThat(refused.text()).contains("only reads").contains("start the server again");
            full.kill();
            Files.delete(filler);
            ChildServer again = ChildServer.start(data);
            assertThat(again.machine()
                            .documents(Map.of("n.json", Examples.notice("ROOM-2", "1", "2.0")))
                            .text())
                    .contains("ACCEPTED");
            again.kill();
        } finally {
            new ProcessBuilder("umount", "-l", disk.toString()).start().waitFor();
        }
    }

    @Test
    void halfFilesOfAKillAreClearedAway() throws Exception {
        Path data = filled("half", 1);
        for (String name :
                List.of("backup.part.123", "lucid-upgrade.part.mv.db", "record-head.part", "backup-check.part.mv.db")) {
            Files.writeString(data.resolve(name), "half");
        }
        Path foreign = Files.writeString(data.resolve("notes.part"), "somebody's own");
        ChildServer.start(data).kill();
        try (Stream<Path> files = Files.list(data)) {
            assertThat(files.map(file -> file.getFileName().toString()).filter(name -> name.contains(".part")))
                    .containsExactly("notes.part");
        }
        assertThat(foreign).exists();
    }

    @Test
    void optionsThatCannotBeAreRefusedInWords() {
        assertThatThrownBy(() -> RunOptions.parse(List.of("--data", "a\0b")))
                .isInstanceOf(UsageException.class)
                .hasMessageContaining("--data takes a folder");
        assertThatThrownBy(() -> RunOptions.parse(List.of("--trusted-proxy", "proxy.example")))
                .isInstanceOf(UsageException.class)
                .hasMessageContaining("takes addresses");
    }
}
