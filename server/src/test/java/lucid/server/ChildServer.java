package lucid.server;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The real program in a process of its own, which can be killed. It has the demo's users, and a clock that begins 90
 * days ago.
 */
final class ChildServer {

    private static final Pattern READY = Pattern.compile("is ready at (http\\S+)");

    private final Path data;
    private final Process process;
    private final URI address;

    private ChildServer(Path data, Process process, URI address) {
        this.data = data;
        this.process = process;
        this.address = address;
    }

    /** Starts the program on a data folder and waits until it answers. */
    static ChildServer start(Path data, String... more) throws IOException, InterruptedException {
        return start(Map.of(), data, more);
    }

    /** As {@link #start}, with variables of the environment. */
    static ChildServer startWith(Map<String, String> environment, Path data) throws IOException, InterruptedException {
        return start(environment, data);
    }

    /** Starts the program on a folder that is no demo's, with as much memory as a large fleet needs. */
    static ChildServer startLarge(Path data) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(ChildProgram.command("run", "--data", data.toString(), "--port", "0"));
        command.set(command.indexOf("-Xmx512m"), "-Xmx1536m");
        return start(command, Map.of(), data);
    }

    private static ChildServer start(Map<String, String> environment, Path data, String... more)
            throws IOException, InterruptedException {
        return start(demo(data, more), environment, data);
    }

    private static ChildServer start(List<String> command, Map<String, String> environment, Path data)
            throws IOException, InterruptedException {
        Files.deleteIfExists(data.resolve("address"));
        Path log = log(data);
        Process process = process(environment, log, command);
        long deadline = System.nanoTime() + TimeUnit.MINUTES.toNanos(5);
        // It is ready when it says so; on a full disk it cannot write the address into its folder.
        Matcher ready = READY.matcher("");
        while (!ready.find()) {
            if (!process.isAlive() || System.nanoTime() > deadline) {
                process.destroyForcibly();
                throw new IllegalStateException("the server did not start: " + Files.readString(log));
            }
            Thread.sleep(50);
            ready = READY.matcher(Files.readString(log));
        }
        ChildProgram.keepClassesOf(process.pid());
        return new ChildServer(data, process, URI.create(ready.group(1)));
    }

    /** As {@code kill -9} so many milliseconds after the program was started. */
    static void killWhileStarting(Path data, long millis) throws IOException, InterruptedException {
        Process process = process(Map.of(), log(data), demo(data));
        process.waitFor(millis, TimeUnit.MILLISECONDS);
        process.destroyForcibly().waitFor();
    }

    /** What a process says stays where a failure can be looked into, until the next build. */
    private static Path log(Path data) throws IOException {
        Path logs = Files.createDirectories(Path.of("target", "processes"));
        return Files.createTempFile(logs, data.getFileName() + "-", ".log");
    }

    private static Process process(Map<String, String> environment, Path log, List<String> command) throws IOException {
        ProcessBuilder builder = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.to(log.toFile()));
        builder.environment().putAll(environment);
        Process process = builder.start();
        // However a test ends, nothing stays behind.
        Runtime.getRuntime().addShutdownHook(new Thread(process::destroyForcibly));
        return process;
    }

    private static List<String> demo(Path data, String... more) {
        try {
            // A backup does not tell that it was a demo's.
            Files.createDirectories(data);
            if (!Files.exists(data.resolve("demo"))) {
                Files.createFile(data.resolve("demo"));
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        List<String> words = new ArrayList<>(List.of("run", "--demo", "--data", data.toString(), "--port", "0"));
        words.addAll(List.of(more));
        return ChildProgram.command(words.toArray(String[]::new));
    }

    record Ran(int exit, String output) {}

    /** Runs another command of the program to its end. */
    static Ran run(String... words) throws IOException, InterruptedException {
        Process process = new ProcessBuilder(ChildProgram.command(words))
                .redirectErrorStream(true)
                .start();
        String output = new String(process.getInputStream().readAllBytes());
        process.waitFor(60, TimeUnit.SECONDS);
        return new Ran(process.exitValue(), output);
    }

    /** As {@code kill -9}. */
    void kill() throws InterruptedException {
        process.destroyForcibly().waitFor();
    }

    /** Puts a ladder in force, as an analyst who has seen what it changes. */
    void populations(String ladder) {
        LucidServer.Answer saved =
                analyst().send("PUT", "/api/populations", "application/json", BodyPublishers.ofString(ladder));
        if (saved.status() != 200) {
            throw new IllegalStateException(saved.text());
        }
    }

    LucidServer.Client analyst() {
        return signedIn("m.aldane", "skerry-line");
    }

    LucidServer.Client administrator() {
        return signedIn("k.strand", "skerry-line");
    }

    LucidServer.Client signedIn(String login, String password) {
        return new LucidServer.Client(address, null).signedIn(login, password);
    }

    LucidServer.Client withToken(String token) {
        return new LucidServer.Client(address, token);
    }

    LucidServer.Client machine() throws IOException {
        return new LucidServer.Client(
                address, Files.readString(data.resolve("import-token")).strip());
    }
}
