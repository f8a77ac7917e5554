package lucid.server.access;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpSession;
import jakarta.servlet.http.HttpSessionBindingListener;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;

class SessionsTest {

    private final AtomicLong nanoseconds = new AtomicLong();
    private final List<Object> told = new ArrayList<>();
    private final Sessions sessions =
            new Sessions(Duration.ofHours(12), Clock.systemUTC(), nanoseconds::get, told::add);
    private final Caller.Person person = new Caller.Person("a", "A", Role.READER, Set.of(), Caller.Pending.NOTHING, 1);

    private HttpSession begun(String id) {
        HttpSession session = mock(HttpSession.class);
        when(session.getId()).thenReturn(id);
        List<HttpSessionBindingListener> bound = new ArrayList<>();
        doAnswer(call -> call.getArgument(1) instanceof HttpSessionBindingListener listener && bound.add(listener))
                .when(session)
                .setAttribute(any(), any());
        doAnswer(call -> {
                    bound.forEach(listener -> listener.valueUnbound(null));
                    return null;
                })
                .when(session)
                .invalidate();
        HttpServletRequest request = mock(HttpServletRequest.class);
        when(request.getSession(true)).thenReturn(session);
        return sessions.begin(person, request);
    }

    @Test
    void aSessionEndsAfterItsAbsoluteLifeHoweverItIsUsed() {
        HttpSession session = begun("one");
        for (int hour = 0; hour < 12; hour++) {
            assertThat(sessions.isOpen(session)).isTrue();
            nanoseconds.addAndGet(Duration.ofHours(1).toNanos());
        }
        assertThat(sessions.isOpen(session)).isFalse();
        sessions.endThoseThatAreOver();
        assertThat(told).containsExactly(new Sessions.Ended("one"));
    }

    @Test
    void allOfOnePersonEndAndWhoListensIsTold() {
        HttpSession one = begun("one");
        HttpSession two = begun("two");
        assertThat(sessions.of("a", two))
                .extracting(Sessions.OpenSession::current)
                .containsExactlyInAnyOrder(true, false);
        sessions.endOthers("a", two);
        assertThat(sessions.isOpen(one)).isFalse();
        assertThat(sessions.isOpen(two)).isTrue();
        sessions.endAll("a");
        assertThat(told).containsExactly(new Sessions.Ended("one"), new Sessions.Ended("two"));
    }

    @Test
    void aSessionThatWasNeverBegunHereDoesNotCount() {
        HttpSession foreign = mock(HttpSession.class);
        when(foreign.getId()).thenReturn("foreign");
        assertThat(sessions.isOpen(foreign)).isFalse();
        assertThat(sessions.isOpen(null)).isFalse();
    }
}
