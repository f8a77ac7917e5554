package lucid.server.access;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpSession;
import jakarta.servlet.http.HttpSessionBindingEvent;
import jakarta.servlet.http.HttpSessionBindingListener;
import java.io.Serializable;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.LongSupplier;
import java.util.function.Predicate;
import lucid.server.web.Digests;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * The sessions that are open. They are kept on the server, and end here: with the account, its role or its password,
 * when their person signs out, and at the latest after their absolute life, whatever they are used for. Whoever holds
 * something open for one is told by {@link Ended}.
 */
@Component
public class Sessions {

    private static final String ATTRIBUTE = Sessions.class.getName();
    private static final String KNOWN = ATTRIBUTE + ".known";
    private static final int LONGEST_BROWSER = 200;

    /** A session is over; what it held open must close. */
    public record Ended(String sessionId) {}

    private final Map<String, Open> open = new ConcurrentHashMap<>();
    private final Duration longest;
    private final Clock clock;
    /** Passes by itself, also where the clock of a demo is moved. */
    private final LongSupplier nanoseconds;

    private final ApplicationEventPublisher events;

    @Autowired
    Sessions(@Value("${lucid.sessions.longest}") Duration longest, Clock clock, ApplicationEventPublisher events) {
        this(longest, clock, System::nanoTime, events);
    }

    Sessions(Duration longest, Clock clock, LongSupplier nanoseconds, ApplicationEventPublisher events) {
        this.longest = longest;
        this.clock = clock;
        this.nanoseconds = nanoseconds;
        this.events = events;
    }

    /** What is known of a session; it is kept with the web server's own while the program is stopped. */
    private record Known(String login, String address, String browser, Instant began, long beganMillis)
            implements Serializable {
        private static final long serialVersionUID = 1;
    }

    /** An open session; bound to the web server's own, so that it goes however that one does. */
    private final class Open implements HttpSessionBindingListener {
        private final HttpSession session;
        private final Known known;
        private final long beganNanoseconds;
        private volatile Instant used;

        /** @param age how long it is open already */
        private Open(HttpSession session, Known known, Duration age) {
            this.session = session;
            this.known = known;
            this.beganNanoseconds = nanoseconds.getAsLong() - age.toNanos();
            this.used = clock.instant();
        }

        @Override
        public void valueUnbound(HttpSessionBindingEvent event) {
            open.remove(session.getId());
            events.publishEvent(new Ended(session.getId()));
        }

        private boolean isOver() {
            return nanoseconds.getAsLong() - beganNanoseconds >= longest.toNanos();
        }

        private String handle() {
            return Digests.sha256(session.getId()).substring(0, 16);
        }
    }

    /**
     * An open session, as its person sees it.
     *
     * @param id by which it can be ended; not what the browser holds
     * @param current true for the one that asks
     */
    public record OpenSession(
            String id, Instant began, Instant used, String address, String browser, boolean current) {}

    /** Begins a session of a person, in the place of the one that the request came with. */
    HttpSession begin(Caller.Person person, HttpServletRequest request) {
        Optional.ofNullable(request.getSession(false)).ifPresent(HttpSession::invalidate);
        HttpSession session = request.getSession(true);
        String browser = Optional.ofNullable(request.getHeader("User-Agent")).orElse("");
        Known known = new Known(
                person.login(),
                request.getRemoteAddr(),
                browser.substring(0, Math.min(LONGEST_BROWSER, browser.length())),
                clock.instant(),
                System.currentTimeMillis());
        session.setAttribute(KNOWN, known);
        add(session, known, Duration.ZERO);
        return session;
    }

    private Open add(HttpSession session, Known known, Duration age) {
        Open begun = new Open(session, known, age);
        open.put(session.getId(), begun);
        session.setAttribute(ATTRIBUTE, begun);
        return begun;
    }

    /** One that was open when the program was stopped goes on. */
    private synchronized Open goneOn(HttpSession session) {
        Open here = open.get(session.getId());
        if (here != null || !(session.getAttribute(KNOWN) instanceof Known known)) {
            return here;
        }
        return add(session, known, Duration.ofMillis(Math.max(0, System.currentTimeMillis() - known.beganMillis())));
    }

    /** True while a session counts; noted as used. */
    boolean isOpen(HttpSession session) {
        Open known = session == null ? null : goneOn(session);
        if (known == null || known.isOver()) {
            return false;
        }
        known.used = clock.instant();
        return true;
    }

    List<OpenSession> of(String login, HttpSession current) {
        return open.values().stream()
                .filter(session -> session.known.login().equals(login) && !session.isOver())
                .sorted(Comparator.comparing((Open session) -> session.used).reversed())
                .map(session -> new OpenSession(
                        session.handle(),
                        session.known.began(),
                        session.used,
                        session.known.address(),
                        session.known.browser(),
                        current != null && current.getId().equals(session.session.getId())))
                .toList();
    }

    /** Ends all sessions of a person. */
    void endAll(String login) {
        end(session -> session.known.login().equals(login));
    }

    /** Ends all sessions of a person but one. */
    int endOthers(String login, HttpSession but) {
        return end(session ->
                session.known.login().equals(login) && !session.session.getId().equals(but.getId()));
    }

    /** @return false if the person has no such session */
    boolean end(String login, String id) {
        return end(session ->
                        session.known.login().equals(login) && session.handle().equals(id))
                > 0;
    }

    @Scheduled(fixedDelay = 10_000)
    void endThoseThatAreOver() {
        end(Open::isOver);
    }

    private int end(Predicate<Open> which) {
        Collection<Open> ending = open.values().stream().filter(which).toList();
        for (Open session : ending) {
            try {
                session.session.invalidate();
            } catch (IllegalStateException e) {
                // It ended by itself at the same moment.
                open.remove(session.session.getId());
            }
        }
        return ending.size();
    }
}
