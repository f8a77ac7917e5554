package lucid.server.events;

import java.io.IOException;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import lucid.server.state.State;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.server.ResponseStatusException;
import org.springframework.web.servlet.mvc.method.annotation.ResponseBodyEmitter;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Tells open browsers that something changed, as server-sent events (WHATWG HTML, section 9.2). An event says no more than that: what is on the
 * screen is then asked for again. Many changes close together are one event.
 */
@RestController
@RequestMapping("/api/events")
class EventsController {

    private static final long TOGETHER_MILLIS = 250;
    private static final long HEARTBEAT_SECONDS = 20;
    private static final int MOST_LISTENERS = 500;

    private final Set<SseEmitter> listeners = ConcurrentHashMap.newKeySet();
    private final AtomicBoolean waiting = new AtomicBoolean();
    private final ScheduledExecutorService sender = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "events");
        thread.setDaemon(true);
        return thread;
    });

    EventsController() {
        // Finds connections that are gone, and keeps proxies from closing quiet ones.
        sender.scheduleAtFixedRate(() -> send(SseEmitter.event().comment("still here")), HEARTBEAT_SECONDS, HEARTBEAT_SECONDS, TimeUnit.SECONDS);
    }

    @GetMapping(produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    SseEmitter listen() throws IOException {
        if (listeners.size() >= MOST_LISTENERS) {
            throw new ResponseStatusException(HttpStatus.SERVICE_UNAVAILABLE, "too many browsers listen");
        }
        SseEmitter listener = new SseEmitter(0L);
        listener.onCompletion(() -> listeners.remove(listener));
        listener.onTimeout(() -> listeners.remove(listener));
        listener.onError(e -> listeners.remove(listener));
        listeners.add(listener);
        listener.send(SseEmitter.event().name("listening").data(""));
        return listener;
    }

    @EventListener
    void changed(State.Changed changed) {
        if (waiting.compareAndSet(false, true)) {
            sender.schedule(() -> {
                waiting.set(false);
                send(SseEmitter.event().name("changed").data(""));
            }, TOGETHER_MILLIS, TimeUnit.MILLISECONDS);
        }
    }

    private void send(SseEmitter.SseEventBuilder event) {
        Set<ResponseBodyEmitter.DataWithMediaType> parts = event.build();
        for (SseEmitter listener : listeners) {
            try {
                listener.send(parts);
            } catch (IOException | IllegalStateException e) {
                listeners.remove(listener);
            }
        }
    }

    /** Before the web server waits for its requests to end: open streams never would. */
    @EventListener(ContextClosedEvent.class)
    void close() {
        sender.shutdownNow();
        listeners.forEach(SseEmitter::complete);
    }
}
