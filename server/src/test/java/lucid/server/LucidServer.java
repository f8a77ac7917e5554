package lucid.server;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.CookieManager;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpHeaders;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublisher;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.snapshot.SnapshotStoreFixture;
import org.junit.jupiter.api.extension.AfterAllCallback;
import org.junit.jupiter.api.extension.BeforeAllCallback;
import org.junit.jupiter.api.extension.ExtensionContext;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.web.servlet.mvc.method.annotation.RequestMappingHandlerMapping;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The real application on a free port with a data folder of its own, spoken to over HTTP. It has the demo's users and a
 * movable clock that is moved to today first.
 */
public final class LucidServer implements BeforeAllCallback, AfterAllCallback {

    private static final JsonMapper JSON = new JsonMapper();

    private final List<String> options;
    private Path data;
    private ConfigurableApplicationContext context;
    private URI address;

    /** @param options of the program beside folder and port */
    public LucidServer(String... options) {
        this.options = List.of(options);
    }

    @Override
    public void beforeAll(ExtensionContext test) throws IOException {
        data = Files.createTempDirectory("lucid-test");
        start();
        machine().post("/api/clock/advances", Map.of("hours", 24 * 90));
    }

    @Override
    public void afterAll(ExtensionContext test) throws IOException {
        context.close();
        try (java.util.stream.Stream<Path> files = Files.walk(data)) {
            files.sorted(Comparator.reverseOrder())
                    .forEach(file -> file.toFile().delete());
        }
    }

    /** Stops the server and starts it again on the same data. */
    public void restart() {
        context.close();
        start();
        machine().post("/api/clock/advances", Map.of("hours", 24 * 90));
    }

    private void start() {
        List<String> words = new ArrayList<>(List.of("--demo", "--data", data.toString(), "--port", "0"));
        words.addAll(options);
        context = LucidVerdict.start(RunOptions.parse(words));
        address = URI.create("http://127.0.0.1:" + context.getEnvironment().getProperty("local.server.port"));
    }

    /** A part of the running application. */
    public <T> T bean(Class<T> type) {
        return context.getBean(type);
    }

    public record Answer(int status, String text, HttpHeaders headers) {
        public JsonNode json() {
            return JSON.readTree(text);
        }
    }

    /** Somebody who talks to the server: a person with a session, a machine with a token, or nobody. */
    public static final class Client {
        private final URI address;
        private final CookieManager cookies;
        private final HttpClient http;
        private final String token;

        Client(URI address, String token) {
            this(address, token, new CookieManager());
        }

        private Client(URI address, String token, CookieManager cookies) {
            this.address = address;
            this.token = token;
            this.cookies = cookies;
            this.http = HttpClient.newBuilder().cookieHandler(cookies).build();
        }

        /** The same browser, at the address that a server has after it was started anew. */
        Client at(URI other) {
            return new Client(other, token, cookies);
        }

        /** This client after signing in. */
        Client signedIn(String login, String password) {
            get("/api/sessions/current");
            post("/api/sessions", Map.of("name", login, "password", password));
            return this;
        }

        public Answer get(String path) {
            return send("GET", path, "application/json", BodyPublishers.noBody());
        }

        /** @param headers names and values in turn */
        public Answer get(String path, String... headers) {
            HttpRequest.Builder request =
                    HttpRequest.newBuilder(address.resolve(path)).GET();
            for (int i = 0; i < headers.length; i += 2) {
                request.header(headers[i], headers[i + 1]);
            }
            return send(request, false);
        }

        public Answer post(String path, Map<String, ?> body) {
            return send("POST", path, "application/json", BodyPublishers.ofString(JSON.writeValueAsString(body)));
        }

        public Answer postList(String path, List<?> body) {
            return send("POST", path, "application/json", BodyPublishers.ofString(JSON.writeValueAsString(body)));
        }

        public Answer put(String path, String ifMatch, Map<String, ?> body) {
            return ifMatch == null ? send("PUT", path, body) : send("PUT", path, body, "If-Match", ifMatch);
        }

        /** @param headers names and values in turn; no others are sent */
        public Answer post(String path, Map<String, ?> body, String... headers) {
            return send("POST", path, body, headers);
        }

        /** @param headers names and values in turn; no others are sent */
        public Answer send(String method, String path, Map<String, ?> body, String... headers) {
            HttpRequest.Builder request =
                    HttpRequest.newBuilder(address.resolve(path)).header("Content-Type", "application/json");
            for (int i = 0; i < headers.length; i += 2) {
                request.header(headers[i], headers[i + 1]);
            }
            return send(request.method(method, BodyPublishers.ofString(JSON.writeValueAsString(body))), false);
        }

        /** The status of an answer that does not end. */
        public int statusOnly(String path) {
            HttpRequest.Builder request = HttpRequest.newBuilder(address.resolve(path));
            if (token != null) {
                request.header("Authorization", "Bearer " + token);
            }
            try {
                HttpResponse<InputStream> response =
                        http.send(request.build(), HttpResponse.BodyHandlers.ofInputStream());
                response.body().close();
                return response.statusCode();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        }

        /** Opens an answer that does not end by itself. */
        public Stream stream(String path) {
            try {
                return new Stream(http.send(
                        HttpRequest.newBuilder(address.resolve(path)).build(),
                        HttpResponse.BodyHandlers.ofInputStream()));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        }

        public Answer delete(String path) {
            return send("DELETE", path, "application/json", BodyPublishers.noBody());
        }

        /** @param date what time it is for the sender, as HTTP writes it */
        public Answer report(String inventory, String date) {
            return send(HttpRequest.newBuilder(address.resolve("/api/reports"))
                    .header("Content-Type", "application/x-ndjson")
                    .header("Date", date)
                    .POST(BodyPublishers.ofString(inventory)));
        }

        public Answer report(byte[] inventory) {
            return send("POST", "/api/reports", "application/x-ndjson", BodyPublishers.ofByteArray(inventory));
        }

        /** Sends documents, name by content, as one batch. */
        public Answer documents(Map<String, String> documents) {
            return documents(documents, Map.of());
        }

        /** @param fields of the form beside the files; the field {@code Idempotency-Key} is sent as that header */
        public Answer documents(Map<String, String> documents, Map<String, String> fields) {
            StringBuilder body = new StringBuilder();
            fields.forEach((name, value) -> body.append("--part\r\nContent-Disposition: form-data; name=\"")
                    .append(name)
                    .append("\"\r\n\r\n")
                    .append(value)
                    .append("\r\n"));
            documents.forEach((name, content) -> body.append(
                            "--part\r\nContent-Disposition: form-data; name=\"files\"; filename=\"")
                    .append(name)
                    .append("\"\r\nContent-Type: application/json\r\n\r\n")
                    .append(content)
                    .append("\r\n"));
            HttpRequest.Builder request = HttpRequest.newBuilder(address.resolve("/api/documents"))
                    .header("Content-Type", "multipart/form-data; boundary=part")
                    .POST(BodyPublishers.ofString(body + "--part--\r\n"));
            return send(
                    fields.containsKey("Idempotency-Key")
                            ? request.header("Idempotency-Key", fields.get("Idempotency-Key"))
                            : request);
        }

        public Answer preview(String name, String table) {
            return send(
                    "POST",
                    "/api/documents/preview",
                    "multipart/form-data; boundary=part",
                    BodyPublishers.ofString("--part\r\nContent-Disposition: form-data; name=\"file\"; filename=\""
                            + name + "\"\r\n\r\n" + table + "\r\n--part--\r\n"));
        }

        public Answer compressedReport(byte[] body) {
            return send(HttpRequest.newBuilder(address.resolve("/api/reports"))
                    .header("Content-Type", "application/x-ndjson")
                    .header("Content-Encoding", "gzip")
                    .POST(BodyPublishers.ofByteArray(body)));
        }

        public Answer send(String method, String path, String type, BodyPublisher body) {
            return send(HttpRequest.newBuilder(address.resolve(path))
                    .header("Content-Type", type)
                    .method(method, body));
        }

        /** Whatever stands is taken for what was seen; who tests versions names one. */
        private Answer send(HttpRequest.Builder request) {
            return send(request, true);
        }

        private Answer send(HttpRequest.Builder request, boolean whateverStands) {
            if (whateverStands) {
                request.header("If-Match", "*");
            }
            if (token != null) {
                request.header("Authorization", "Bearer " + token);
            }
            cookies.getCookieStore().getCookies().stream()
                    .filter(c -> c.getName().equals("XSRF-TOKEN"))
                    .forEach(c -> request.header("X-XSRF-TOKEN", c.getValue()));
            try {
                HttpResponse<String> response =
                        http.send(request.build(), HttpResponse.BodyHandlers.ofString(StandardCharsets.UTF_8));
                return new Answer(response.statusCode(), response.body(), response.headers());
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        }
    }

    /** Puts a ladder in force, as an analyst who has seen what it changes. */
    public void populations(String ladder) {
        Answer saved = analyst().send("PUT", "/api/populations", "application/json", BodyPublishers.ofString(ladder));
        if (saved.status() != 200) {
            throw new IllegalStateException(saved.text());
        }
    }

    /** An answer that goes on, such as events. */
    public record Stream(HttpResponse<InputStream> response) {

        public int status() {
            return response.statusCode();
        }

        /** True if the server ends it by then. */
        public boolean endsWithin(Duration time) throws Exception {
            return CompletableFuture.supplyAsync(() -> {
                        try {
                            response.body().readAllBytes();
                            return true;
                        } catch (IOException e) {
                            // Cut off is ended too.
                            return true;
                        }
                    })
                    .completeOnTimeout(false, time.toMillis(), TimeUnit.MILLISECONDS)
                    .get();
        }

        public void close() {
            try {
                response.body().close();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }

    /** Every route of the API, as "GET /api/cases/{id}". */
    public Set<String> routes() {
        Set<String> routes = new TreeSet<>();
        context.getBean("requestMappingHandlerMapping", RequestMappingHandlerMapping.class)
                .getHandlerMethods()
                .keySet()
                .forEach(mapping -> mapping.getPatternValues().stream()
                        .filter(path -> path.startsWith("/api/"))
                        .forEach(path -> mapping.getMethodsCondition()
                                .getMethods()
                                .forEach(method -> routes.add(method + " " + path))));
        return routes;
    }

    public Snapshot snapshot() {
        return context.getBean(SnapshotStore.class).snapshot();
    }

    /** The snapshot as it would be made anew at a start. */
    public Snapshot rebuilt() {
        return SnapshotStoreFixture.rebuilt(context);
    }

    /** The folder in which the server keeps everything. */
    public Path folder() {
        return data;
    }

    public URI address() {
        return address;
    }

    /** The file that holds the token of {@link #machine()}. */
    public Path tokenFile() {
        return data.resolve("import-token");
    }

    public Client nobody() {
        return new Client(address, null);
    }

    public Client withToken(String token) {
        return new Client(address, token);
    }

    /** The machine whose token stands in the data folder; it may bring any document. */
    public Client machine() {
        try {
            return new Client(address, Files.readString(tokenFile()).strip());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    public Client person(String login) {
        return nobody().signedIn(login, "skerry-line");
    }

    public Client analyst() {
        return person("m.aldane");
    }

    public Client reader() {
        return person("j.fenn");
    }

    public Client approver() {
        return person("h.marsh");
    }

    public Client administrator() {
        return person("k.strand");
    }
}
