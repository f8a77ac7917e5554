package lucid.server;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.UnknownHostException;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import lucid.server.command.CommandWords;
import lucid.server.command.UsageException;
import lucid.server.hosts.CompactInventories;
import lucid.server.storage.DataFolder;

/**
 * How a server is run. What is said here wins over the environment and over files of settings.
 *
 * @param folder of its database
 * @param port 0 lets the system choose
 * @param bind address to listen on; loopback unless told otherwise
 * @param demo true: named demo users, a demo token, and a clock that can be moved
 * @param proxy what stands between it and the browsers
 * @param acceptLoss true: start although the record lacks entries that were written once
 */
public record RunOptions(DataFolder folder, int port, String bind, boolean demo, Proxy proxy, boolean acceptLoss) {

    /** Days of history that the demo plays. */
    private static final CommandWords.Syntax SYNTAX = new CommandWords.Syntax(
                    "run",
                    "--data FOLDER, --port NUMBER, --bind ADDRESS, --trusted-proxy ADDRESS[,ADDRESS], "
                            + "--strict-transport-days NUMBER and --accept-loss")
            .value("data")
            .value("port")
            .value("bind")
            .value("trusted-proxy")
            .value("strict-transport-days")
            .flag("demo")
            .flag("accept-loss");

    /** Where an address is taken for one's own machine. */
    private static final List<String> LOOPBACK = List.of("127.0.0.1", "localhost", "::1");

    /**
     * A reverse proxy in front of the server.
     *
     * @param trusted addresses whose word about the sender's address and about https is believed; nobody else's is
     * @param strictTransportDays for how many days browsers are told to come by https only (RFC 6797); 0: they are not
     *     told
     */
    public record Proxy(List<String> trusted, int strictTransportDays) {
        /** Exactly these addresses. */
        String pattern() {
            return trusted.stream().map(Pattern::quote).collect(Collectors.joining("|"));
        }
    }

    public static RunOptions parse(List<String> words) {
        CommandWords said = SYNTAX.parse(words).requireNoFiles();
        String bind = said.value("bind").orElse("127.0.0.1");
        boolean demo = said.has("demo");
        if (demo && !LOOPBACK.contains(bind)) {
            throw new UsageException(
                    "the demo's passwords stand in the README, so it listens on this machine only, not on " + bind
                            + "; leave --bind away");
        }
        return new RunOptions(
                new DataFolder(said.data()),
                said.number("port", 8040, 65_535),
                bind,
                demo,
                new Proxy(
                        said.value("trusted-proxy").map(RunOptions::addresses).orElse(List.of()),
                        said.number("strict-transport-days", 0, 3_650)),
                said.has("accept-loss"));
    }

    /** Addresses as they are, never names: a name is whatever the one who answers for it says. */
    private static List<String> addresses(String text) {
        return Arrays.stream(text.split(","))
                .map(String::strip)
                .map(address -> {
                    try {
                        if (!address.matches("[0-9a-fA-F:.]+")) {
                            throw new UnknownHostException(address);
                        }
                        return InetAddress.getByName(address).getHostAddress();
                    } catch (UnknownHostException e) {
                        throw new UsageException(
                                "--trusted-proxy takes addresses such as 127.0.0.1, not '" + address + "'");
                    }
                })
                .toList();
    }

    /** @param chosen the port that it got */
    String address(String chosen) {
        return "http://" + (bind.contains(":") ? "[" + bind + "]" : bind) + ":" + chosen;
    }

    /** @throws UsageException in one sentence, if another process uses the folder or the port */
    void requireFreeFolderAndPort() {
        if (!folder.lock()) {
            throw new UsageException("the data folder " + folder.path()
                    + " is in use by another Lucid Verdict; stop that one or choose another with --data");
        }
        try (ServerSocket socket = new ServerSocket()) {
            socket.setReuseAddress(true);
            socket.bind(new InetSocketAddress(InetAddress.getByName(bind), port));
        } catch (IOException e) {
            throw new UsageException("port " + port + " on " + bind + " cannot be used (" + e.getMessage()
                    + "); choose another with --port or --bind");
        }
    }

    /** Makes the data folder ready; see {@link DataFolder#prepare}. */
    DataFolder.Prepared prepare() {
        return folder.prepare(demo, acceptLoss, new CompactInventories());
    }

    /** As arguments of the program, which nothing else overrides. */
    String[] arguments(DataFolder.Prepared prepared) {
        Map<String, Object> settings = new LinkedHashMap<>();
        settings.put("lucid.data", folder.path());
        settings.put("lucid.demo", demo);
        settings.put("lucid.bind", bind);
        settings.put("lucid.clock.days-back", demo ? folder.demoDaysBack() : 0);
        settings.put("lucid.read-only", prepared.readOnly());
        settings.put("lucid.database.mode", prepared.readOnly() ? "r" : "rw");
        settings.put("lucid.loss", prepared.loss().orElse(""));
        settings.put("lucid.strict-transport-days", proxy.strictTransportDays());
        settings.put("server.port", port);
        settings.put("server.address", bind);
        settings.put("server.forward-headers-strategy", proxy.trusted().isEmpty() ? "none" : "native");
        if (!proxy.trusted().isEmpty()) {
            settings.put("server.tomcat.remoteip.internal-proxies", proxy.pattern());
            settings.put("server.tomcat.remoteip.remote-ip-header", "X-Forwarded-For");
            settings.put("server.tomcat.remoteip.protocol-header", "X-Forwarded-Proto");
        }
        return settings.entrySet().stream()
                .map(setting -> "--" + setting.getKey() + "=" + setting.getValue())
                .toArray(String[]::new);
    }
}
