package lucid.bench;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.CookieManager;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;
import lucid.core.fleet.InstalledProduct;
import org.springframework.util.FileSystemUtils;

/**
 * The real program with the large fleet, spoken to as hosts do: documents in one batch, the first reports of all hosts,
 * durable reports per second, twelve months of changes, start to ready, heap and disk. Everything on this machine,
 * server and load on the same cores.
 */
final class ServerLoad {

    private static final int PORT = 8055;
    /** The demo's. */
    private static final String ANALYST = "m.aldane";

    private static final String ADMINISTRATOR = "k.strand";
    private static final String PASSWORD = "skerry-line";
    private static final int CLIENTS = 32;
    private static final int TIMED_REPORTS = 20_000;
    private static final int DOCUMENTS = number("LUCID_BENCH_UPDATES", 10_000);
    /** Whoever asks about something else leaves the storm out. */
    private static final boolean STORMS = !"no".equals(System.getenv("LUCID_BENCH_STORM"));
    /** Twelve, unless somebody is in a hurry. */
    private static final int MONTHS = number("LUCID_BENCH_MONTHS", 12);
    /** How many products change on each host in a month. */
    private static final int CHANGES = number("LUCID_BENCH_CHANGES", 4);
    /** In the last months every thirtieth host reports each day, and each night is counted and kept. */
    private static final int MONTHS_BY_NIGHT = Math.min(MONTHS, number("LUCID_BENCH_MONTHS_BY_NIGHT", 3));

    private static final int DAYS = 30;

    /** So long before the load began the hosts of the storm say they reported. */
    private static final Duration STORM = Duration.ofHours(1);

    private final Path jar;
    private final Path data;
    private final LargeFleet large = new LargeFleet();
    private final HttpClient http = HttpClient.newHttpClient();
    /** When the first hosts report: a server with the demo's clock begins so long ago. */
    private final Instant begun = Instant.now().truncatedTo(ChronoUnit.SECONDS).minus(Duration.ofDays(90));

    private final Instant now = begun.plus(Duration.ofDays((long) DAYS * MONTHS));
    private Process server;
    private String token;

    private ServerLoad(Path jar, Path data) {
        this.jar = jar;
        this.data = data;
    }

    public static void main(String[] arguments) throws Exception {
        // The server ends what is idle for 20 seconds: none that it may have ended is used again.
        System.setProperty("jdk.httpclient.keepalive.timeout", "10");
        // A folder that is named is kept, to look at the large fleet with the product itself.
        Optional<Path> named =
                Optional.ofNullable(System.getenv("LUCID_BENCH_FOLDER")).map(Path::of);
        Path folder =
                named.isPresent() ? Files.createDirectories(named.get()) : Files.createTempDirectory("lucid-load");
        ServerLoad load = new ServerLoad(Path.of(arguments[0]).toAbsolutePath(), folder.resolve("data"));
        try {
            load.run(folder);
        } finally {
            load.stop();
            if (named.isEmpty()) {
                FileSystemUtils.deleteRecursively(folder);
            }
        }
    }

    private void run(Path folder) throws Exception {
        start("empty");
        batchOfDocuments(folder);
        String populations = large.ladder.populations().stream()
                .map(p -> "{\"id\":\"" + p.id() + "\",\"name\":\"" + p.name() + "\",\"condition\":\"" + p.condition()
                        + "\",\"tier\":" + p.tier() + ",\"rule\":{\"otherwise\":7}}")
                .collect(Collectors.joining(","));
        savePopulations("{\"format\":\"populations-1\",\"fleetRule\":{\"otherwise\":\"never\"},\"populations\":["
                + populations + "]}");
        // Each host reports for the first time, 500 hosts a request.
        timed("first reports of 50,000 hosts", () -> sendAll(requestsOf(0, begun, 0, LargeFleet.HOSTS), false));
        for (int month = 1; month <= MONTHS; month++) {
            month(month);
        }
        Person analyst = Person.signedIn(ANALYST, PASSWORD);
        try (Reader reader = new Reader(analyst, "while reports are taken as fast as they go")) {
            warmUpAndMeasureReports();
        }
        int stormed = STORMS ? storm(analyst) : 0;
        System.out.printf("database: %d MB%n", Files.size(data.resolve("lucid.mv.db")) / 1_000_000);
        stop();
        start("large fleet");
        // The demo's clock begins anew with each start.
        advance(DAYS * MONTHS);
        System.out.println("heap after a full collection: " + heap());
        if (STORMS) {
            whatTheStormTold(stormed);
        }
        questions();
        export();
    }

    /** The month's reports come in large requests too, so that the history is there without an hour of waiting. */
    private void month(int month) throws Exception {
        Instant start = begun.plus(Duration.ofDays((long) DAYS * (month - 1)));
        if (month <= MONTHS - MONTHS_BY_NIGHT) {
            advance(DAYS);
            timed(
                    "month %d, %d products changed on every host".formatted(month, CHANGES),
                    () -> sendAll(
                            requestsOf(
                                    month,
                                    start.plus(Duration.ofDays(DAYS)).minus(Duration.ofHours(12)),
                                    0,
                                    LargeFleet.HOSTS),
                            false));
            return;
        }
        double[] nights = new double[DAYS];
        long since = System.nanoTime();
        for (int day = 0; day < DAYS; day++) {
            int from = LargeFleet.HOSTS * day / DAYS;
            sendAll(
                    requestsOf(month, start.plus(Duration.ofDays(day)), from, LargeFleet.HOSTS * (day + 1) / DAYS),
                    false);
            long night = System.nanoTime();
            advance(1);
            nights[day] = (System.nanoTime() - night) / 1e9;
        }
        Arrays.sort(nights);
        System.out.printf(
                "month %d, day by day: %.1f s; a night counted and kept: median %.1f s, at most %.1f s%n",
                month, (System.nanoTime() - since) / 1e9, nights[DAYS / 2], nights[DAYS - 1]);
    }

    /** Answered when the nights in between are kept. */
    private void advance(int days) throws Exception {
        HttpResponse<String> answer = http.send(
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + PORT + "/api/clock/advances"))
                        .header("Authorization", "Bearer " + token)
                        .header("Content-Type", "application/json")
                        .POST(BodyPublishers.ofString("{\"hours\":" + 24 * days + "}"))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        if (answer.statusCode() != 200) {
            throw new IllegalStateException("the clock was answered with " + answer.statusCode() + answer.body());
        }
    }

    private static int number(String name, int otherwise) {
        return Integer.parseInt(System.getenv().getOrDefault(name, String.valueOf(otherwise)));
    }

    /** All hosts at once, each with a token of its own; how many there were. */
    private int storm(Person analyst) throws Exception {
        List<String> tokens = hostTokens();
        HostStorm.Passed passed;
        try (Reader reader = new Reader(analyst, "in the storm")) {
            passed = new HostStorm(http, PORT, tokens).pass(host -> report(host, 2, STORM));
        }
        System.out.printf(
                "storm of %,d hosts: all acknowledged after %.0f s (%.0f a second), sent away %,d times, for up to %d s;"
                        + " without an answer %,d times; memory of the server at most %s%n",
                tokens.size(),
                passed.seconds(),
                tokens.size() / passed.seconds(),
                passed.sentAway(),
                passed.longest(),
                passed.unanswered(),
                mostMemory());
        return tokens.size();
    }

    private LocalDate daysAgo(int days) {
        return LocalDate.ofInstant(now, ZoneOffset.UTC).minusDays(days);
    }

    /** Every host and update that it lacks, as one file: how many lines, how long, and how much memory it took. */
    private void export() throws Exception {
        Person person = Person.signedIn(ANALYST, PASSWORD);
        long begun = System.nanoTime();
        long lines = person.lines("/api/carriers/missing.csv", 3_000_000);
        double seconds = (System.nanoTime() - begun) / 1e9;
        System.out.printf(
                "export of who lacks what: %,d lines in %.0f s (%,.0f a second); memory of the server at most %s%n",
                lines, seconds, lines / seconds, mostMemory());
    }

    private void start(String what) throws Exception {
        long begun = System.nanoTime();
        server = new ProcessBuilder(
                        "java",
                        "-Xmx1536m",
                        "-jar",
                        jar.toString(),
                        "run",
                        "--demo",
                        "--data",
                        data.toString(),
                        "--port",
                        String.valueOf(PORT))
                .redirectErrorStream(true)
                .redirectOutput(data.resolveSibling("server-" + what.replace(' ', '-') + ".log")
                        .toFile())
                .start();
        Path address = data.resolve("address");
        while (!Files.exists(address)) {
            if (!server.isAlive()) {
                throw new IllegalStateException("the server did not start");
            }
            Thread.sleep(20);
        }
        System.out.printf("start to ready, %s: %.1f s%n", what, (System.nanoTime() - begun) / 1e9);
        token = Files.readString(data.resolve("import-token")).strip();
    }

    private void stop() throws Exception {
        if (server != null) {
            server.destroy();
            server.waitFor(60, TimeUnit.SECONDS);
            server.destroyForcibly();
            Files.deleteIfExists(data.resolve("address"));
        }
    }

    private interface Work {
        void run() throws Exception;
    }

    private static void timed(String what, Work work) throws Exception {
        long begun = System.nanoTime();
        work.run();
        System.out.printf("%s: %.1f s%n", what, (System.nanoTime() - begun) / 1e9);
    }

    private void command(List<String> words) throws Exception {
        List<String> command = new ArrayList<>(List.of("java", "-jar", jar.toString()));
        command.addAll(words);
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        if (process.waitFor() != 0) {
            throw new IllegalStateException(said.lines()
                    .filter(line -> line.startsWith("refused"))
                    .findFirst()
                    .orElse(said));
        }
    }

    // ---- documents

    /** CSAF documents with one command; the first 3,000 of them are of the fleet's products. */
    private void batchOfDocuments(Path folder) throws Exception {
        Path documents = Files.createDirectory(folder.resolve("csaf"));
        List<String> words = new ArrayList<>(List.of("import"));
        for (int i = 0; i < DOCUMENTS; i++) {
            InstalledProduct fixed = i < LargeFleet.UPDATES
                    ? large.facts.get(large.productOfUpdate[i]).get(large.fixedInVersion[i])
                    : large.facts.get(i % large.facts.size()).get(1);
            words.add(Files.writeString(documents.resolve("a" + i + ".json"), advisory(i, fixed))
                    .toString());
        }
        words.addAll(List.of("--data", data.toString()));
        timed("%,d CSAF documents in one batch".formatted(DOCUMENTS), () -> command(words));
    }

    private String advisory(int i, InstalledProduct fixed) {
        Instant published = begun.minus(Duration.ofDays(380)).plus(Duration.ofHours(i % 8_000));
        return """
                {"document":{"category":"csaf_security_advisory","csaf_version":"2.0","title":"Advisory %1$d","publisher":{"category":"vendor","name":"Tarn","namespace":"https://tarn.example"},
                "aggregate_severity":{"text":"Moderate"},"tracking":{"id":"BIG-%1$d","status":"final","version":"1","initial_release_date":"%2$s","current_release_date":"%2$s",
                "revision_history":[{"date":"%2$s","number":"1","summary":"First."}]}},
                "product_tree":{"full_product_names":[{"product_id":"P","name":"P","product_identification_helper":{"purl":"%3$s"}}]},
                "vulnerabilities":[{"cve":"CVE-2026-%4$d","product_status":{"fixed":["P"]},"scores":[{"products":["P"],"cvss_v3":{"version":"3.1","baseScore":5.5,"vectorString":"CVSS:3.1/AV:L/AC:L/PR:L/UI:N/S:U/C:N/I:N/A:H"}}]}]}
                """.formatted(
                        i,
                        published,
                        fixed.build().product().at(fixed.version()) + "?arch="
                                + fixed.build().arch(),
                        9_000_000 + i);
    }

    // ---- reports

    /** Versions of a host after some months: one in a hundred facts is another each month. */
    private List<InstalledProduct> productsAfter(int host, int months) {
        int inventory = large.inventoryOf(host);
        List<InstalledProduct> products = new ArrayList<>(large.inventory(inventory));
        for (int month = 1; month <= months; month++) {
            for (int i = 0; i < CHANGES; i++) {
                int at = Math.floorMod(host * 31 + month * 7919 + i * 97, products.size());
                List<InstalledProduct> known = large.facts.get(large.products[inventory][at]);
                products.set(at, known.get((known.indexOf(products.get(at)) + 1) % known.size()));
            }
        }
        return products;
    }

    private String lines(int host, int months, Instant at) {
        List<InstalledProduct> products = productsAfter(host, months);
        StringBuilder text = new StringBuilder("{\"t\":\"host\",\"host\":\"host-" + host + "\",\"platform\":\""
                + LargeFleet.platform(host) + "\",\"at\":\"" + at + "\",\"lastStart\":\""
                + at.minus(Duration.ofHours(6)) + "\",\"supply\":\"mirror\",\"traits\":{");
        text.append(LargeFleet.traits(host).entrySet().stream()
                .map(t -> "\"" + t.getKey() + "\":"
                        + (t.getKey().equals("spool_free_mb") ? t.getValue() : "\"" + t.getValue() + "\""))
                .collect(Collectors.joining(",")));
        text.append("}}\n");
        for (InstalledProduct product : products) {
            text.append("{\"t\":\"product\",\"purl\":\"")
                    .append(product.build().product().purl())
                    .append("?arch=")
                    .append(product.build().arch())
                    .append("\",\"version\":\"")
                    .append(product.version())
                    .append("\"}\n");
        }
        return text.append("{\"t\":\"end\",\"lines\":")
                .append(products.size() + 1)
                .append("}\n")
                .toString();
    }

    /** What some hosts report at an instant, after so many months of changes, at most 500 hosts a request. */
    private Stream<byte[]> requestsOf(int months, Instant at, int first, int before) {
        return Stream.iterate(first, from -> from < before, from -> from + 500).map(from -> {
            StringBuilder text = new StringBuilder();
            for (int host = from; host < Math.min(from + 500, before); host++) {
                text.append(lines(host, months, at));
            }
            return compressed(text.toString());
        });
    }

    private static byte[] compressed(String text) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(bytes)) {
            gzip.write(text.getBytes(StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        return bytes.toByteArray();
    }

    private void warmUpAndMeasureReports() throws Exception {
        List<Integer> hosts =
                new ArrayList<>(IntStream.range(0, LargeFleet.HOSTS).boxed().toList());
        Collections.shuffle(hosts, new Random(1));
        sendAll(oneByOne(hosts.subList(0, 5_000)), true);
        List<byte[]> bodies =
                oneByOne(hosts.subList(5_000, 5_000 + TIMED_REPORTS)).toList();
        long begun = System.nanoTime();
        double[] milliseconds = sendAll(bodies.stream(), true);
        double seconds = (System.nanoTime() - begun) / 1e9;
        Arrays.sort(milliseconds);
        System.out.printf(
                "durable host reports through HTTP, one host a request, %d clients: %.0f a second, median %.0f ms, 99 %% %.0f ms%n",
                CLIENTS,
                bodies.size() / seconds,
                milliseconds[milliseconds.length / 2],
                milliseconds[milliseconds.length * 99 / 100]);
    }

    /** A report of each of these hosts, with 1 % changed facts since its last. */
    private Stream<byte[]> oneByOne(List<Integer> hosts) {
        return hosts.stream().map(host -> report(host, 1, Duration.ofHours(2)));
    }

    private byte[] report(int host, int monthsOn, Duration ago) {
        return compressed(lines(host, MONTHS + monthsOn, now.minus(ago)));
    }

    /** One for each host. */
    private List<String> hostTokens() throws Exception {
        Person administrator = Person.signedIn(ADMINISTRATOR, PASSWORD);
        ExecutorService makers = Executors.newFixedThreadPool(8);
        List<Future<String>> made = IntStream.range(0, LargeFleet.HOSTS)
                .mapToObj(host -> makers.submit(() -> administrator
                        .answer(
                                "POST",
                                "/api/tokens",
                                "{\"name\":\"storm-%1$d\",\"scope\":\"HOST\",\"host\":\"host-%1$d\",\"formats\":[]}"
                                        .formatted(host))
                        .body()
                        .replaceAll(".*\"token\":\"([^\"]+)\".*", "$1")))
                .toList();
        List<String> tokens = new ArrayList<>();
        for (Future<String> one : made) {
            tokens.add(one.get());
        }
        makers.shutdown();
        return tokens;
    }

    private void whatTheStormTold(int hosts) throws Exception {
        Person person = Person.signedIn(ANALYST, PASSWORD);
        String at = "\"lastReport\":\"" + now.minus(STORM) + "\"";
        int asked = 0;
        int kept = 0;
        for (int host = 0; host < hosts; host += 97) {
            asked++;
            kept += person.answer("GET", "/api/hosts/host-" + host, "").body().contains(at) ? 1 : 0;
        }
        System.out.printf("after a restart %d of %d hosts stand as they reported in the storm%n", kept, asked);
    }

    private String mostMemory() throws IOException {
        return Files.readAllLines(Path.of("/proc", String.valueOf(server.pid()), "status")).stream()
                .filter(line -> line.startsWith("VmHWM"))
                .map(line -> line.replaceAll("\\D", ""))
                .map(kilobytes -> Long.parseLong(kilobytes) / 1024 + " MB")
                .findFirst()
                .orElse("not told");
    }

    /** Somebody who looks at one page after the other, four in a second, while something else goes on. */
    private static final class Reader implements AutoCloseable {
        private final List<Double> milliseconds = Collections.synchronizedList(new ArrayList<>());
        private final AtomicInteger refused = new AtomicInteger();
        private final String meanwhile;
        private final Thread thread;

        Reader(Person person, String meanwhile) {
            this.meanwhile = meanwhile;
            List<String> pages =
                    List.of("/api/hosts/host-4711", "/api/carriers/BIG-17", "/api/search?text=host-471", "/api/docket");
            this.thread = new Thread(() -> {
                try {
                    for (int i = 0; ; i++) {
                        long begun = System.nanoTime();
                        int status = person.ask("GET", pages.get(i % pages.size()), "");
                        milliseconds.add((System.nanoTime() - begun) / 1e6);
                        refused.addAndGet(status == 200 ? 0 : 1);
                        Thread.sleep(250);
                    }
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                } catch (Exception e) {
                    throw new IllegalStateException(e);
                }
            });
            thread.start();
        }

        @Override
        public void close() throws InterruptedException {
            thread.interrupt();
            thread.join();
            List<Double> sorted = milliseconds.stream().sorted().toList();
            System.out.printf(
                    "a reader %s: %d pages, median %.0f ms, 95 %% %.0f ms, at most %.0f ms; refused %d%n",
                    meanwhile,
                    sorted.size(),
                    sorted.get(sorted.size() / 2),
                    sorted.get(sorted.size() * 95 / 100),
                    sorted.get(sorted.size() - 1),
                    refused.get());
        }
    }

    /** @return how long each took, in milliseconds */
    private double[] sendAll(Stream<byte[]> bodies, boolean crowd) throws Exception {
        ExecutorService clients = Executors.newFixedThreadPool(crowd ? CLIENTS : 2);
        AtomicInteger failed = new AtomicInteger();
        List<Future<Double>> answers = new ArrayList<>();
        bodies.forEach(body -> answers.add(clients.submit(() -> {
            long begun = System.nanoTime();
            HttpResponse<String> answer = http.send(
                    HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + PORT + "/api/reports"))
                            .header("Authorization", "Bearer " + token)
                            .header("Content-Type", "application/x-ndjson")
                            .header("Content-Encoding", "gzip")
                            .POST(BodyPublishers.ofByteArray(body))
                            .build(),
                    HttpResponse.BodyHandlers.ofString());
            if (answer.statusCode() != 200) {
                System.out.println(answer.body());
                failed.incrementAndGet();
            }
            return (System.nanoTime() - begun) / 1e6;
        })));
        double[] milliseconds = new double[answers.size()];
        for (int i = 0; i < milliseconds.length; i++) {
            milliseconds[i] = answers.get(i).get();
        }
        clients.shutdown();
        if (failed.get() > 0) {
            throw new IllegalStateException(failed + " reports were not taken");
        }
        return milliseconds;
    }

    // ---- memory and pages

    private String heap() throws Exception {
        for (String what : List.of("GC.run", "GC.heap_info")) {
            Process jcmd = new ProcessBuilder("jcmd", String.valueOf(server.pid()), what)
                    .redirectErrorStream(true)
                    .start();
            String said = new String(jcmd.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            jcmd.waitFor();
            if (what.equals("GC.heap_info")) {
                return said.lines()
                        .filter(line -> line.contains("used"))
                        .findFirst()
                        .orElse(said)
                        .strip();
            }
        }
        return "not told";
    }

    /** Somebody who is signed in. */
    private record Person(HttpClient http, CookieManager cookies) {
        static Person signedIn(String name, String password) throws Exception {
            CookieManager cookies = new CookieManager();
            Person person =
                    new Person(HttpClient.newBuilder().cookieHandler(cookies).build(), cookies);
            person.ask("GET", "/api/sessions/current", "");
            person.ask("POST", "/api/sessions", "{\"name\":\"" + name + "\",\"password\":\"" + password + "\"}");
            return person;
        }

        int ask(String method, String path, String body) throws Exception {
            return answer(method, path, body).statusCode();
        }

        /** Reads a file line by line, at most so many, and counts them. */
        long lines(String path, long most) throws Exception {
            try (Stream<String> lines = http.send(request("GET", path, "").build(), HttpResponse.BodyHandlers.ofLines())
                    .body()) {
                return lines.limit(most).count();
            }
        }

        HttpResponse<String> answer(String method, String path, String body) throws Exception {
            return http.send(request(method, path, body).build(), HttpResponse.BodyHandlers.ofString());
        }

        private HttpRequest.Builder request(String method, String path, String body) {
            HttpRequest.Builder request = HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + PORT + path))
                    .header("Content-Type", "application/json")
                    .header("If-Match", "*")
                    .method(method, BodyPublishers.ofString(body));
            cookies.getCookieStore().getCookies().stream()
                    .filter(cookie -> cookie.getName().equals("XSRF-TOKEN"))
                    .forEach(cookie -> request.header("X-XSRF-TOKEN", cookie.getValue()));
            return request;
        }
    }

    private void savePopulations(String document) throws Exception {
        int status = Person.signedIn(ANALYST, PASSWORD).ask("PUT", "/api/populations", document);
        if (status != 200) {
            throw new IllegalStateException("the populations were answered with " + status);
        }
    }

    /** What a person would wait for, asked three times. */
    private void questions() throws Exception {
        Person person = Person.signedIn(ANALYST, PASSWORD);
        for (String path : List.of(
                "/api/carriers/BIG-17",
                "/api/carriers/BIG-17/hosts",
                "/api/carriers/BIG-17/past?on=" + daysAgo(89),
                "/api/carriers/BIG-18/past/hosts?on=" + daysAgo(89),
                "/api/carriers/BIG-19/difference?from=" + daysAgo(89),
                "/api/in-force/past?on=" + daysAgo(1),
                "/api/hosts/host-4711",
                "/api/hosts?lacks=CVE-2026-9000017",
                "/api/search?text=host-471",
                "/api/hosts?differing=true",
                "/api/populations",
                "/api/carriers",
                "/api/carriers?on=" + daysAgo(MONTHS_BY_NIGHT * DAYS - 1),
                "/api/carriers?on=" + daysAgo(MONTHS_BY_NIGHT * DAYS / 2),
                "/api/carriers/changes?from=" + daysAgo(MONTHS_BY_NIGHT * DAYS - 1) + "&to=" + daysAgo(1),
                "/api/carriers?face=IN_FORCE",
                "/api/carriers?sort=LACKING&rating=CRITICAL",
                "/api/carriers/missing.csv?rating=CRITICAL",
                "/api/report/time-to-carry",
                "/api/report/withheld",
                "/api/digest",
                "/api/docket")) {
            StringBuilder times = new StringBuilder();
            for (int i = 0; i < 3; i++) {
                long begun = System.nanoTime();
                int status = person.ask("GET", path, "");
                times.append(String.format(" %.0f ms", (System.nanoTime() - begun) / 1e6))
                        .append(status == 200 ? "" : " (" + status + ")");
            }
            System.out.println(path + ":" + times);
        }
    }
}
