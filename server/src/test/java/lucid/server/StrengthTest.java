package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** Nobody takes the server away from the others: not by much, not by many, not by being slow. */
class StrengthTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer("--trusted-proxy", "127.0.0.1", "--strict-transport-days", "30");

    private static final int LIMIT_MILLIS = 120_000;

    /** A connection on which a request is written by hand. */
    private static Socket connect() throws IOException {
        Socket socket =
                new Socket(InetAddress.getByName("127.0.0.1"), SERVER.address().getPort());
        socket.setSoTimeout(LIMIT_MILLIS);
        return socket;
    }

    private static void write(Socket socket, String text) throws IOException {
        OutputStream out = socket.getOutputStream();
        out.write(text.getBytes(StandardCharsets.UTF_8));
        out.flush();
    }

    private static String firstLine(Socket socket) throws IOException {
        StringBuilder line = new StringBuilder();
        InputStream in = socket.getInputStream();
        for (int sign = in.read(); sign >= 0 && sign != '\r'; sign = in.read()) {
            line.append((char) sign);
        }
        return line.toString();
    }

    // ---- before anybody has signed in

    @Test
    void aLongBodyOfNobodyIsRefusedBeforeItIsRead() throws Exception {
        for (String type : List.of(
                "application/json", "multipart/form-data; boundary=part", "application/x-www-form-urlencoded")) {
            for (String path : List.of("/api/sessions", "/api/documents", "/api/reports")) {
                try (Socket socket = connect()) {
                    write(
                            socket,
                            "POST " + path + " HTTP/1.1\r\nHost: a\r\nContent-Type: " + type
                                    + "\r\nContent-Length: 94371840\r\n\r\n--part\r\n");
                    assertThat(firstLine(socket)).as(path + " " + type).contains(" 413");
                }
            }
        }
    }

    @Test
    void aBodyWhoseLengthNobodyTellsIsCountedWhileItIsRead() throws Exception {
        LucidServer.Client client = SERVER.nobody();
        client.get("/api/sessions/current");
        byte[] body =
                ("{\"name\":\"" + "a".repeat(100_000) + "\",\"password\":\"b\"}").getBytes(StandardCharsets.UTF_8);
        LucidServer.Answer answer = client.send(
                "POST",
                "/api/sessions",
                "application/json",
                BodyPublishers.ofInputStream(() -> new ByteArrayInputStream(body)));
        assertThat(answer.status()).isEqualTo(413);
        assertThat(answer.text()).contains("longer than you may send");
    }

    @Test
    void manySlowBodiesKeepNobodyElseWaiting() throws Exception {
        List<Socket> slow = new ArrayList<>();
        try {
            for (int i = 0; i < 260; i++) {
                Socket socket = connect();
                slow.add(socket);
                write(
                        socket,
                        "POST /api/sessions HTTP/1.1\r\nHost: a\r\nContent-Type: application/json\r\nX-Forwarded-For: 192.0.2."
                                + i % 250 + "\r\nContent-Length: 4000\r\n\r\n{");
            }
            assertThat(SERVER.nobody().get("/docket").status()).isEqualTo(200);
            assertThat(SERVER.withToken("none").get("/api/docket").status()).isEqualTo(401);
            assertThat(SERVER.machine()
                            .report(Examples.host("st-slow", "kiosk", "1.0", Instant.now())
                                    .getBytes(StandardCharsets.UTF_8))
                            .status())
                    .as("machines report")
                    .isEqualTo(200);
        } finally {
            for (Socket socket : slow) {
                socket.close();
            }
        }
    }

    @Test
    void whoSendsTooSlowlyIsNotWaitedFor() throws Exception {
        try (Socket socket = connect()) {
            write(
                    socket,
                    "POST /api/sessions HTTP/1.1\r\nHost: a\r\nCookie: XSRF-TOKEN=t\r\nX-XSRF-TOKEN: t\r\nContent-Type: application/json\r\nContent-Length: 4000\r\n\r\n");
            String[] answer = new String[1];
            Thread reader = new Thread(() -> {
                try {
                    answer[0] = firstLine(socket);
                } catch (IOException e) {
                    answer[0] = "closed";
                }
            });
            reader.start();
            for (int i = 0; i < 3_000 && reader.isAlive(); i++) {
                try {
                    write(socket, " ");
                } catch (IOException e) {
                    break;
                }
                Thread.sleep(30);
            }
            reader.join(LIMIT_MILLIS);
            assertThat(answer[0]).satisfiesAnyOf(line -> assertThat(line).contains(" 408"), line -> assertThat(line)
                    .isIn("closed", ""));
        }
    }

    @Test
    void guessesAtTheSameMomentAreCountedOneByOne() throws Exception {
        ExecutorService crowd = Executors.newFixedThreadPool(24);
        List<Callable<Integer>> guesses = new ArrayList<>();
        for (int i = 0; i < 150; i++) {
            guesses.add(() -> {
                LucidServer.Client client = SERVER.nobody();
                client.get("/api/sessions/current");
                return client.post(
                                "/api/sessions",
                                Map.of("name", "b.tove", "password", "guess"),
                                "X-Forwarded-For",
                                "198.51.100.7")
                        .status();
            });
        }
        long begun = System.nanoTime();
        long evaluated = 0;
        for (Future<Integer> guess : crowd.invokeAll(guesses)) {
            evaluated += guess.get() == 401 ? 1 : 0;
        }
        crowd.shutdown();
        assertThat(evaluated).isLessThanOrEqualTo(5 + waitsOver(Duration.ofNanos(System.nanoTime() - begun)));
        LucidServer.Client owner = SERVER.nobody();
        owner.get("/api/sessions/current");
        assertThat(owner.post(
                                "/api/sessions",
                                Map.of("name", "b.tove", "password", "skerry-line"),
                                "X-Forwarded-For",
                                "198.51.100.8")
                        .status())
                .as("its person is not shut out")
                .isEqualTo(200);
    }

    /** On a slow machine some waits, each twice as long as the one before, are over before all have guessed. */
    private static int waitsOver(Duration passed) {
        int over = 0;
        for (long wait = 4, left = passed.toSeconds() + 1; left >= wait; wait *= 2) {
            left -= wait;
            over++;
        }
        return over;
    }

    // ---- proxies

    @Test
    void aTrustedProxyTellsTheAddressAndHttps() {
        LucidServer.Client guesser = SERVER.nobody();
        guesser.get("/api/sessions/current");
        int status = 401;
        for (int i = 0; i < 60 && status != 429; i++) {
            status = guesser.post(
                            "/api/sessions",
                            Map.of("name", "proxied-" + i, "password", "guess"),
                            "X-Forwarded-For",
                            "203.0.113.5")
                    .status();
        }
        assertThat(status).as("whatever name is tried from there").isEqualTo(429);
        assertThat(guesser.post(
                                "/api/sessions",
                                Map.of("name", "m.aldane", "password", "skerry-line"),
                                "X-Forwarded-For",
                                "203.0.113.6")
                        .status())
                .as("another behind the same proxy")
                .isEqualTo(200);
        LucidServer.Answer secure = guesser.post(
                "/api/sessions",
                Map.of("name", "j.fenn", "password", "skerry-line"),
                "X-Forwarded-For",
                "203.0.113.9",
                "X-Forwarded-Proto",
                "https");
        assertThat(secure.headers().allValues("Set-Cookie"))
                .filteredOn(cookie -> cookie.startsWith("JSESSIONID"))
                .allSatisfy(cookie -> assertThat(cookie).contains("Secure", "HttpOnly", "SameSite=Strict"));
        assertThat(secure.headers().firstValue("Strict-Transport-Security")).contains("max-age=2592000");
    }

    // ---- hosts

    private static LucidServer.Client host(String name) {
        return SERVER.withToken(SERVER.administrator()
                .post("/api/tokens", Map.of("name", "t-" + name, "scope", "HOST", "host", name))
                .json()
                .path("token")
                .asString());
    }

    private static byte[] report(String host, int products, String prefix) {
        return report(host, products, prefix, "1");
    }

    private static byte[] report(String host, int products, String prefix, String version) {
        StringBuilder report = new StringBuilder(
                "{\"t\":\"host\",\"host\":\"" + host + "\",\"platform\":\"p\",\"at\":\"" + Instant.now() + "\"}\n");
        for (int i = 0; i < products; i++) {
            report.append("{\"t\":\"product\",\"purl\":\"pkg:generic/")
                    .append(prefix)
                    .append(i)
                    .append("\",\"version\":\"")
                    .append(version)
                    .append("\"}\n");
        }
        return report.append("{\"t\":\"end\",\"lines\":")
                .append(products + 1)
                .append("}\n")
                .toString()
                .getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void aHostCannotSendMoreThanAHostHas() {
        LucidServer.Client host = host("st-many");
        assertThat(host.report(report("st-many", 20_001, "much-")).text()).contains("more than 20000 products");
        assertThat(host.report(new byte[9 * 1024 * 1024]).status()).isEqualTo(413);
    }

    @Test
    void namesThatAHostMakesUpWaitForAPerson() {
        LucidServer.Client host = host("st-names");
        assertThat(host.report(report("st-names", 400, "first-")).text()).contains("ACCEPTED");
        LucidServer.Answer made = host.report(report("st-names", 6_000, "made-up-"));
        assertThat(made.json().path("outcome").asString()).isEqualTo("WAITING");
        assertThat(SERVER.reader().get("/api/hosts/st-names").text()).doesNotContain("made-up-1");
        long number = made.json().path("number").asLong();
        assertThat(SERVER.analyst()
                        .post("/api/documents/" + number + "/retries", Map.of("columns", Map.of()))
                        .json()
                        .path("outcome")
                        .asString())
                .as("who has looked at it takes it")
                .isEqualTo("ACCEPTED");
    }

    @Test
    void whoChangesMuchReportsLessOften() {
        for (String version : List.of("1", "2")) {
            assertThat(SERVER.machine()
                            .report(report("st-flips-" + version, 20_000, "flip-", version))
                            .text())
                    .contains("ACCEPTED");
        }
        LucidServer.Client host = host("st-flips");
        List<Integer> answers = new ArrayList<>();
        for (String version : List.of("2", "1", "2", "1")) {
            answers.add(
                    host.report(report("st-flips", 20_000, "flip-", version)).status());
        }
        assertThat(answers).containsExactly(200, 200, 429, 429);
    }

    @Test
    void whatAHostIsRefusedDoesNotFillTheDisk() {
        LucidServer.Client host = host("st-refused");
        for (int i = 0; i < 30; i++) {
            assertThat(host.report(("{\"t\":\"host\"} " + i).getBytes(StandardCharsets.UTF_8))
                            .status())
                    .isEqualTo(422);
        }
        LucidServer.Answer often = host.report("{\"t\":\"host\"}".getBytes(StandardCharsets.UTF_8));
        assertThat(often.status()).as("nor does it keep the writer busy").isEqualTo(429);
        assertThat(often.headers().firstValue("Retry-After")).isPresent();
        int lines = 0;
        int kept = 0;
        for (JsonNode document : SERVER.reader().get("/api/documents").json().path("documents")) {
            if (document.path("sender").asString().equals("Machine t-st-refused")) {
                lines++;
                kept += document.path("kept").asBoolean() ? 1 : 0;
            }
        }
        assertThat(lines).isLessThanOrEqualTo(20);
        assertThat(kept).isLessThanOrEqualTo(3);
        assertThat(SERVER.reader().get("/api/record").text())
                .as("nor the record")
                .doesNotContain("Refused: host report")
                .doesNotContain("Machine t-st-refused");
    }

    @Test
    void uploadsThatAreRefusedLeaveNoFile() throws Exception {
        LucidServer.Answer answer = SERVER.reader().documents(Map.of("large.json", "x".repeat(3_000_000)));
        assertThat(answer.status()).isEqualTo(403);
        try (Stream<Path> files = Files.list(SERVER.folder().resolve("uploads"))) {
            assertThat(files).isEmpty();
        }
    }

    // ---- feeds

    @Test
    void aSlowFeedDelaysNoOther() throws Exception {
        CountDownLatch release = new CountDownLatch(1);
        CountDownLatch reached = new CountDownLatch(1);
        HttpServer outside = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        outside.setExecutor(Executors.newCachedThreadPool());
        outside.createContext("/", exchange -> {
            if (exchange.getRequestURI().getPath().equals("/slow")) {
                reached.countDown();
                try {
                    release.await(2, TimeUnit.MINUTES);
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                }
            }
            byte[] content = Examples.notice(
                            "FEED" + exchange.getRequestURI().getPath().replace('/', '-'), "1", "2.0")
                    .getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(200, content.length);
            exchange.getResponseBody().write(content);
            exchange.close();
        });
        outside.start();
        LucidServer.Client administrator = SERVER.administrator();
        administrator.post("/api/allowed-hosts", Map.of("name", "127.0.0.1"));
        try {
            for (String name : List.of("slow", "quick")) {
                administrator.post(
                        "/api/feeds",
                        Map.of(
                                "name",
                                name,
                                "kind",
                                "DOCUMENT",
                                "address",
                                "http://127.0.0.1:" + outside.getAddress().getPort() + "/" + name,
                                "everyMinutes",
                                60));
            }
            assertThat(reached.await(2, TimeUnit.MINUTES)).isTrue();
            await().atMost(Duration.ofMinutes(2))
                    .untilAsserted(() ->
                            assertThat(administrator.get("/api/feeds").text()).contains("accepted: FEED-quick"));
            assertThat(administrator.get("/api/feeds").text()).doesNotContain("FEED-slow");
        } finally {
            release.countDown();
            outside.stop(0);
            administrator.delete("/api/feeds/slow");
            administrator.delete("/api/feeds/quick");
        }
    }
}
