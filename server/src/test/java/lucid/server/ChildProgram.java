package lucid.server;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.jar.JarEntry;
import java.util.jar.JarOutputStream;
import java.util.stream.Stream;

/**
 * The program as tests start it in processes of their own, some hundred times. What the first one has loaded is kept as
 * a class data archive (JEP 350), with which the others start in half the time; such an archive takes jars only, so
 * that folders of the class path are put into some first.
 */
final class ChildProgram {

    private static final ChildProgram ONLY = new ChildProgram();

    private final Path folder;
    private final Path archive;
    private final String classPath;

    private ChildProgram() {
        try {
            folder = Files.createTempDirectory(Files.createDirectories(Path.of("target")), "child-program-")
                    .toAbsolutePath();
            archive = folder.resolve("classes.jsa");
            List<String> entries = new ArrayList<>();
            for (String entry : System.getProperty("java.class.path").split(File.pathSeparator)) {
                entries.add(
                        Files.isDirectory(Path.of(entry))
                                ? packed(Path.of(entry), entries.size()).toString()
                                : entry);
            }
            classPath = String.join(File.pathSeparator, entries);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        Runtime.getRuntime().addShutdownHook(new Thread(this::forget));
    }

    /** The words that run one command of the program. */
    static List<String> command(String... words) {
        List<String> command = new ArrayList<>(List.of(
                java("java"),
                "-XX:TieredStopAtLevel=1",
                "-XX:+UseSerialGC",
                "-Xmx512m",
                // An archive that this machine does not take is passed over, and nobody reads of it in what a server
                // says.
                "-Xlog:cds*=off",
                Files.exists(ONLY.archive) ? "-XX:SharedArchiveFile=" + ONLY.archive : "-XX:+RecordDynamicDumpInfo",
                "-cp",
                ONLY.classPath,
                "lucid.server.LucidVerdict"));
        command.addAll(List.of(words));
        return command;
    }

    /** Keeps what a server has loaded until it was ready, if none was kept before. */
    static void keepClassesOf(long process) throws IOException, InterruptedException {
        if (Files.exists(ONLY.archive)) {
            return;
        }
        Path made = ONLY.folder.resolve("made.jsa");
        new ProcessBuilder(java("jcmd"), Long.toString(process), "VM.cds", "dynamic_dump", made.toString())
                .redirectErrorStream(true)
                .redirectOutput(ONLY.folder.resolve("made.log").toFile())
                .start()
                .waitFor();
        if (Files.exists(made)) {
            Files.move(made, ONLY.archive);
        }
    }

    private static String java(String tool) {
        return Path.of(System.getProperty("java.home"), "bin", tool).toString();
    }

    private Path packed(Path classes, int number) throws IOException {
        Path jar = folder.resolve(number + ".jar");
        try (JarOutputStream out = new JarOutputStream(Files.newOutputStream(jar));
                Stream<Path> all = Files.walk(classes)) {
            out.setLevel(1);
            for (Path path : all.filter(path -> !path.equals(classes)).toList()) {
                // Folders too: what is looked for by its folder would not be found without.
                String name = classes.relativize(path).toString().replace(File.separatorChar, '/');
                if (Files.isDirectory(path)) {
                    out.putNextEntry(new JarEntry(name + "/"));
                } else {
                    out.putNextEntry(new JarEntry(name));
                    Files.copy(path, out);
                }
            }
        }
        return jar;
    }

    private void forget() {
        try (Stream<Path> files = Files.list(folder)) {
            for (Path file : files.toList()) {
                Files.deleteIfExists(file);
            }
            Files.deleteIfExists(folder);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
