package lucid.server.backup;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import lucid.server.LucidServer;
import lucid.server.audit.AuditLog;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** Backups that are taken by themselves. What looks every minute whether one is due is called here when it is time. */
class BackupScheduleTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static void hoursLater(int hours) {
        assertThat(SERVER.machine()
                        .post("/api/clock/advances", Map.of("hours", hours))
                        .status())
                .isEqualTo(200);
        SERVER.bean(Backups.class).takeWhatIsDue();
    }

    private static void set(int everyHours, int kept) {
        assertThat(SERVER.administrator()
                        .put("/api/backup-schedule", null, Map.of("everyHours", everyHours, "kept", kept))
                        .status())
                .isEqualTo(200);
    }

    private static JsonNode shown() {
        return SERVER.administrator().get("/api/backup-schedule").json();
    }

    private static List<String> files() {
        return shown().path("backups")
                .valueStream()
                .map(backup -> backup.path("file").asString())
                .toList();
    }

    @Test
    void oneIsTakenWhenItIsDueAndOnlySoManyAreKept() throws Exception {
        hoursLater(48);
        assertThat(files()).as("a demo takes none unless it is told to").isEmpty();
        set(24, 2);
        hoursLater(1);
        List<String> first = files();
        assertThat(first).hasSize(1);
        hoursLater(22);
        assertThat(files()).as("not due yet").isEqualTo(first);
        hoursLater(2);
        assertThat(files()).hasSize(2).contains(first.get(0));
        hoursLater(24);
        assertThat(files()).hasSize(2).doesNotContain(first.get(0)).isSortedAccordingTo((a, b) -> b.compareTo(a));
        for (String file : files()) {
            AuditLog.Verification found =
                    BackupFiles.check(Path.of(shown().path("folder").asString()).resolve(file));
            assertThat(found.broken()).isEmpty();
            assertThat(found.entries()).isPositive();
        }
        fails();
        set(0, 2);
        int kept = files().size();
        hoursLater(100);
        assertThat(files()).hasSize(kept);
    }

    /** Something stands where the folder must be. */
    private static void fails() throws Exception {
        Path folder = Path.of(shown().path("folder").asString());
        Path aside = folder.resolveSibling("aside");
        Files.move(folder, aside);
        Files.writeString(folder, "in the way");
        hoursLater(25);
        assertThat(shown().path("failure").asString()).contains("cannot be made: something else stands there");
        assertThat(shown().path("failed").asString()).isNotEmpty();
        Files.delete(folder);
        Files.move(aside, folder);
        SERVER.bean(Backups.class).takeWhatIsDue();
        assertThat(files()).as("it waits an hour before it tries again").hasSize(2);
        hoursLater(1);
        assertThat(files()).hasSize(2);
        assertThat(shown().path("failure").isMissingNode()).isTrue();
    }
}
