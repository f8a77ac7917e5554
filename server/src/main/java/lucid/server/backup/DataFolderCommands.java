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
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import lucid.server.RunOptions;
import lucid.server.UsageException;
import lucid.server.clock.MovableClock;
import lucid.server.record.RecordChain;
import lucid.server.record.RecordMapper;
import org.apache.ibatis.mapping.Environment;
import org.apache.ibatis.session.Configuration;
import org.apache.ibatis.session.SqlSession;
import org.apache.ibatis.session.SqlSessionFactoryBuilder;
import org.apache.ibatis.transaction.jdbc.JdbcTransactionFactory;
import org.h2.jdbcx.JdbcDataSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * {@code lucid backup}, {@code restore} and {@code verify-record}. A folder that a running server holds is asked through that server; one at rest is
 * opened itself.
 */
public final class DataFolderCommands {

    private static final String DATABASE = "lucid.mv.db";

    private DataFolderCommands() {}

    /** @param file for backup and restore */
    private record Words(Path data, Optional<Path> file) {

        static Words parse(String command, List<String> words, boolean wantsFile) {
            Path data = Path.of("data");
            Optional<Path> file = Optional.empty();
            for (Iterator<String> rest = words.iterator(); rest.hasNext();) {
                String word = rest.next();
                if (word.equals("--data")) {
                    if (!rest.hasNext()) {
                        throw new UsageException("--data needs a value");
                    }
                    data = Path.of(rest.next());
                } else if (wantsFile && file.isEmpty() && !word.startsWith("--")) {
                    file = Optional.of(Path.of(word));
                } else {
                    throw new UsageException(command + " does not know '" + word + "'; it takes " + (wantsFile ? "a FILE and " : "") + "--data FOLDER");
                }
            }
            if (wantsFile && file.isEmpty()) {
                throw new UsageException(command + " takes a FILE and --data FOLDER");
            }
            return new Words(data.toAbsolutePath().normalize(), file);
        }

        Path database() {
            return data.resolve(DATABASE);
        }

        void requireDatabase() {
            if (!Files.isRegularFile(database())) {
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
            if (RunOptions.lock(words.data())) {
                try (Connection database = open(words.data()); PreparedStatement backup = database.prepareStatement("backup to ?")) {
                    backup.setString(1, part.toString());
                    backup.execute();
                }
            } else {
                try (InputStream body = ask(words.data(), "/api/backup")) {
                    Files.copy(body, part, StandardCopyOption.REPLACE_EXISTING);
                }
            }
            Files.move(part, file);
            System.out.println("Backup of " + words.data() + " written to " + file + " (" + Files.size(file) + " bytes)");
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
            Path part = words.data().resolve(DATABASE + ".part");
            try (ZipInputStream in = new ZipInputStream(Files.newInputStream(file))) {
                ZipEntry entry = in.getNextEntry();
                while (entry != null && !entry.getName().equals(DATABASE)) {
                    entry = in.getNextEntry();
                }
                if (entry == null) {
                    throw new UsageException(file + " is no backup of Lucid Verdict");
                }
                Files.copy(in, part);
            } catch (IOException e) {
                deleteQuietly(part);
                throw new UsageException(file + " cannot be read as a backup: " + e.getMessage());
            }
            Files.move(part, words.database());
            System.out.println("Restored " + file + " into " + words.data());
            return print(verify(words.data()));
        } catch (FileAlreadyExistsException e) {
            throw new UsageException(words.data() + " is no folder");
        } catch (IOException e) {
            throw new UsageException("nothing was restored: " + e.getMessage());
        }
    }

    /** Checks the hash chain of the record. */
    public static int verifyRecord(List<String> arguments) {
        Words words = Words.parse("verify-record", arguments, false);
        words.requireDatabase();
        try {
            if (RunOptions.lock(words.data())) {
                return print(verify(words.data()));
            }
            try (InputStream body = ask(words.data(), "/api/record/verification")) {
                JsonNode answer = new JsonMapper().readTree(body);
                return print(new RecordChain.Verification(answer.path("entries").asLong(), Optional.of(answer.path("broken")).filter(JsonNode::isNumber).map(JsonNode::asLong),
                        answer.path("lastHash").asString()));
            }
        } catch (IOException e) {
            throw new UsageException("the record could not be checked: " + e.getMessage());
        }
    }

    private static int print(RecordChain.Verification verification) {
        if (verification.broken().isPresent()) {
            System.out.println("The record is broken at entry " + verification.broken().get() + ": it does not follow from the " + verification.entries() + " before it, whose last hash is " + verification.lastHash());
            return 1;
        }
        System.out.println("The record is whole: " + verification.entries() + " entries, last hash " + verification.lastHash());
        return 0;
    }

    private static RecordChain.Verification verify(Path data) {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL(url(data));
        source.setUser("lucid");
        source.setPassword("");
        Configuration configuration = new Configuration(new Environment("verify", new JdbcTransactionFactory(), source));
        configuration.setArgNameBasedConstructorAutoMapping(true);
        configuration.addMapper(RecordMapper.class);
        try (SqlSession session = new SqlSessionFactoryBuilder().build(configuration).openSession()) {
            return new RecordChain(session.getMapper(RecordMapper.class), MovableClock.system()).verify();
        }
    }

    private static Connection open(Path data) throws SQLException {
        return DriverManager.getConnection(url(data), "lucid", "");
    }

    private static String url(Path data) {
        return "jdbc:h2:file:" + data.resolve("lucid") + ";IFEXISTS=TRUE;DB_CLOSE_ON_EXIT=FALSE";
    }

    /** Asks the server that holds the folder, which wrote its address and a token for this machine into it. */
    private static InputStream ask(Path data, String path) throws IOException {
        URI server = URI.create(Files.readString(data.resolve("address")).strip());
        String token = Files.readString(data.resolve("backup-token")).strip();
        try {
            HttpResponse<InputStream> response = HttpClient.newHttpClient()
                    .send(HttpRequest.newBuilder(server.resolve(path)).header("Authorization", "Bearer " + token).build(), HttpResponse.BodyHandlers.ofInputStream());
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
