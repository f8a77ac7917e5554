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
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import lucid.server.web.BodyLimitException;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * How much a caller may send, how long it may take over it, and how many such requests it may have under way. It stands behind the question who the caller is and
 * before anything of the body is read: nobody who has not signed in can fill the memory, and no one caller can take all threads of the web server, of which there
 * are {@value #THREADS}, by sending slowly.
 */
final class BodyLimits extends OncePerRequestFilter {

    static final int THREADS = 200;

    /** Requests with a body at the same time of all callers; the rest of the threads answers those without. */
    private static final int MOST = 160;
    private static final int MOST_OF_NOBODIES = 64;

    /**
     * @param longest bytes of a body
     * @param within time for the whole of it
     * @param atOnce requests with a body of one caller at the same time
     */
    private record Limit(long longest, Duration within, int atOnce) {}

    private static final Limit NOBODY = new Limit(8 * 1024, Duration.ofSeconds(10), 8);
    private static final Limit HOST = new Limit(8 * 1024 * 1024, Duration.ofSeconds(60), 2);
    private static final Limit MACHINE = new Limit(600L * 1024 * 1024, Duration.ofMinutes(10), 96);
    private static final Limit PERSON = new Limit(600L * 1024 * 1024, Duration.ofMinutes(10), 12);

    /** How many are under way, by caller; a caller without any is not in it. */
    private final Map<String, Integer> underWay = new ConcurrentHashMap<>();
    private int all;
    private int ofNobodies;

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain) throws ServletException, IOException {
        if (request.getContentLengthLong() <= 0 && request.getHeader("Transfer-Encoding") == null) {
            chain.doFilter(request, response);
            return;
        }
        Authentication authentication = SecurityContextHolder.getContext().getAuthentication();
        Object caller = authentication == null ? null : authentication.getPrincipal();
        Limit limit = limit(caller);
        String key = caller instanceof Caller.Person person ? "person " + person.login() : caller instanceof Caller.Machine machine ? "machine " + machine.tokenName() : "address " + request.getRemoteAddr();
        if (request.getContentLengthLong() > limit.longest()) {
            AccessConfiguration.refuse(response, 413, BodyLimitException.tooLong(limit.longest()).getMessage());
            return;
        }
        if (!begin(key, limit)) {
            response.setHeader("Retry-After", "5");
            AccessConfiguration.refuse(response, 503, "Too many requests at once; try again in a few seconds.");
            return;
        }
        try {
            chain.doFilter(new Limited(request, limit), response);
        } finally {
            end(key, limit);
        }
    }

    private static Limit limit(Object caller) {
        if (caller instanceof Caller.Machine machine) {
            return machine.scope() == Scope.HOST ? HOST : MACHINE;
        }
        return caller instanceof Caller.Person person && person.pending() == Caller.Pending.NOTHING ? PERSON : NOBODY;
    }

    private synchronized boolean begin(String key, Limit limit) {
        if (all >= MOST || limit == NOBODY && ofNobodies >= MOST_OF_NOBODIES || underWay.getOrDefault(key, 0) >= limit.atOnce()) {
            return false;
        }
        underWay.merge(key, 1, Integer::sum);
        all++;
        ofNobodies += limit == NOBODY ? 1 : 0;
        return true;
    }

    private synchronized void end(String key, Limit limit) {
        underWay.computeIfPresent(key, (k, count) -> count == 1 ? null : count - 1);
        all--;
        ofNobodies -= limit == NOBODY ? 1 : 0;
    }

    /** A request whose body is counted while it is read. */
    private static final class Limited extends HttpServletRequestWrapper {
        private final Limit limit;
        private ServletInputStream stream;

        Limited(HttpServletRequest request, Limit limit) {
            super(request);
            this.limit = limit;
        }

        @Override
        public ServletInputStream getInputStream() throws IOException {
            if (stream == null) {
                stream = new LimitedStream(super.getInputStream(), limit);
            }
            return stream;
        }
    }

    private static final class LimitedStream extends ServletInputStream {
        private final ServletInputStream in;
        private final Limit limit;
        private final long deadline;
        private long taken;

        LimitedStream(ServletInputStream in, Limit limit) {
            this.in = in;
            this.limit = limit;
            this.deadline = System.nanoTime() + limit.within().toNanos();
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
            if (System.nanoTime() - deadline > 0) {
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
