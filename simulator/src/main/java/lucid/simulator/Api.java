package lucid.simulator;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.CookieManager;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.zip.GZIPOutputStream;
import lucid.simulator.living.Orders;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The server's public routes, as a machine with a token and as a person who signs in. */
final class Api {

    private static final JsonMapper JSON = new JsonMapper();
    private static final int NOT_MODIFIED = 304;
    private static final int TRIES = 5;
    private static final Duration BETWEEN_TRIES = Duration.ofSeconds(1);

    private final URI server;
    private final String token;
    private final HttpClient machine = HttpClient.newHttpClient();
    /** By the name of the host. */
    private final Map<String, Told> told = new ConcurrentHashMap<>();

    private final Queue<String> untold = new ConcurrentLinkedQueue<>();
    private final CookieManager cookies = new CookieManager();
    private final HttpClient person =
            HttpClient.newBuilder().cookieHandler(cookies).build();

    Api(URI server, String token) {
        this.server = server;
        this.token = token;
    }

    Instant now() {
        return Instant.parse(
                send(machine, asMachine("/api/clock").GET()).path("now").asString());
    }

    void advanceOneDay() {
        send(
                machine,
                asMachine("/api/clock/advances")
                        .header("Content-Type", "application/json")
                        .POST(BodyPublishers.ofString("{\"hours\":24}")));
    }

    /** Asks for the next step of the clock, if one is wanted: the hosts have lived up to now. */
    Instant step() {
        return Instant.parse(send(machine, asMachine("/api/clock/steps").POST(BodyPublishers.noBody()))
                .path("now")
                .asString());
    }

    /**
     * What a host keeps of what it was told.
     *
     * @param obeys false if nothing on it does as it is told
     */
    private record Told(String tag, long serial, boolean obeys, Orders orders) {}

    /** What a host is told: it asks whether it is still what it keeps. */
    Orders orders(String host, boolean obeys) {
        Told before = told.get(host);
        HttpRequest.Builder request = asMachine("/api/orders/" + host).GET();
        if (before != null) {
            request.header("If-None-Match", before.tag());
        }
        HttpResponse<String> answer = exchange(machine, request);
        if (answer.statusCode() == NOT_MODIFIED) {
            return before.orders();
        }
        requireGood(answer);
        // The second part of a signed text is its content (RFC 7515, section 3.1).
        JsonNode content =
                JSON.readTree(Base64.getUrlDecoder().decode(answer.body().split("\\.", -1)[1]));
        Told now = new Told(
                answer.headers().firstValue("ETag").orElseThrow(),
                content.get("serial").asLong(),
                obeys,
                Orders.read(content));
        told.put(host, now);
        untold.add(host);
        return now.orders();
    }

    /** All that heard something new say that they keep it, and whether they do as they are told. */
    void acknowledge() {
        List<Map<String, ?>> receipts = new ArrayList<>();
        for (String host = untold.poll(); host != null; host = untold.poll()) {
            Told kept = told.get(host);
            receipts.add(Map.of(
                    "host",
                    host,
                    "receipt",
                    Map.of(
                            "serial",
                            kept.serial(),
                            "tag",
                            kept.tag().replace("\"", ""),
                            "state",
                            kept.obeys() ? "IN_FORCE" : "NOT_IN_FORCE",
                            "installs",
                            kept.obeys(),
                            "reporter",
                            "simulated",
                            "notInForce",
                            kept.obeys() ? List.of() : kept.orders().withheld(),
                            "problems",
                            kept.obeys() ? List.of() : List.of("the updater of this host does not run"))));
        }
        if (!receipts.isEmpty()) {
            requireGood(exchange(
                    machine,
                    asMachine("/api/order-receipts")
                            .header("Content-Type", "application/json")
                            .POST(BodyPublishers.ofString(JSON.writeValueAsString(receipts)))));
        }
    }

    /** Sends host reports, compressed as real hosts send them. */
    void report(String inventory) {
        try {
            ByteArrayOutputStream bytes = new ByteArrayOutputStream();
            try (GZIPOutputStream gzip = new GZIPOutputStream(bytes)) {
                gzip.write(inventory.getBytes(StandardCharsets.UTF_8));
            }
            requireTaken(
                    send(
                            machine,
                            asMachine("/api/reports")
                                    .header("Content-Type", "application/x-ndjson")
                                    .header("Content-Encoding", "gzip")
                                    .POST(BodyPublishers.ofByteArray(bytes.toByteArray()))),
                    0);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    /** A document of which nothing is left out. */
    void document(String name, String content) {
        document(name, content, 0);
    }

    /** @param remarks how many the server makes on it */
    void document(String name, String content, int remarks) {
        String boundary = "lucid-simulator-part";
        String body = "--" + boundary + "\r\nContent-Disposition: form-data; name=\"files\"; filename=\"" + name
                + "\"\r\nContent-Type: application/json\r\n\r\n" + content + "\r\n--" + boundary + "--\r\n";
        requireTaken(
                send(
                                machine,
                                asMachine("/api/documents")
                                        .header("Content-Type", "multipart/form-data; boundary=" + boundary)
                                        .POST(BodyPublishers.ofString(body)))
                        .get(0),
                remarks);
    }

    private static void requireTaken(JsonNode result, int remarks) {
        if (!result.path("outcome").asString().equals("ACCEPTED")
                || result.path("problems").size() != remarks) {
            throw new IllegalStateException("the server did not take all of it: " + result);
        }
    }

    void signIn(String name, String password) {
        post("/api/sessions", Map.of("name", name, "password", password));
    }

    /** A request of the person who signed in. */
    JsonNode post(String path, Map<String, ?> body) {
        return asPerson("POST", path, JSON.writeValueAsString(body));
    }

    JsonNode get(String path) {
        return asPerson("GET", path, "");
    }

    void delete(String path) {
        asPerson("DELETE", path, "");
    }

    /** As {@link #post}, of a document that is JSON already. */
    JsonNode put(String path, String document) {
        return asPerson("PUT", path, document);
    }

    private JsonNode asPerson(String method, String path, String body) {
        send(
                person,
                HttpRequest.newBuilder(server.resolve("/api/sessions/current")).GET());
        String forgeryToken = cookies.getCookieStore().getCookies().stream()
                .filter(c -> c.getName().equals("XSRF-TOKEN"))
                .findFirst()
                .orElseThrow()
                .getValue();
        return send(
                person,
                HttpRequest.newBuilder(server.resolve(path))
                        .header("Content-Type", "application/json")
                        .header("X-XSRF-TOKEN", forgeryToken)
                        .header("If-Match", "*")
                        .method(method, body.isEmpty() ? BodyPublishers.noBody() : BodyPublishers.ofString(body)));
    }

    private HttpRequest.Builder asMachine(String path) {
        return HttpRequest.newBuilder(server.resolve(path)).header("Authorization", "Bearer " + token);
    }

    private static JsonNode send(HttpClient client, HttpRequest.Builder request) {
        HttpResponse<String> response = requireGood(exchange(client, request));
        return response.body().isEmpty() ? JSON.nullNode() : JSON.readTree(response.body());
    }

    private static HttpResponse<String> requireGood(HttpResponse<String> response) {
        if (response.statusCode() >= 300) {
            throw new IllegalStateException(
                    response.uri().getPath() + " answered " + response.statusCode() + ": " + response.body());
        }
        return response;
    }

    /** A connection may be closed just as it is used again: only who does not answer again and again has gone. */
    private static HttpResponse<String> exchange(HttpClient client, HttpRequest.Builder request) {
        try {
            for (int tried = 1; ; tried++) {
                try {
                    return client.send(request.build(), HttpResponse.BodyHandlers.ofString());
                } catch (IOException e) {
                    if (tried == TRIES) {
                        throw new ServerGoneException(e);
                    }
                }
                Thread.sleep(BETWEEN_TRIES.toMillis());
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new ServerGoneException(e);
        }
    }

    /** The server no longer answers. */
    static final class ServerGoneException extends RuntimeException {
        ServerGoneException(Exception cause) {
            super(cause);
        }
    }
}
