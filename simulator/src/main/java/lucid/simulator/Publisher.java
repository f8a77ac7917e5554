package lucid.simulator;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.HexFormat;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A stand-in for the places where vendors and others publish, over real HTTP on the loopback: documents at fixed
 * addresses with validators, and a provider of signed CSAF documents with a ROLIE feed and a directory (CSAF 2.0,
 * section 7).
 */
final class Publisher {

    private static final JsonMapper JSON = new JsonMapper();
    private static final String FEED = "/csaf/feed.json";
    private static final String METADATA = "/.well-known/csaf/provider-metadata.json";

    private final HttpServer http;
    private final Signer signer;
    private final Map<String, byte[]> files = new ConcurrentHashMap<>();
    private final Map<String, Instant> documents = new TreeMap<>();

    Publisher(Instant began) {
        try {
            http = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        signer = new Signer("Fathom Security <security@fathom.example>", began);
        http.createContext("/", this::answer);
        http.start();
        put("/csaf/key.asc", signer.publicKey());
        ObjectNode metadata = JSON.createObjectNode()
                .put("canonical_url", address(METADATA))
                .put("last_updated", began.toString())
                .put("metadata_version", "2.0")
                .put("role", "csaf_trusted_provider");
        metadata.putObject("publisher")
                .put("category", "vendor")
                .put("name", "Fathom")
                .put("namespace", "https://fathom.example");
        ArrayNode distributions = metadata.putArray("distributions");
        distributions
                .addObject()
                .putObject("rolie")
                .putArray("feeds")
                .addObject()
                .put("summary", "All advisories")
                .put("tlp_label", "WHITE")
                .put("url", address(FEED));
        distributions.addObject().put("directory_url", address("/csaf/white/"));
        metadata.putArray("public_openpgp_keys")
                .addObject()
                .put("fingerprint", signer.fingerprint())
                .put("url", address("/csaf/key.asc"));
        put(METADATA, metadata.toString());
        list();
    }

    String address(String path) {
        return "http://127.0.0.1:" + http.getAddress().getPort() + path;
    }

    String providerMetadata() {
        return address(METADATA);
    }

    String publicKey() {
        return signer.publicKey();
    }

    /** Publishes a document at a fixed address, in the place of the one before. */
    void put(String path, String content) {
        files.put(path, content.getBytes(StandardCharsets.UTF_8));
    }

    /** How an advisory is signed. */
    enum Signing {
        RIGHT,
        ALTERED_AFTERWARDS,
        NONE
    }

    /** Publishes a CSAF document of the provider. */
    void advisory(String id, String document, Instant changed, Signing signing) {
        String path = "/csaf/white/2026/" + id.toLowerCase() + ".json";
        byte[] published = document.getBytes(StandardCharsets.UTF_8);
        // What is altered on the way still fits its hash: whoever can change the one can change the other.
        byte[] signed = signing == Signing.ALTERED_AFTERWARDS
                ? document.replace("\"title\"", "\"titled\"").getBytes(StandardCharsets.UTF_8)
                : published;
        files.put(path, published);
        put(path + ".sha256", sha256(published) + "  " + id.toLowerCase() + ".json\n");
        if (signing != Signing.NONE) {
            put(path + ".asc", signer.sign(signed));
        }
        documents.put(path, changed);
        list();
    }

    private void list() {
        ObjectNode root = JSON.createObjectNode();
        ObjectNode feed = root.putObject("feed").put("id", "all").put("title", "All advisories");
        feed.put(
                "updated",
                documents.values().stream()
                        .max(Instant::compareTo)
                        .orElse(Instant.EPOCH)
                        .toString());
        ArrayNode entries = feed.putArray("entry");
        StringBuilder changes = new StringBuilder();
        StringBuilder index = new StringBuilder();
        documents.forEach((path, changed) -> {
            ObjectNode entry = entries.addObject()
                    .put("id", path)
                    .put("title", path)
                    .put("published", changed.toString())
                    .put("updated", changed.toString());
            ArrayNode links = entry.putArray("link");
            links.addObject().put("rel", "self").put("href", address(path));
            links.addObject().put("rel", "hash").put("href", address(path + ".sha256"));
            links.addObject().put("rel", "signature").put("href", address(path + ".asc"));
            entry.putObject("content").put("type", "application/json").put("src", address(path));
            String relative = path.substring("/csaf/white/".length());
            changes.append('"').append(relative).append("\",\"").append(changed).append("\"\n");
            index.append(relative).append('\n');
        });
        put(FEED, root.toString());
        put("/csaf/white/changes.csv", changes.toString());
        put("/csaf/white/index.txt", index.toString());
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            byte[] content = files.get(exchange.getRequestURI().getPath());
            if (content == null) {
                exchange.sendResponseHeaders(404, -1);
                return;
            }
            String etag = '"' + sha256(content).substring(0, 16) + '"';
            exchange.getResponseHeaders().set("ETag", etag);
            if (etag.equals(exchange.getRequestHeaders().getFirst("If-None-Match"))) {
                exchange.sendResponseHeaders(304, -1);
                return;
            }
            exchange.sendResponseHeaders(200, content.length);
            exchange.getResponseBody().write(content);
        }
    }

    private static String sha256(byte[] content) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(content));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
