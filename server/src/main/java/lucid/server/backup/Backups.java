package lucid.server.backup;

import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import javax.sql.DataSource;
import lucid.server.audit.AuditLog;
import lucid.server.snapshot.Disk;
import lucid.server.storage.DataFolder;
import lucid.server.storage.Settings;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Takes backups while the server runs: when somebody asks, and by the schedule. Each is checked before it counts; what
 * a kill left half is cleared away at the next start.
 */
@Component
class Backups {

    private static final Logger LOG = LoggerFactory.getLogger(Backups.class);
    private static final String SETTING = "backup-schedule";
    private static final DateTimeFormatter NAME =
            DateTimeFormatter.ofPattern("'lucid-'uuuuMMdd'T'HHmmss'Z.zip'").withZone(ZoneOffset.UTC);

    /**
     * When backups are taken by themselves.
     *
     * @param everyHours from 1 to 744; 0: never
     * @param kept how many are kept, from 1 to 100; older ones are deleted
     */
    record Schedule(int everyHours, int kept) {}

    /** @param entries of the record that it was found to hold whole */
    record Taken(Path file, long bytes, long entries) {}

    /** The last backup of the schedule that failed, and why. */
    record Failure(Instant at, String reason) {}

    private final DataSource database;
    private final DataFolder folder;
    private final Disk disk;
    private final Settings settings;
    private final JsonMapper json;
    private final Clock clock;
    private final Schedule otherwise;
    private volatile Failure failure;

    Backups(
            DataSource database,
            DataFolder folder,
            Disk disk,
            Settings settings,
            JsonMapper json,
            Clock clock,
            @Value("${lucid.demo:false}") boolean demo) {
        this.database = database;
        this.folder = folder;
        this.disk = disk;
        this.settings = settings;
        this.json = json;
        this.clock = clock;
        // A demo's data goes with it.
        this.otherwise = demo ? new Schedule(0, 3) : new Schedule(24, 3);
    }

    Schedule schedule() {
        return settings.find(SETTING)
                .map(text -> json.readValue(text, Schedule.class))
                .orElse(otherwise);
    }

    /** Within {@link lucid.server.snapshot.SnapshotStore#write}. */
    void keep(Schedule schedule) {
        settings.keep(SETTING, json.writeValueAsString(schedule));
    }

    Optional<Failure> failure() {
        return Optional.ofNullable(failure);
    }

    Path kept() {
        return folder.path().resolve("backups");
    }

    /** Those that are kept by the schedule, the newest first. */
    List<Path> all() throws IOException {
        List<Path> all = new ArrayList<>();
        if (Files.isDirectory(kept())) {
            try (DirectoryStream<Path> files = Files.newDirectoryStream(kept(), "lucid-*.zip")) {
                files.forEach(all::add);
            }
        }
        Collections.sort(all, Collections.reverseOrder());
        return all;
    }

    /**
     * A backup in a file of its own, which the caller deletes.
     *
     * @throws ProblemException 507 if there is no room for it, and for a copy by which it is checked
     */
    synchronized Taken take() throws IOException {
        long size = Files.size(folder.database());
        disk.requireRoomForCopies(2 * size);
        Path file = folder.path().resolve("backup.part." + System.nanoTime());
        try {
            try (Connection connection = database.getConnection()) {
                BackupFiles.write(connection, file);
            }
            AuditLog.Verification found = BackupFiles.check(file);
            if (found.broken().isPresent()) {
                throw new IOException(
                        "the record in it is broken at entry " + found.broken().get());
            }
            return new Taken(file, Files.size(file), found.entries());
        } catch (SQLException | IOException e) {
            Files.deleteIfExists(file);
            disk.requireRoom(0);
            throw new IOException("the backup failed: " + e.getMessage(), e);
        }
    }

    @Scheduled(initialDelay = 60_000, fixedDelay = 60_000)
    synchronized void takeWhatIsDue() {
        if (disk.isReadOnly()) {
            return;
        }
        try {
            Schedule schedule = schedule();
            Instant now = clock.instant();
            List<Path> before = all();
            boolean due = schedule.everyHours() > 0
                    && (before.isEmpty()
                            || !taken(before.get(0))
                                    .plus(Duration.ofHours(schedule.everyHours()))
                                    .isAfter(now));
            boolean waits =
                    failure != null && failure.at().plus(Duration.ofHours(1)).isAfter(now);
            if (due && !waits) {
                takeKept(now, schedule);
            }
        } catch (IOException | RuntimeException e) {
            failure = new Failure(clock.instant(), e.getMessage());
            LOG.error("The scheduled backup failed: {}", e.getMessage());
        }
    }

    /** Takes a backup now that is kept as those of the schedule are. */
    void takeKept(Instant now, Schedule schedule) throws IOException {
        try {
            Files.createDirectories(kept());
        } catch (IOException e) {
            throw new IOException(
                    "the folder " + kept()
                            + " cannot be made: something else stands there, or nothing may be written beside the data",
                    e);
        }
        if (kept().getFileSystem().supportedFileAttributeViews().contains("posix")) {
            Files.setPosixFilePermissions(kept(), PosixFilePermissions.fromString("rwx------"));
        }
        Taken taken = take();
        Files.move(taken.file(), kept().resolve(NAME.format(now)), StandardCopyOption.ATOMIC_MOVE);
        failure = null;
        List<Path> all = all();
        for (Path old : all.subList(Math.min(schedule.kept(), all.size()), all.size())) {
            Files.deleteIfExists(old);
        }
    }

    static Instant taken(Path file) {
        return Instant.from(NAME.parse(file.getFileName().toString()));
    }
}
