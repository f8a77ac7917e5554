package lucid.server.events;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.EnumSet;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import lucid.server.access.Caller;
import lucid.server.access.Sessions;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.snapshot.Topic;
import lucid.server.web.ProblemException;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Tells open browsers that something changed, as server-sent events (WHATWG HTML, section 9.2). An event says no more
 * than what it was about: what shows that is then asked for again. Many changes close together are one event. A stream
 * ends with its session; of one person only so many are open, and one that does not take what is sent keeps nobody else
 * waiting.
 */
@RestController
@RequestMapping("/api/events")
class EventsController {

    private static final long TOGETHER_MILLIS = 250;
    private static final long HEARTBEAT_SECONDS = 20;
    private static final int MOST_LISTENERS = 500;
    private static final int MOST_OF_A_PERSON = 20;
    private static final int SENDERS = 4;

    /** A browser that listens. */
    private static final class Listener {
        private final SseEmitter emitter = new SseEmitter(0L);
        private final String login;
        private final String session;
        /** What it is still to be told; guarded by the listener, as the other. */
        private final Set<Topic> untold = EnumSet.noneOf(Topic.class);
        /** True while something is being sent to it. */
        private boolean busy;

        private Listener(String login, String session) {
            this.login = login;
            this.session = session;
        }
    }

    private final Set<Listener> listeners = ConcurrentHashMap.newKeySet();
    private final Map<String, Integer> ofPerson = new ConcurrentHashMap<>();
    /** What changed since the last event; guarded by itself. */
    private final Set<Topic> changed = EnumSet.noneOf(Topic.class);

    private final ScheduledExecutorService timer =
            Executors.newSingleThreadScheduledExecutor(task -> daemon(task, "events"));
    private final ExecutorService senders = Executors.newFixedThreadPool(SENDERS, task -> daemon(task, "events-send"));

    EventsController() {
        // Finds connections that are gone, and keeps proxies from closing quiet ones.
        timer.scheduleAtFixedRate(() -> tell(Set.of()), HEARTBEAT_SECONDS, HEARTBEAT_SECONDS, TimeUnit.SECONDS);
    }

    private static Thread daemon(Runnable task, String name) {
        Thread thread = new Thread(task, name);
        thread.setDaemon(true);
        return thread;
    }

    @GetMapping(produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    SseEmitter listen(@AuthenticationPrincipal Caller.Person person, HttpServletRequest request) throws IOException {
        Listener listener =
                new Listener(person.login(), request.getSession(false).getId());
        if (listeners.size() >= MOST_LISTENERS || ofPerson.merge(person.login(), 1, Integer::sum) > MOST_OF_A_PERSON) {
            forget(person.login());
            throw new ProblemException(
                    HttpStatus.SERVICE_UNAVAILABLE, "", "too many pages of yours listen for changes; close some");
        }
        listener.emitter.onCompletion(() -> remove(listener));
        listener.emitter.onTimeout(() -> remove(listener));
        listener.emitter.onError(e -> remove(listener));
        listeners.add(listener);
        listener.emitter.send(SseEmitter.event().name("listening").data(""));
        return listener.emitter;
    }

    private void remove(Listener listener) {
        if (listeners.remove(listener)) {
            forget(listener.login);
        }
    }

    private void forget(String login) {
        ofPerson.computeIfPresent(login, (name, count) -> count <= 1 ? null : count - 1);
    }

    @EventListener
    void changed(SnapshotStore.Changed change) {
        synchronized (changed) {
            if (changed.isEmpty()) {
                timer.schedule(this::tellWhatChanged, TOGETHER_MILLIS, TimeUnit.MILLISECONDS);
            }
            changed.addAll(change.topics());
        }
    }

    private void tellWhatChanged() {
        Set<Topic> topics;
        synchronized (changed) {
            topics = EnumSet.copyOf(changed);
            changed.clear();
        }
        tell(topics);
    }

    /** @param topics none: only that it is still heard */
    private void tell(Set<Topic> topics) {
        for (Listener listener : listeners) {
            synchronized (listener) {
                listener.untold.addAll(topics);
                if (!listener.busy) {
                    listener.busy = true;
                    senders.execute(() -> send(listener));
                }
            }
        }
    }

    private void send(Listener listener) {
        try {
            Set<Topic> topics = next(listener);
            if (topics.isEmpty()) {
                listener.emitter.send(SseEmitter.event().comment("still here"));
            }
            while (!topics.isEmpty()) {
                listener.emitter.send(SseEmitter.event()
                        .name("changed")
                        .data(topics.stream().map(Topic::name).collect(Collectors.joining(","))));
                topics = next(listener);
            }
        } catch (IOException | IllegalStateException e) {
            remove(listener);
        } finally {
            synchronized (listener) {
                listener.busy = false;
                if (!listener.untold.isEmpty() && listeners.contains(listener)) {
                    listener.busy = true;
                    senders.execute(() -> send(listener));
                }
            }
        }
    }

    private static Set<Topic> next(Listener listener) {
        synchronized (listener) {
            Set<Topic> topics = EnumSet.noneOf(Topic.class);
            topics.addAll(listener.untold);
            listener.untold.clear();
            return topics;
        }
    }

    /** Who signed out, or was signed out, hears nothing more. */
    @EventListener
    void ended(Sessions.Ended ended) {
        for (Listener listener : listeners) {
            if (listener.session.equals(ended.sessionId())) {
                remove(listener);
                listener.emitter.complete();
            }
        }
    }

    /** Before the web server waits for its requests to end: open streams never would. */
    @EventListener(ContextClosedEvent.class)
    void close() {
        timer.shutdownNow();
        senders.shutdownNow();
        listeners.forEach(listener -> listener.emitter.complete());
    }
}
