package lucid.server.storage;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import lucid.formats.signature.EdwardsKeys;
import lucid.server.command.UsageException;

/**
 * Number and hash of the last entry of the record, and how many writes there were, kept beside the database. A damaged
 * database can fall back to an older state of itself in which the chain of hashes is whole; only something that stands
 * elsewhere shows that there was more. The file is signed (Ed25519, RFC 8032) with a key of the instance, so that it is
 * not altered by accident or by who lacks the key; who has the whole folder can make both anew, against which helps a
 * copy of the head elsewhere.
 *
 * <p>It is written after each commit, also of one that makes no entry, as the reports of hosts: a kill between the two
 * leaves a head that is behind, which is no loss.
 */
public final class AuditHead {

    private static final String FILE = "record-head";
    private static final String KEY = "record-key";

    private final Path folder;
    /** Read or made once; null before. */
    private EdwardsKeys key;

    public AuditHead(Path folder) {
        this.folder = folder;
    }

    /**
     * @param number of the entry, from 1; 0 before the first
     * @param writes committed so far, as the database counts them under {@link Settings#WRITES}; 0 where that is not
     *     known
     */
    public record Head(long number, String hash, long writes) {
        String signed() {
            return String.format("%019d\n%s\n%019d\n", number, hash, writes);
        }
    }

    /** Keeps a head in the place of the one before. */
    public synchronized void keep(Head head) throws IOException {
        byte[] signature = key().sign(head.signed().getBytes(StandardCharsets.UTF_8));
        Path file = folder.resolve(FILE);
        if (!Files.exists(file)) {
            writePrivately(file, "");
        }
        // In one write, of one length, within one block: a kill leaves the one before or this one. The disk gets it
        // when
        // it gets the database's.
        try (FileChannel channel = FileChannel.open(file, StandardOpenOption.WRITE)) {
            channel.write(
                    StandardCharsets.US_ASCII.encode(
                            head.signed() + Base64.getEncoder().encodeToString(signature) + "\n"),
                    0);
        }
    }

    /**
     * The head that was kept last, if one was.
     *
     * @throws UsageException if it was altered
     */
    public Optional<Head> read() throws IOException {
        if (!Files.exists(folder.resolve(FILE)) || Files.size(folder.resolve(FILE)) == 0) {
            return Optional.empty();
        }
        List<String> lines = Files.readAllLines(folder.resolve(FILE));
        try {
            // One of an older version did not count writes.
            boolean counted = lines.size() > 3;
            Head head =
                    new Head(Long.parseLong(lines.get(0)), lines.get(1), counted ? Long.parseLong(lines.get(2)) : 0);
            String signed = String.join("\n", lines.subList(0, lines.size() - 1)) + "\n";
            byte[] signature = Base64.getDecoder().decode(lines.get(lines.size() - 1));
            if (key().verify(signed.getBytes(StandardCharsets.UTF_8), signature)) {
                return Optional.of(head);
            }
        } catch (RuntimeException e) {
            throw altered(e);
        }
        throw altered(null);
    }

    private UsageException altered(Exception e) {
        UsageException altered = new UsageException(
                "the file " + folder.resolve(FILE)
                        + ", which says how far the record goes, was altered or is damaged. Restore a backup into a new folder, "
                        + "or remove the file if you know why it changed: then the record is taken as it stands in the database");
        altered.initCause(e);
        return altered;
    }

    /**
     * What of the record is missing in the database; empty if it holds at least what is written of it here.
     *
     * @throws UsageException if the database cannot be read
     */
    public Optional<String> loss(DataFolder of) throws IOException {
        Optional<Head> kept = read();
        try (Connection database = DriverManager.getConnection(of.url(";ACCESS_MODE_DATA=r"), "lucid", "")) {
            long last = number(database);
            if (kept.isEmpty()) {
                return Optional.empty();
            }
            Head head = kept.get();
            if (last < head.number()) {
                return Optional.of(
                        "the record ends at " + last + ", " + head.number()
                                + " were written: the database has fallen back to an older state, and everything else that was stored since is missing too");
            }
            if (head.number() > 0
                    && hash(database, head.number()).filter(head.hash()::equals).isEmpty()) {
                return Optional.of("entry " + head.number()
                        + " of the record is not the one that was written: its hash is another");
            }
            long writes = head.writes() > 0 ? writes(database) : 0;
            return writes >= head.writes()
                    ? Optional.empty()
                    : Optional.of(
                            "the last " + (head.writes() - writes) + " of " + head.writes()
                                    + " writes are missing, such as reports of hosts: the database has fallen back to an older state");
        } catch (SQLException e) {
            throw SchemaUpgrade.damaged(of, e);
        }
    }

    private static long number(Connection database) throws SQLException {
        try (PreparedStatement statement =
                        database.prepareStatement("select coalesce(max(number), 0) from record_entry");
                ResultSet row = statement.executeQuery()) {
            row.next();
            return row.getLong(1);
        }
    }

    /** As many writes as a database counted; it has the table from schema 5 on. */
    private static long writes(Connection database) throws SQLException {
        try (PreparedStatement statement = database.prepareStatement("select content from setting where name = ?")) {
            statement.setString(1, Settings.WRITES);
            try (ResultSet row = statement.executeQuery()) {
                return row.next() ? Long.parseLong(row.getString(1)) : 0;
            }
        }
    }

    private static Optional<String> hash(Connection database, long number) throws SQLException {
        try (PreparedStatement statement =
                database.prepareStatement("select hash from record_entry where number = ?")) {
            statement.setLong(1, number);
            try (ResultSet row = statement.executeQuery()) {
                return row.next() ? Optional.ofNullable(row.getString(1)) : Optional.empty();
            }
        }
    }

    /** The key pair of this instance, made when it is first needed. */
    private EdwardsKeys key() throws IOException {
        if (key == null) {
            key = storedKey();
        }
        return key;
    }

    private EdwardsKeys storedKey() throws IOException {
        Path file = folder.resolve(KEY);
        if (Files.exists(file)) {
            List<String> lines = Files.readAllLines(file);
            return EdwardsKeys.read(lines.get(0), lines.get(1));
        }
        EdwardsKeys made = EdwardsKeys.make();
        Path part = folder.resolve(KEY + ".part");
        writePrivately(part, made.secretEncoded() + "\n" + made.openEncoded() + "\n");
        DataFolder.replace(part, file);
        return made;
    }

    private static void writePrivately(Path file, String text) throws IOException {
        Files.deleteIfExists(file);
        FileAttribute<?>[] attributes =
                file.getFileSystem().supportedFileAttributeViews().contains("posix")
                        ? new FileAttribute<?>[] {
                            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"))
                        }
                        : new FileAttribute<?>[0];
        Files.createFile(file, attributes);
        Files.writeString(file, text);
    }
}
