package lucid.server.access;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Duration;
import java.util.HashMap;
import java.util.Map;
import java.util.concurrent.ThreadLocalRandom;
import java.util.function.LongSupplier;
import lucid.server.web.BodyLimitException;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * How many requests a caller may have under way, how much it may send, and how long it may take over it. It stands
 * behind the question who the caller is and before anything of the body is read: nobody who has not signed in can fill
 * the memory, and no one caller can take all threads of the web server, of which there are {@value #THREADS}, by asking
 * much at once or by sending slowly. (A stream of events takes none, nor does a host that waits for its orders.)
 *
 * <p>After an outage all hosts come at once: together they leave threads to people, and who is sent away is told a time
 * to come again that is the further off the more were sent away.
 */
final class CallerLimits extends OncePerRequestFilter {

    static final int THREADS = 200;

    /** Requests with a body at the same time of all callers; the rest of the threads answers those without. */
    private static final int MOST_BODIES = 160;

    private static final int MOST_BODIES_OF_NOBODIES = 64;

    /** Requests of hosts at the same time, of all hosts; the rest of the threads is left to people. */
    private static final int MOST_OF_HOSTS = 120;

    private static final int SECONDS_UNTIL_AGAIN = 5;
    /** Of those who are sent away, so many may come again in one second. */
    private static final int AGAIN_A_SECOND = 100;

    private static final long MINUTE = Duration.ofMinutes(1).toNanos();

    /**
     * @param longest bytes of a body
     * @param within time for the whole of it
     * @param bodies requests with a body of one caller at the same time
     * @param requests of one caller at the same time
     */
    private record Limit(long longest, Duration within, int bodies, int requests) {}

    private static final Limit NOBODY = new Limit(8 * 1024, Duration.ofSeconds(10), 8, 64);
    private static final Limit HOST = new Limit(8 * 1024 * 1024, Duration.ofSeconds(60), 2, 4);
    private static final Limit MACHINE = new Limit(600L * 1024 * 1024, Duration.ofMinutes(10), 96, 96);
    private static final Limit PERSON = new Limit(600L * 1024 * 1024, Duration.ofMinutes(10), 12, 32);

    private static final String BODIES = "bodies of ";
    private static final String BODIES_OF_NOBODIES = "bodies of nobodies";
    private static final String HOSTS = "hosts";

    /** How many are under way, by what they count for; what has none is not in it. */
    private final Map<String, Integer> underWay = new HashMap<>();

    private final LongSupplier nanoseconds;
    /** Sent away in this minute, in the one before, and since when this one lasts. */
    private int sentAway;

    private int sentAwayBefore;
    private long minuteBegan;

    /** @param nanoseconds that pass, as {@link System#nanoTime} tells them */
    CallerLimits(LongSupplier nanoseconds) {
        this.nanoseconds = nanoseconds;
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        Authentication authentication = SecurityContextHolder.getContext().getAuthentication();
        Object caller = authentication == null ? null : authentication.getPrincipal();
        Limit limit = limit(caller);
        String key = caller instanceof Caller.Person person
                ? "person " + person.login()
                : caller instanceof Caller.Machine machine
                        ? "machine " + machine.tokenName()
                        : "address " + request.getRemoteAddr();
        boolean hasBody = request.getContentLengthLong() > 0 || request.getHeader("Transfer-Encoding") != null;
        if (request.getContentLengthLong() > limit.longest()) {
            AccessConfiguration.refuse(
                    response, 413, BodyLimitException.tooLong(limit.longest()).getMessage());
            return;
        }
        if (!begin(key, limit, hasBody)) {
            int again = secondsUntilAgain();
            response.setHeader("Retry-After", Integer.toString(again));
            AccessConfiguration.refuse(response, 503, "Too many requests at once; try again in " + again + " seconds.");
            return;
        }
        try {
            chain.doFilter(hasBody ? new Limited(request, limit, nanoseconds) : request, response);
        } finally {
            end(key, limit, hasBody);
        }
    }

    private static Limit limit(Object caller) {
        if (caller instanceof Caller.Machine machine) {
            return machine.scope() == Scope.HOST ? HOST : MACHINE;
        }
        return caller instanceof Caller.Person person && person.pending() == Caller.Pending.NOTHING ? PERSON : NOBODY;
    }

    private synchronized boolean begin(String key, Limit limit, boolean hasBody) {
        boolean refused = count(key) >= limit.requests()
                || limit == HOST && count(HOSTS) >= MOST_OF_HOSTS
                || hasBody
                        && (count(BODIES) >= MOST_BODIES
                                || count(BODIES + key) >= limit.bodies()
                                || limit == NOBODY && count(BODIES_OF_NOBODIES) >= MOST_BODIES_OF_NOBODIES);
        if (!refused) {
            change(key, limit, hasBody, 1);
        }
        return !refused;
    }

    private synchronized void end(String key, Limit limit, boolean hasBody) {
        change(key, limit, hasBody, -1);
    }

    private void change(String key, Limit limit, boolean hasBody, int by) {
        change(key, by);
        if (limit == HOST) {
            change(HOSTS, by);
        }
        if (hasBody) {
            change(BODIES, by);
            change(BODIES + key, by);
            if (limit == NOBODY) {
                change(BODIES_OF_NOBODIES, by);
            }
        }
    }

    /** Spread over as many seconds as all who were lately sent away need to come again. */
    private synchronized int secondsUntilAgain() {
        long now = nanoseconds.getAsLong();
        if (now - minuteBegan >= MINUTE) {
            sentAwayBefore = now - minuteBegan < 2 * MINUTE ? sentAway : 0;
            sentAway = 0;
            minuteBegan = now;
        }
        sentAway++;
        int spread = Math.max(sentAway, sentAwayBefore) / AGAIN_A_SECOND;
        return SECONDS_UNTIL_AGAIN + ThreadLocalRandom.current().nextInt(spread + 1);
    }

    private int count(String of) {
        return underWay.getOrDefault(of, 0);
    }

    private void change(String of, int by) {
        int next = count(of) + by;
        if (next == 0) {
            underWay.remove(of);
        } else {
            underWay.put(of, next);
        }
    }

    /** A request whose body is counted while it is read. */
    private static final class Limited extends HttpServletRequestWrapper {
        private final Limit limit;
        private final LongSupplier nanoseconds;
        private ServletInputStream stream;

        Limited(HttpServletRequest request, Limit limit, LongSupplier nanoseconds) {
            super(request);
            this.limit = limit;
            this.nanoseconds = nanoseconds;
        }

        @Override
        public ServletInputStream getInputStream() throws IOException {
            if (stream == null) {
                stream = new LimitedStream(super.getInputStream(), limit, nanoseconds);
            }
            return stream;
        }
    }

    private static final class LimitedStream extends ServletInputStream {
        private final ServletInputStream in;
        private final Limit limit;
        private final LongSupplier nanoseconds;
        private final long deadline;
        private long taken;

        LimitedStream(ServletInputStream in, Limit limit, LongSupplier nanoseconds) {
            this.in = in;
            this.limit = limit;
            this.nanoseconds = nanoseconds;
            this.deadline = nanoseconds.getAsLong() + limit.within().toNanos();
        }

        @Override
        public int read() throws IOException {
            int sign = in.read();
            count(sign < 0 ? 0 : 1);
            return sign;
        }

        @Override
        public int read(byte[] buffer, int from, int most) throws IOException {
            int read = in.read(buffer, from, most);
            count(Math.max(read, 0));
            return read;
        }

        private void count(int more) throws BodyLimitException {
            taken += more;
            if (taken > limit.longest()) {
                throw BodyLimitException.tooLong(limit.longest());
            }
            if (nanoseconds.getAsLong() - deadline > 0) {
                throw BodyLimitException.tooSlow(limit.within());
            }
        }

        @Override
        public boolean isFinished() {
            return in.isFinished();
        }

        @Override
        public boolean isReady() {
            return in.isReady();
        }

        @Override
        public void setReadListener(ReadListener listener) {
            in.setReadListener(listener);
        }
    }
}
