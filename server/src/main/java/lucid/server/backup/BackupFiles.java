package lucid.server.backup;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import lucid.server.audit.AuditLog;
import org.h2.jdbcx.JdbcDataSource;

/**
 * Backups as files: a ZIP archive that holds the database. One counts only after it was opened again and its record
 * found whole.
 */
final class BackupFiles {

    static final String DATABASE = "lucid.mv.db";

    private BackupFiles() {}

    /** Writes a backup to a file that is replaced, readable by its owner alone. */
    static void write(Connection database, Path file) throws IOException, SQLException {
        Files.deleteIfExists(file);
        if (file.getFileSystem().supportedFileAttributeViews().contains("posix")) {
            Files.createFile(file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        }
        try (PreparedStatement backup = database.prepareStatement("backup to ?")) {
            backup.setString(1, file.toString());
            backup.execute();
        }
    }

    /**
     * Opens a backup beside itself and goes through its record.
     *
     * @throws IOException if it is no backup, or cannot be opened
     */
    static AuditLog.Verification check(Path file) throws IOException {
        Path part = file.resolveSibling("backup-check.part");
        Path database = file.resolveSibling("backup-check.part.mv.db");
        try {
            Files.deleteIfExists(database);
            extract(file, database);
            return verify(part.toAbsolutePath());
        } catch (RuntimeException e) {
            throw new IOException("it was written, but cannot be opened again: " + e.getMessage(), e);
        } finally {
            Files.deleteIfExists(database);
        }
    }

    static void extract(Path file, Path database) throws IOException {
        try (ZipInputStream in = new ZipInputStream(Files.newInputStream(file))) {
            ZipEntry entry = in.getNextEntry();
            while (entry != null && !entry.getName().equals(DATABASE)) {
                entry = in.getNextEntry();
            }
            if (entry == null) {
                throw new NoBackupException(file + " is no backup of Lucid Verdict");
            }
            copyPrivately(in, database);
        }
    }

    /** The file is nothing that was written as a backup. */
    static final class NoBackupException extends IOException {
        NoBackupException(String message) {
            super(message);
        }
    }

    static void copyPrivately(InputStream in, Path file) throws IOException {
        if (file.getFileSystem().supportedFileAttributeViews().contains("posix")) {
            Files.createFile(file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        }
        try (var out = Files.newOutputStream(file)) {
            in.transferTo(out);
        }
    }

    /** @param database path of the database without its ending */
    static AuditLog.Verification verify(Path database) {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:file:" + database + ";IFEXISTS=TRUE;ACCESS_MODE_DATA=r;DB_CLOSE_ON_EXIT=FALSE");
        source.setUser("lucid");
        source.setPassword("");
        return AuditLog.verify(source);
    }
}
