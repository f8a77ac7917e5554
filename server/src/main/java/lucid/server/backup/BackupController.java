package lucid.server.backup;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import lucid.server.record.RecordChain;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.dao.DataAccessException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;

/** A copy of everything that is stored, taken while the server runs, and whether the record is whole. */
@RestController
@RequestMapping("/api")
class BackupController {

    private final JdbcTemplate database;
    private final RecordChain record;
    private final Path data;

    BackupController(JdbcTemplate database, RecordChain record, @Value("${lucid.data}") Path data) {
        this.database = database;
        this.record = record;
        this.data = data;
    }

    /** A ZIP file with the database as it is at this moment; {@code lucid restore} makes a data folder of it. */
    @GetMapping(path = "/backup", produces = "application/zip")
    ResponseEntity<StreamingResponseBody> backup() throws IOException {
        Path file = Files.createTempFile(data, "backup", ".zip");
        try {
            database.update("backup to ?", file.toString());
        } catch (DataAccessException e) {
            Files.deleteIfExists(file);
            throw e;
        }
        StreamingResponseBody body = out -> {
            try (InputStream in = Files.newInputStream(file)) {
                in.transferTo(out);
            } finally {
                Files.deleteIfExists(file);
            }
        };
        return ResponseEntity.ok().contentType(MediaType.parseMediaType("application/zip")).contentLength(Files.size(file))
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"lucid-backup.zip\"").body(body);
    }

    /** Goes through the whole hash chain of the record. */
    @GetMapping("/record/verification")
    RecordChain.Verification verify() {
        return record.verify();
    }
}
