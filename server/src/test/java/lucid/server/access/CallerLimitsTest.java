package lucid.server.access;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Queue;
import java.util.Set;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import lucid.core.fleet.HostName;
import lucid.server.web.BodyLimitException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.springframework.security.core.context.SecurityContextHolder;

class CallerLimitsTest {

    private final AtomicLong nanoseconds = new AtomicLong();
    private final CallerLimits limits = new CallerLimits(nanoseconds::get);
    private final CountDownLatch hold = new CountDownLatch(1);
    private final Semaphore entered = new Semaphore(0);
    private final AtomicInteger refused = new AtomicInteger();
    /** Seconds after which those that were sent away may come again. */
    private final Queue<Integer> again = new ConcurrentLinkedQueue<>();

    private final List<Future<?>> begun = new ArrayList<>();

    /** Lets all go on, and sees that each ends well. */
    @AfterEach
    void end() throws Exception {
        hold.countDown();
        for (Future<?> request : begun) {
            request.get(2, TimeUnit.MINUTES);
        }
    }

    private static Caller.Person person(String login) {
        return new Caller.Person(login, login, Role.READER, Set.of(), Caller.Pending.NOTHING, 1);
    }

    /** A request that stays under way until all are let go. */
    private void request(Caller caller, long length) {
        try {
            HttpServletRequest request = mock(HttpServletRequest.class);
            when(request.getContentLengthLong()).thenReturn(length);
            when(request.getRemoteAddr()).thenReturn("192.0.2.1");
            HttpServletResponse response = mock(HttpServletResponse.class);
            when(response.getWriter()).thenReturn(new PrintWriter(new StringWriter()));
            doAnswer(call -> again.add(Integer.valueOf(call.<String>getArgument(1))))
                    .when(response)
                    .setHeader(eq("Retry-After"), anyString());
            if (caller != null) {
                SecurityContextHolder.getContext().setAuthentication(AccessConfiguration.authentication(caller));
            }
            boolean[] let = new boolean[1];
            limits.doFilterInternal(request, response, (q, a) -> {
                let[0] = true;
                entered.release();
                try {
                    hold.await(2, TimeUnit.MINUTES);
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                }
            });
            if (!let[0]) {
                verify(response).setStatus(anyInt());
                refused.incrementAndGet();
                entered.release();
            }
        } catch (Exception e) {
            throw new IllegalStateException(e);
        } finally {
            SecurityContextHolder.clearContext();
        }
    }

    private int refusedOf(int requests, Caller caller, long length) throws Exception {
        int before = refused.get();
        ExecutorService crowd = Executors.newCachedThreadPool();
        for (int i = 0; i < requests; i++) {
            begun.add(crowd.submit(() -> request(caller, length)));
        }
        assertThat(entered.tryAcquire(requests, 2, TimeUnit.MINUTES)).isTrue();
        crowd.shutdown();
        return refused.get() - before;
    }

    @Test
    void oneCallerNeverTakesAllThreads() throws Exception {
        assertThat(refusedOf(200, person("much"), 0)).isEqualTo(200 - 32);
        assertThat(refusedOf(10, person("another"), 0)).as("others go on").isZero();
        assertThat(refusedOf(100, null, 0)).isEqualTo(100 - 64);
        assertThat(refusedOf(20, new Caller.Machine("h", Scope.HOST, Optional.of(new HostName("h")), Set.of()), 100))
                .isEqualTo(18);
        assertThat(refusedOf(20, person("uploads"), 100)).isEqualTo(8);
    }

    private static Caller.Machine host(int number) {
        String name = "host-" + number;
        return new Caller.Machine(name, Scope.HOST, Optional.of(new HostName(name)), Set.of());
    }

    @Test
    void allHostsTogetherLeaveThreadsToPeople() throws Exception {
        int turnedAway = 0;
        for (int number = 0; number < 150; number++) {
            turnedAway += refusedOf(1, host(number), number % 2);
        }
        assertThat(turnedAway).isEqualTo(150 - 120);
        assertThat(refusedOf(20, person("analyst"), 0)).isZero();
    }

    @Test
    void theMoreAreSentAwayTheFurtherTheyAreSpread() throws Exception {
        refusedOf(32, person("crowd"), 0);
        refusedOf(50, person("crowd"), 0);
        assertThat(again).hasSize(50).as("few come again soon").containsOnly(5);
        for (int i = 0; i < 3_000; i++) {
            request(person("crowd"), 0);
        }
        again.clear();
        for (int i = 0; i < 500; i++) {
            request(person("crowd"), 0);
        }
        assertThat(again).allMatch(seconds -> seconds >= 5 && seconds <= 5 + 35);
        assertThat(again.stream().distinct().count()).isGreaterThan(20);
        nanoseconds.addAndGet(Duration.ofMinutes(5).toNanos());
        again.clear();
        request(person("crowd"), 0);
        assertThat(again).as("it is over").containsExactly(5);
    }

    @Test
    void whatHasEndedNoLongerCounts() throws Exception {
        hold.countDown();
        for (int i = 0; i < 100; i++) {
            assertThat(refusedOf(1, person("one"), 100)).isZero();
            begun.get(i).get(2, TimeUnit.MINUTES);
        }
    }

    @Test
    void whatIsLongerThanTheCallerMaySendIsNotBegun() throws Exception {
        hold.countDown();
        assertThat(refusedOf(1, null, 8 * 1024 + 1)).isEqualTo(1);
        assertThat(refusedOf(1, person("one"), 8 * 1024 + 1)).isZero();
        assertThat(refusedOf(
                        1,
                        new Caller.Machine("h", Scope.HOST, Optional.of(new HostName("h")), Set.of()),
                        9 * 1024 * 1024))
                .isEqualTo(1);
    }

    /** Reads the first half of a body, lets time pass, and reads on. */
    private void slowly(Caller caller, Duration between) throws Exception {
        InputStream content = new ByteArrayInputStream(new byte[100]);
        ServletInputStream stream = mock(ServletInputStream.class);
        when(stream.read(any(), anyInt(), anyInt()))
                .thenAnswer(call -> content.read(call.getArgument(0), call.getArgument(1), call.getArgument(2)));
        HttpServletRequest request = mock(HttpServletRequest.class);
        when(request.getContentLengthLong()).thenReturn(100L);
        when(request.getInputStream()).thenReturn(stream);
        if (caller != null) {
            SecurityContextHolder.getContext().setAuthentication(AccessConfiguration.authentication(caller));
        }
        try {
            limits.doFilterInternal(request, mock(HttpServletResponse.class), (limited, answer) -> {
                InputStream body = limited.getInputStream();
                assertThat(body.read(new byte[50], 0, 50)).isEqualTo(50);
                nanoseconds.addAndGet(between.toNanos());
                assertThat(body.read(new byte[50], 0, 50)).isEqualTo(50);
            });
        } finally {
            SecurityContextHolder.clearContext();
        }
    }

    @Test
    void aBodyThatNeverEndsIsNotWaitedForWhoeverSendsIt() throws Exception {
        Map<Duration, List<Caller>> limitsOf = Map.of(
                Duration.ofSeconds(60),
                List.of(new Caller.Machine("h", Scope.HOST, Optional.of(new HostName("h")), Set.of())),
                Duration.ofMinutes(10),
                List.of(new Caller.Machine("m", Scope.IMPORT, Optional.empty(), Set.of()), person("p")));
        for (Map.Entry<Duration, List<Caller>> of : limitsOf.entrySet()) {
            for (Caller caller : of.getValue()) {
                slowly(caller, of.getKey().minusSeconds(1));
                assertThatThrownBy(() -> slowly(caller, of.getKey().plusSeconds(1)))
                        .isInstanceOf(BodyLimitException.class);
            }
        }
        slowly(null, Duration.ofSeconds(9));
        assertThatThrownBy(() -> slowly(null, Duration.ofSeconds(11))).isInstanceOf(BodyLimitException.class);
    }
}
