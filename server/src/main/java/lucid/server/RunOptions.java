package lucid.server;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Iterator;
import java.util.List;
import java.util.Map;

/**
 * How a server is run.
 *
 * @param data folder of its database
 * @param port 0 lets the system choose
 * @param bind address to listen on; loopback unless told otherwise
 * @param demo true: named demo users, a demo token, and a clock that can be moved
 */
public record RunOptions(Path data, int port, String bind, boolean demo) {

    /** Days of history that the demo plays. */
    private static final int DEMO_DAYS = 90;

    /** Held until the process ends, so that two servers never share a folder. */
    private static FileLock folderLock;

    public static RunOptions parse(List<String> words) {
        Path data = Path.of("data");
        int port = 8040;
        String bind = "127.0.0.1";
        boolean demo = false;
        Iterator<String> rest = words.iterator();
        while (rest.hasNext()) {
            String word = rest.next();
            switch (word) {
                case "--data" -> data = Path.of(value(word, rest));
                case "--port" -> port = port(value(word, rest));
                case "--bind" -> bind = value(word, rest);
                case "--demo" -> demo = true;
                default -> throw new UsageException("run does not know '" + word + "'; it takes --data FOLDER, --port NUMBER and --bind ADDRESS");
            }
        }
        return new RunOptions(data.toAbsolutePath().normalize(), port, bind, demo);
    }

    private static String value(String option, Iterator<String> rest) {
        if (!rest.hasNext()) {
            throw new UsageException(option + " needs a value");
        }
        return rest.next();
    }

    private static int port(String text) {
        if (!text.matches("\\d{1,5}") || Integer.parseInt(text) > 65_535) {
            throw new UsageException("--port takes a number from 0 to 65535, not '" + text + "'");
        }
        return Integer.parseInt(text);
    }

    String address() {
        return "http://" + (bind.contains(":") ? "[" + bind + "]" : bind) + ":" + port;
    }

    /**
     * Holds a data folder until this process ends, so that two never write to it.
     *
     * @return false if another process holds it
     * @throws UsageException if it cannot be written
     */
    public static boolean lock(Path data) {
        try {
            Files.createDirectories(data);
            folderLock = FileChannel.open(data.resolve("in-use"), StandardOpenOption.CREATE, StandardOpenOption.WRITE).tryLock();
            return folderLock != null;
        } catch (OverlappingFileLockException e) {
            return false;
        } catch (IOException e) {
            throw new UsageException("the data folder " + data + " cannot be written: " + e.getMessage());
        }
    }

    /** @throws UsageException in one sentence, if another process uses the folder or the port */
    void requireFreeFolderAndPort() {
        if (!lock(data)) {
            throw new UsageException("the data folder " + data + " is in use by another Lucid Verdict; stop that one or choose another with --data");
        }
        try (ServerSocket socket = new ServerSocket()) {
            socket.setReuseAddress(true);
            socket.bind(new InetSocketAddress(InetAddress.getByName(bind), port));
        } catch (IOException e) {
            throw new UsageException("port " + port + " on " + bind + " cannot be used (" + e.getMessage() + "); choose another with --port or --bind");
        }
    }

    public Map<String, Object> properties() {
        return Map.of("lucid.data", data.toString(), "lucid.demo", demo, "lucid.bind", bind, "lucid.clock.days-back", demo ? DEMO_DAYS : 0, "server.port", port, "server.address", bind);
    }
}
