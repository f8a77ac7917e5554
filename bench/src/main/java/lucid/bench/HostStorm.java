package lucid.bench;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.IntFunction;

/**
 * All hosts come at once, as after an outage: each with a token of its own, and each that is sent away comes again when
 * it was told to.
 */
final class HostStorm {

    private static final int CONNECTIONS = 2_000;
    private static final int SECONDS_WHERE_NOTHING_WAS_TOLD = 5;

    private final HttpClient http;
    private final URI reports;
    private final List<String> tokens;
    private final Semaphore connections = new Semaphore(CONNECTIONS);
    private final ScheduledExecutorService clock = Executors.newScheduledThreadPool(1);
    private final CountDownLatch untaken;
    private final AtomicInteger sentAway = new AtomicInteger();
    private final AtomicInteger unanswered = new AtomicInteger();
    private final AtomicInteger longest = new AtomicInteger();

    /** @param tokens of the hosts, by number */
    HostStorm(HttpClient http, int port, List<String> tokens) {
        this.http = http;
        this.reports = URI.create("http://127.0.0.1:" + port + "/api/reports");
        this.tokens = tokens;
        this.untaken = new CountDownLatch(tokens.size());
    }

    /**
     * @param seconds until every report had been acknowledged
     * @param sentAway how often one was told to come again
     * @param unanswered how often one had no answer at all
     * @param longest seconds that one was told to wait
     */
    record Passed(double seconds, int sentAway, int unanswered, int longest) {}

    /** @param report of a host, compressed */
    Passed pass(IntFunction<byte[]> report) throws InterruptedException {
        long begun = System.nanoTime();
        for (int host = 0; host < tokens.size(); host++) {
            connections.acquire();
            send(host, report.apply(host));
        }
        if (!untaken.await(30, TimeUnit.MINUTES)) {
            throw new IllegalStateException(untaken.getCount() + " reports were not taken in half an hour");
        }
        clock.shutdown();
        return new Passed((System.nanoTime() - begun) / 1e9, sentAway.get(), unanswered.get(), longest.get());
    }

    /** One connection is taken by then. */
    private void send(int host, byte[] body) {
        http.sendAsync(
                        HttpRequest.newBuilder(reports)
                                .timeout(Duration.ofMinutes(2))
                                .header("Authorization", "Bearer " + tokens.get(host))
                                .header("Content-Type", "application/x-ndjson")
                                .header("Content-Encoding", "gzip")
                                .POST(BodyPublishers.ofByteArray(body))
                                .build(),
                        HttpResponse.BodyHandlers.ofString())
                .whenComplete((answer, failure) -> {
                    connections.release();
                    if (answer != null && answer.statusCode() == 200) {
                        untaken.countDown();
                        return;
                    }
                    int again = SECONDS_WHERE_NOTHING_WAS_TOLD;
                    if (answer != null && answer.statusCode() == 503) {
                        sentAway.incrementAndGet();
                        again = (int)
                                answer.headers().firstValueAsLong("Retry-After").orElse(again);
                        longest.accumulateAndGet(again, Math::max);
                    } else {
                        unanswered.incrementAndGet();
                    }
                    clock.schedule(() -> again(host, body), again, TimeUnit.SECONDS);
                });
    }

    private void again(int host, byte[] body) {
        if (connections.tryAcquire()) {
            send(host, body);
        } else {
            clock.schedule(() -> again(host, body), 100, TimeUnit.MILLISECONDS);
        }
    }
}
