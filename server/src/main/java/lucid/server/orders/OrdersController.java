package lucid.server.orders;

import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.Duration;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.server.access.Caller;
import lucid.server.clock.ClockMoved;
import lucid.server.operators.Operators;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ETags;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.context.event.EventListener;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.context.request.async.DeferredResult;

/**
 * What a host is told to do, and what it says became of it. A host that has the newest orders may wait for the next
 * ones, and is answered as soon as they are there.
 */
@RestController
class OrdersController {

    /** Compact serialization of a JSON Web Signature (RFC 7515, section 9.2.1). */
    private static final String JOSE = "application/jose";

    private static final int LONGEST_WAIT = 300;

    private final OrderDesk desk;
    private final Receipts receipts;
    private final SigningKey key;
    private final Clock clock;

    /** Who waits, by number; one of each host. */
    private final Map<Integer, Waiting> waiting = new ConcurrentHashMap<>();

    private static final int CORES = Runtime.getRuntime().availableProcessors();

    /**
     * What is urgent reaches all who wait as quickly as all cores can word it; what comes as it stops is for nobody.
     */
    private final ExecutorService teller = new ThreadPoolExecutor(
            CORES,
            CORES,
            0,
            TimeUnit.SECONDS,
            new LinkedBlockingQueue<>(),
            task -> {
                Thread thread = new Thread(task, "orders");
                thread.setDaemon(true);
                return thread;
            },
            new ThreadPoolExecutor.DiscardPolicy());

    private record Waiting(Host host, String tag, DeferredResult<ResponseEntity<String>> answer) {}

    OrdersController(OrderDesk desk, Receipts receipts, SigningKey key, Clock clock) {
        this.desk = desk;
        this.receipts = receipts;
        this.key = key;
        this.clock = clock;
    }

    /**
     * The orders of a host as a JSON Web Signature, whose content is of the schema {@code orders-1}.
     *
     * @param ifNoneMatch the ETag of the orders that it keeps: then nothing comes until something else holds
     * @param wait how many seconds it waits for that, at most 300
     */
    @GetMapping(path = "/api/orders/{host}", produces = JOSE)
    DeferredResult<ResponseEntity<String>> orders(
            @PathVariable HostName host,
            @RequestHeader(name = HttpHeaders.IF_NONE_MATCH, required = false) String ifNoneMatch,
            @RequestParam Optional<Integer> wait,
            @AuthenticationPrincipal Caller asks,
            Snapshot snapshot) {
        int seconds = wait.orElse(0);
        if (seconds < 0 || seconds > LONGEST_WAIT) {
            throw ProblemException.badField("wait", "a host waits 0 to " + LONGEST_WAIT + " seconds");
        }
        Host known = known(host, asks, snapshot);
        OrderDesk.Current current = desk.now(known);
        String tag = current.tag();
        if (!ETags.names(ifNoneMatch, ETags.of(tag))) {
            receipts.asks(known);
            return answered(told(known, current));
        }
        receipts.keeps(known, tag);
        if (seconds == 0) {
            return answered(unchanged(tag));
        }
        DeferredResult<ResponseEntity<String>> answer =
                new DeferredResult<>(Duration.ofSeconds(seconds).toMillis());
        Waiting mine = new Waiting(known, tag, answer);
        answer.onTimeout(() -> answer.setResult(unchanged(tag)));
        answer.onCompletion(() -> waiting.remove(known.number(), mine));
        Optional.ofNullable(waiting.put(known.number(), mine))
                .ifPresent(earlier -> earlier.answer().setResult(unchanged(earlier.tag())));
        // What changed before it was known to wait was told to nobody.
        teller.execute(() -> tell(mine));
        return answer;
    }

    private static DeferredResult<ResponseEntity<String>> answered(ResponseEntity<String> answer) {
        DeferredResult<ResponseEntity<String>> result = new DeferredResult<>();
        result.setResult(answer);
        return result;
    }

    private ResponseEntity<String> told(Host host, OrderDesk.Current current) {
        OrderDesk.Signed signed = desk.signed(host, current);
        return dated(ResponseEntity.ok())
                .eTag(ETags.of(signed.tag()))
                .contentType(MediaType.parseMediaType(JOSE))
                .body(signed.compact());
    }

    private ResponseEntity<String> unchanged(String tag) {
        return dated(ResponseEntity.status(HttpStatus.NOT_MODIFIED))
                .eTag(ETags.of(tag))
                .build();
    }

    /** By the time that orders go by, from which a host sees by how much its own clock is off. */
    private ResponseEntity.BodyBuilder dated(ResponseEntity.BodyBuilder answer) {
        return answer.header(
                HttpHeaders.DATE,
                DateTimeFormatter.RFC_1123_DATE_TIME.format(clock.instant().atOffset(ZoneOffset.UTC)));
    }

    private static Host known(HostName host, Caller asks, Snapshot snapshot) {
        // For a host there is no other.
        boolean mayAsk = asks.onlyHost().filter(own -> !own.equals(host)).isEmpty();
        return snapshot.fleet()
                .host(host)
                .filter(one -> mayAsk)
                .orElseThrow(() -> ProblemException.notFound("there is no host " + host));
    }

    @EventListener
    void changed(SnapshotStore.Changed change) {
        tellWhoWaits();
    }

    @EventListener
    void asked(Asks.Asked asked) {
        desk.concern(asked.hosts());
        tellWhoWaits();
    }

    @EventListener
    void said(Operators.Said said) {
        desk.concern(said.hosts());
        tellWhoWaits();
    }

    @EventListener
    void moved(ClockMoved moved) {
        tellWhoWaits();
    }

    private void tellWhoWaits() {
        if (!waiting.isEmpty()) {
            teller.execute(() -> {
                RoaringBitmap hosts = new RoaringBitmap();
                waiting.keySet().forEach(hosts::add);
                desk.mayHaveChanged(hosts).forEach((int host) -> Optional.ofNullable(waiting.get(host))
                        .ifPresent(one -> teller.execute(() -> tell(one))));
            });
        }
    }

    private void tell(Waiting one) {
        OrderDesk.Current current = desk.now(one.host());
        if (!current.tag().equals(one.tag())) {
            one.answer().setResult(told(one.host(), current));
        }
    }

    @PreDestroy
    void stop() {
        waiting.values().forEach(one -> one.answer().setResult(unchanged(one.tag())));
        teller.shutdown();
    }

    /** @param host who says so */
    record HostReceipt(HostName host, Receipt receipt) {}

    /** Takes what hosts say became of their orders; a host's own token says so of that host only. */
    @PostMapping("/api/order-receipts")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void receive(@RequestBody List<HostReceipt> said, @AuthenticationPrincipal Caller asks, Snapshot snapshot) {
        receipts.take(said.stream()
                .map(one -> {
                    if (one.host() == null
                            || one.receipt() == null
                            || one.receipt().state() == null) {
                        throw ProblemException.badField(
                                "receipt", "say which host keeps which orders, and what became of them");
                    }
                    return new Receipts.Said(known(one.host(), asks, snapshot), one.receipt());
                })
                .toList());
    }

    /** The public part of the key that signs orders, for whoever checks them. */
    @GetMapping("/api/orders-key")
    SigningKey.PublicKey key() {
        return key.publicKey();
    }
}
