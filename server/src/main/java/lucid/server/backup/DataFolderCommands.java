package lucid.server.backup;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.server.audit.AuditLog;
import lucid.server.command.CommandWords;
import lucid.server.command.UsageException;
import lucid.server.storage.AuditHead;
import lucid.server.storage.DataFolder;
import org.apache.ibatis.exceptions.PersistenceException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * {@code lucid backup}, {@code restore} and {@code verify-record}. A folder that a running server holds is asked
 * through that server; one at rest is opened itself.
 */
public final class DataFolderCommands {

    private DataFolderCommands() {}

    /** @param file for backup and restore */
    private record Words(Path data, Optional<Path> file) {

        static Words parse(String command, List<String> words, boolean wantsFile) {
            CommandWords said = new CommandWords.Syntax(command, (wantsFile ? "a FILE and " : "") + "--data FOLDER")
                    .value("data")
                    .parse(words);
            return new Words(
                    said.data().toAbsolutePath().normalize(), wantsFile ? Optional.of(said.onlyFile()) : none(said));
        }

        private static Optional<Path> none(CommandWords said) {
            said.requireNoFiles();
            return Optional.empty();
        }

        void requireDatabase() {
            if (!new DataFolder(data).hasDatabase()) {
                throw new UsageException("there is no data in " + data + "; name the folder with --data");
            }
        }
    }

    /** Writes a backup to a file that does not exist yet. */
    public static int backup(List<String> arguments) {
        Words words = Words.parse("backup", arguments, true);
        words.requireDatabase();
        Path file = words.file().orElseThrow().toAbsolutePath();
        if (Files.exists(file)) {
            throw new UsageException(file + " exists already; nothing was written");
        }
        Path part = file.resolveSibling(file.getFileName() + ".part");
        try {
            if (new DataFolder(words.data()).lock()) {
                try (Connection database = open(words.data())) {
                    BackupFiles.write(database, part);
                }
            } else {
                Files.deleteIfExists(part);
                try (InputStream body = ask(words.data(), "/api/backup")) {
                    BackupFiles.copyPrivately(body, part);
                }
            }
            AuditLog.Verification found = BackupFiles.check(part);
            if (found.broken().isPresent()) {
                throw new IOException(
                        "the record in it is broken at entry " + found.broken().get());
            }
            Files.move(part, file);
            System.out.println("Backup of " + words.data() + " written to " + file + " (" + Files.size(file)
                    + " bytes), and checked: its record is whole, " + found.entries() + " entries");
            return 0;
        } catch (IOException | SQLException e) {
            deleteQuietly(part);
            throw new UsageException("the backup failed: " + e.getMessage());
        }
    }

    /** Makes a data folder of a backup; a folder with anything in it is left alone. */
    public static int restore(List<String> arguments) {
        Words words = Words.parse("restore", arguments, true);
        Path file = words.file().orElseThrow();
        try {
            Files.createDirectories(words.data());
            try (Stream<Path> there = Files.list(words.data())) {
                if (there.findAny().isPresent()) {
                    throw new UsageException(words.data() + " is not empty; restore into a new folder with --data");
                }
            }
            DataFolder folder = new DataFolder(words.data());
            Path part = words.data().resolve("lucid.part.mv.db");
            try {
                BackupFiles.extract(file, part);
            } catch (BackupFiles.NoBackupException e) {
                throw new UsageException(e.getMessage());
            } catch (IOException e) {
                deleteQuietly(part);
                throw new UsageException(file + " cannot be read as a backup: " + e.getMessage());
            }
            Files.move(part, folder.database());
            folder.makePrivate();
            System.out.println("Restored " + file + " into " + words.data());
            AuditLog.Verification found = BackupFiles.verify(words.data().resolve("lucid"));
            if (found.broken().isEmpty() && found.entries() > 0) {
                new AuditHead(words.data()).keep(new AuditHead.Head(found.entries(), found.lastHash(), 0));
            }
            return print(Optional.empty(), found);
        } catch (FileAlreadyExistsException e) {
            throw new UsageException(words.data() + " is no folder");
        } catch (IOException | PersistenceException e) {
            throw new UsageException("what was restored cannot be read; do not use it: " + e.getMessage());
        }
    }

    /** Checks the hash chain of the record. */
    public static int verifyRecord(List<String> arguments) {
        Words words = Words.parse("verify-record", arguments, false);
        words.requireDatabase();
        try {
            DataFolder folder = new DataFolder(words.data());
            // Read first: a running server goes on writing meanwhile.
            AuditHead beside = new AuditHead(folder.path());
            Optional<AuditHead.Head> head = beside.read();
            if (folder.lock()) {
                int exit = print(head, BackupFiles.verify(words.data().resolve("lucid")));
                Optional<String> loss = exit == 0 ? beside.loss(folder) : Optional.empty();
                loss.ifPresent(sentence -> System.out.println("But " + sentence + ": restore a backup"));
                return loss.isPresent() ? 1 : exit;
            }
            try (InputStream body = ask(words.data(), "/api/record/verification")) {
                JsonNode answer = new JsonMapper().readTree(body);
                return print(
                        head,
                        new AuditLog.Verification(
                                answer.path("entries").asLong(),
                                Optional.of(answer.path("broken"))
                                        .filter(JsonNode::isNumber)
                                        .map(JsonNode::asLong),
                                answer.path("lastHash").asString()));
            }
        } catch (IOException | PersistenceException e) {
            throw new UsageException(
                    "the record could not be checked: " + firstLine(e) + ". If the file is damaged, restore a backup");
        }
    }

    /** Whether the chain is whole, and whether it goes as far as is written of it beside the database. */
    private static int print(Optional<AuditHead.Head> head, AuditLog.Verification verification) {
        if (verification.broken().isPresent()) {
            System.out.println(
                    "The record is broken at entry " + verification.broken().get() + ": it does not follow from the "
                            + verification.entries() + " before it, whose last hash is " + verification.lastHash());
            return 1;
        }
        if (head.filter(kept -> kept.number() > verification.entries()).isPresent()) {
            System.out.println("The record ends at " + verification.entries() + ", "
                    + head.get().number() + " were written: restore a backup");
            return 1;
        }
        System.out.println("The record is whole: " + verification.entries()
                + (verification.entries() == 1 ? " entry" : " entries") + ", last hash " + verification.lastHash());
        return 0;
    }

    private static String firstLine(Exception e) {
        Throwable cause = e;
        while (cause.getCause() != null) {
            cause = cause.getCause();
        }
        return String.valueOf(cause.getMessage()).lines().findFirst().orElse("");
    }

    private static Connection open(Path data) throws SQLException {
        return DriverManager.getConnection(new DataFolder(data).url(";IFEXISTS=TRUE"), "lucid", "");
    }

    /** Asks the server that holds the folder, which wrote its address and a token for this machine into it. */
    private static InputStream ask(Path data, String path) throws IOException {
        URI server = URI.create(Files.readString(data.resolve("address")).strip());
        String token = Files.readString(data.resolve("backup-token")).strip();
        try {
            HttpResponse<InputStream> response = HttpClient.newHttpClient()
                    .send(
                            HttpRequest.newBuilder(server.resolve(path))
                                    .header("Authorization", "Bearer " + token)
                                    .build(),
                            HttpResponse.BodyHandlers.ofInputStream());
            if (response.statusCode() != 200) {
                response.body().close();
                throw new IOException("the server at " + server + " answered " + response.statusCode());
            }
            return response.body();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException("interrupted");
        }
    }

    private static void deleteQuietly(Path file) {
        try {
            Files.deleteIfExists(file);
        } catch (IOException e) {
            System.err.println("lucid: " + file + " was left behind: " + e.getMessage());
        }
    }
}
