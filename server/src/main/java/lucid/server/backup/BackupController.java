package lucid.server.backup;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.Principal;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.AuditLog;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;

/** A copy of everything that is stored, taken while the server runs, and whether the record is whole. */
@RestController
@RequestMapping("/api")
class BackupController {

    private static final int LONGEST_HOURS = 744;
    private static final int MOST_KEPT = 100;

    private final Backups backups;
    private final AuditLog record;
    private final SnapshotStore store;

    BackupController(Backups backups, AuditLog record, SnapshotStore store) {
        this.backups = backups;
        this.record = record;
        this.store = store;
    }

    /**
     * A ZIP file with the database as it is at this moment, checked; {@code lucid restore} makes a data folder of it.
     */
    @GetMapping(path = "/backup", produces = "application/zip")
    ResponseEntity<StreamingResponseBody> backup() {
        Backups.Taken taken;
        try {
            taken = backups.take();
        } catch (IOException e) {
            throw new ProblemException(HttpStatus.INTERNAL_SERVER_ERROR, "", e.getMessage());
        }
        StreamingResponseBody body = out -> {
            try (InputStream in = Files.newInputStream(taken.file())) {
                in.transferTo(out);
            } finally {
                Files.deleteIfExists(taken.file());
            }
        };
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType("application/zip"))
                .contentLength(taken.bytes())
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"lucid-backup.zip\"")
                .body(body);
    }

    record BackupView(String file, Instant taken, long bytes) {}

    /**
     * When backups are taken by themselves, and which there are.
     *
     * @param everyHours 0: never
     * @param folder where they lie, at the server
     * @param failure why the last one failed, if it did
     */
    record ScheduleView(
            int everyHours,
            int kept,
            String folder,
            List<BackupView> backups,
            Optional<String> failure,
            Optional<Instant> failed) {}

    @GetMapping("/backup-schedule")
    ScheduleView schedule() {
        Backups.Schedule schedule = backups.schedule();
        try {
            return new ScheduleView(
                    schedule.everyHours(),
                    schedule.kept(),
                    backups.kept().toString(),
                    backups.all().stream().map(BackupController::view).toList(),
                    backups.failure().map(Backups.Failure::reason),
                    backups.failure().map(Backups.Failure::at));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static BackupView view(Path file) {
        try {
            return new BackupView(file.getFileName().toString(), Backups.taken(file), Files.size(file));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @PutMapping("/backup-schedule")
    ScheduleView change(@RequestBody Backups.Schedule schedule, Principal who) {
        if (schedule.everyHours() < 0 || schedule.everyHours() > LONGEST_HOURS) {
            throw ProblemException.badField("everyHours", "every 1 to " + LONGEST_HOURS + " hours, or 0 for never");
        }
        if (schedule.kept() < 1 || schedule.kept() > MOST_KEPT) {
            throw ProblemException.badField("kept", "1 to " + MOST_KEPT + " backups are kept");
        }
        store.write(snapshot -> {
            backups.keep(schedule);
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    who,
                    schedule.everyHours() == 0
                            ? "No backups are taken by themselves any more."
                            : "Backups are taken every " + schedule.everyHours() + " hours, and " + schedule.kept()
                                    + " are kept.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
        return schedule();
    }

    /** Goes through the whole hash chain of the record. */
    @GetMapping("/record/verification")
    AuditLog.Verification verify() {
        return record.verify();
    }
}
