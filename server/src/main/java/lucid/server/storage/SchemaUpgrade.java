package lucid.server.storage;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Arrays;
import lucid.server.command.UsageException;
import org.flywaydb.core.Flyway;
import org.flywaydb.core.api.FlywayException;
import org.flywaydb.core.api.MigrationInfo;
import org.flywaydb.core.api.MigrationState;
import org.flywaydb.core.api.logging.Log;
import org.flywaydb.core.api.logging.LogCreator;
import org.flywaydb.core.api.migration.JavaMigration;

/**
 * Brings the schema up to date. Changes of tables cannot be undone in this database, so they are made on a copy, which
 * takes the place of the old file when it is whole: killed at any moment, the folder holds the one or the other, and
 * the next start begins anew. A new instance is made the same way.
 */
final class SchemaUpgrade {

    private static final String COPY = "lucid-upgrade.part";

    private final DataFolder folder;
    private final JavaMigration[] migrations;

    /** @param migrations those that are not written in SQL */
    SchemaUpgrade(DataFolder folder, JavaMigration... migrations) {
        this.folder = folder;
        this.migrations = migrations;
    }

    /** @throws UsageException if the data is of a newer version, or damaged, or there is no room for the copy */
    void run(boolean readOnly) throws IOException {
        if (folder.hasDatabase() && !isBehind()) {
            return;
        }
        if (readOnly) {
            throw new UsageException("the data of " + folder.path()
                    + " must be brought up to date, for which the disk has no room; make some and start again");
        }
        Path copy = folder.path().resolve(COPY + ".mv.db");
        Files.deleteIfExists(copy);
        if (folder.hasDatabase()) {
            System.out.println("The data in " + folder.path() + " is brought up to date on a copy ...");
            requireRoom(Files.size(folder.database()));
            Files.copy(folder.database(), copy);
        }
        String url = DataFolder.url(folder.path().resolve(COPY), "");
        try (Connection held = DriverManager.getConnection(url, "lucid", "")) {
            if (copy.getFileSystem().supportedFileAttributeViews().contains("posix")) {
                Files.setPosixFilePermissions(copy, PosixFilePermissions.fromString("rw-------"));
            }
            flyway(url).migrate();
            try (Statement statement = held.createStatement()) {
                statement.execute("shutdown");
            }
        } catch (SQLException | FlywayException e) {
            Files.deleteIfExists(copy);
            throw new UsageException("the data of " + folder.path() + " could not be brought up to date ("
                    + firstLine(e) + "). It is as it was; start the version that wrote it");
        }
        DataFolder.replace(copy, folder.database());
    }

    private void requireRoom(long bytes) throws IOException {
        if (Files.getFileStore(folder.path()).getUsableSpace() < bytes + bytes / 4) {
            throw new UsageException("the data of " + folder.path()
                    + " must be brought up to date on a copy, for which the disk has no room (" + bytes / 1024 / 1024
                    + " MB and a quarter more); make some and start again");
        }
    }

    /** The database stays open while it is looked at, instead of being opened for each question. */
    @SuppressWarnings("try")
    private boolean isBehind() {
        String url = folder.url(";ACCESS_MODE_DATA=r");
        try (Connection held = DriverManager.getConnection(url, "lucid", "")) {
            MigrationInfo[] all = flyway(url).info().all();
            if (any(all, MigrationState.FAILED)) {
                throw new UsageException(
                        "the data of " + folder.path()
                                + " was left half changed when an older version was stopped while it brought it up to date. "
                                + "Restore the backup that was taken before into a new folder with './lucid restore FILE --data FOLDER'");
            }
            boolean foreign = any(all, MigrationState.FUTURE_SUCCESS)
                    || any(all, MigrationState.MISSING_SUCCESS)
                    || any(all, MigrationState.FUTURE_FAILED);
            if (foreign
                    || Arrays.stream(all)
                            .anyMatch(
                                    info -> info.getState() != MigrationState.PENDING && !info.isChecksumMatching())) {
                throw new UsageException("the data of " + folder.path()
                        + " was written by a newer version of Lucid Verdict, or its tables were changed by hand. Nothing was changed now. "
                        + "Start the version that wrote it, or restore a backup of this version into a new folder");
            }
            return any(all, MigrationState.PENDING);
        } catch (SQLException | FlywayException e) {
            throw damaged(folder, e);
        }
    }

    /** Says what to do about a file that cannot be read; what the database says goes to a file beside it. */
    static UsageException damaged(DataFolder folder, Exception e) {
        Path log = folder.path().resolve("damage.log");
        StringWriter trace = new StringWriter();
        e.printStackTrace(new PrintWriter(trace));
        try {
            Files.writeString(log, trace.toString());
        } catch (IOException cannotBeKept) {
            e.addSuppressed(cannotBeKept);
        }
        return new UsageException(
                "the database " + folder.database() + " is damaged and cannot be read (" + firstLine(e) + "; more in "
                        + log.getFileName()
                        + "). Nothing was changed. Restore a backup into a new folder with './lucid restore FILE --data FOLDER'");
    }

    private static String firstLine(Exception e) {
        Throwable cause = e;
        while (cause.getCause() != null) {
            cause = cause.getCause();
        }
        return String.valueOf(cause.getMessage()).lines().findFirst().orElse("").replaceFirst("[;.]?\\s*$", "");
    }

    private static boolean any(MigrationInfo[] all, MigrationState state) {
        return Arrays.stream(all).anyMatch(info -> info.getState() == state);
    }

    /** Migrations that this version does not know are those of a newer one, whose data it must not touch. */
    private Flyway flyway(String url) {
        return Flyway.configure()
                .dataSource(url, "lucid", "")
                .ignoreMigrationPatterns(new String[0])
                .javaMigrations(migrations)
                .loggers(Silent.class.getName())
                .load();
    }

    /** What goes wrong is thrown; what goes well nobody needs to read. */
    public static final class Silent implements LogCreator {
        @Override
        public Log createLogger(Class<?> of) {
            return new Log() {
                @Override
                public void debug(String message) {}

                @Override
                public void info(String message) {}

                @Override
                public void warn(String message) {}

                @Override
                public void error(String message) {}

                @Override
                public void error(String message, Exception e) {}

                @Override
                public void notice(String message) {}
            };
        }
    }
}
