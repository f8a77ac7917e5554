package lucid.server.storage;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Optional;
import lucid.server.command.UsageException;
import org.flywaydb.core.api.migration.JavaMigration;

/**
 * The folder in which an instance keeps everything. Before a server starts on it, it is made its owner's alone, what a
 * kill left behind is cleared away, the schema is brought up to date on a copy, and the record is compared with what is
 * written of it beside the database: a folder that lost something is not started as if nothing had happened.
 */
public final class DataFolder {

    private static final String DATABASE = "lucid.mv.db";
    /** Marks the folder of a demo, whose users have a password that everybody knows. */
    private static final String DEMO = "demo";

    private static final int DEMO_DAYS = 90;
    /** Files of ours, by their names: whoever names a folder with others in it keeps those as they are. */
    private static final String OWN = "{lucid.*,record-*,in-use,demo,address,*-token,damage.log}";

    private static final String HALF = "{lucid*,record-*,address,*-token,backup*}.part*";
    /** Bytes below which the database is opened for reading only. */
    private static final long LEAST_ROOM = 1024 * 1024;

    /** Held until the process ends, so that two servers never share a folder. */
    private static FileLock lock;

    private final Path path;

    public DataFolder(Path path) {
        this.path = path.toAbsolutePath().normalize();
    }

    public Path path() {
        return path;
    }

    public Path database() {
        return path.resolve(DATABASE);
    }

    /** True if it holds a database, whole or not. */
    public boolean hasDatabase() {
        return Files.isRegularFile(database());
    }

    /**
     * Holds the folder until this process ends, so that two never write to it.
     *
     * @return false if another process holds it
     * @throws UsageException if it cannot be written
     */
    public boolean lock() {
        try {
            Files.createDirectories(path);
            lock = FileChannel.open(path.resolve("in-use"), StandardOpenOption.CREATE, StandardOpenOption.WRITE)
                    .tryLock();
            return lock != null;
        } catch (OverlappingFileLockException e) {
            return false;
        } catch (IOException e) {
            throw new UsageException("the data folder " + path + " cannot be written: " + e.getMessage());
        }
    }

    /**
     * What a start found.
     *
     * @param readOnly true if there is no room on the disk to write anything
     * @param loss what is missing and was accepted as lost, in words
     */
    public record Prepared(boolean readOnly, Optional<String> loss) {}

    /**
     * Makes the folder ready for a server.
     *
     * @param acceptLoss start although entries of the record are missing that were written once
     * @param migrations those that are not written in SQL
     * @throws UsageException in one sentence that says what to do
     */
    public Prepared prepare(boolean demo, boolean acceptLoss, JavaMigration... migrations) {
        try {
            Files.createDirectories(path);
            requireSameKind(demo);
            makePrivate();
            clearLeftovers();
            requireNotEmptied();
            boolean readOnly = hasDatabase() && Files.getFileStore(path).getUsableSpace() < LEAST_ROOM;
            new SchemaUpgrade(this, migrations).run(readOnly);
            Optional<String> loss = new AuditHead(path).loss(this);
            if (loss.isPresent() && !acceptLoss) {
                throw new UsageException(
                        loss.get()
                                + ". Restore a backup into a new folder with './lucid restore FILE --data FOLDER'; --accept-loss starts with what is left");
            }
            makePrivate();
            return new Prepared(readOnly, loss);
        } catch (IOException e) {
            throw new UsageException("the data folder " + path + " cannot be made ready: " + e.getMessage());
        }
    }

    /**
     * How many days in the past the clock of a demo with these data begins: 90, unless its mark says another number.
     * Data of a past day are so read as on that day.
     */
    public int demoDaysBack() {
        try {
            String mark = Files.readString(path.resolve(DEMO)).strip();
            return mark.matches("\\d{1,5}") ? Integer.parseInt(mark) : DEMO_DAYS;
        } catch (IOException e) {
            return DEMO_DAYS;
        }
    }

    /**
     * The demo's passwords stand in the README, so its users must never come upon real data, nor the other way round.
     */
    private void requireSameKind(boolean demo) throws IOException {
        boolean isDemo = Files.exists(path.resolve(DEMO));
        if (demo && !isDemo) {
            if (hasDatabase()) {
                throw new UsageException("the data folder " + path
                        + " is not a demo's; --demo would let its well-known users in. Choose another with --data");
            }
            Files.createFile(path.resolve(DEMO));
        } else if (!demo && isDemo) {
            throw new UsageException("the data folder " + path
                    + " is a demo's, whose passwords everybody knows. Choose another with --data");
        }
    }

    /** Lets nobody but its owner into the folder and at the files that are ours. */
    public void makePrivate() throws IOException {
        if (!Files.getFileStore(path).supportsFileAttributeView("posix")) {
            return;
        }
        for (Path folder : List.of(path, path.resolve("uploads"), path.resolve("sessions"), path.resolve("backups"))) {
            if (Files.isDirectory(folder)) {
                Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwx------"));
            }
        }
        try (DirectoryStream<Path> files = Files.newDirectoryStream(path, OWN)) {
            for (Path file : files) {
                Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
            }
        }
    }

    /** Half files of what a kill cut off: each is made anew by who needs it. */
    private void clearLeftovers() throws IOException {
        try (DirectoryStream<Path> files = Files.newDirectoryStream(path, HALF)) {
            for (Path file : files) {
                Files.deleteIfExists(file);
            }
        }
        Files.createDirectories(path.resolve("sessions"));
        Path uploads = path.resolve("uploads");
        if (Files.isDirectory(uploads)) {
            try (DirectoryStream<Path> files = Files.newDirectoryStream(uploads)) {
                for (Path file : files) {
                    Files.deleteIfExists(file);
                }
            }
        } else {
            Files.createDirectory(uploads);
        }
    }

    private void requireNotEmptied() throws IOException {
        boolean there = hasDatabase() && Files.size(database()) > 0;
        Optional<AuditHead.Head> head = new AuditHead(path).read();
        if (!there && (head.isPresent() || hasDatabase())) {
            throw new UsageException(
                    "the data folder " + path + " held "
                            + head.map(h -> h.number() + " entries of the record")
                                    .orElse("a database") + ", but its database "
                            + (hasDatabase() ? "is empty" : "is gone")
                            + ". Nothing was changed. Restore a backup into a new folder with './lucid restore FILE --data FOLDER'");
        }
    }

    /** Address of the database for a program that looks into it while no server runs. */
    public String url(String more) {
        return url(path.resolve("lucid"), more);
    }

    /** @param file without its ending {@code .mv.db} */
    static String url(Path file, String more) {
        return "jdbc:h2:file:" + file + ";DB_CLOSE_ON_EXIT=FALSE" + more;
    }

    /** Puts a whole file in the place of another, so that a kill leaves the one or the other. */
    static void replace(Path whole, Path file) throws IOException {
        try (FileChannel channel = FileChannel.open(whole, StandardOpenOption.WRITE)) {
            channel.force(true);
        }
        Files.move(whole, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        try (FileChannel folder = FileChannel.open(file.toAbsolutePath().getParent(), StandardOpenOption.READ)) {
            folder.force(true);
        }
    }
}
